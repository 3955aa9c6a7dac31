import type { Recipe } from '../../brush/recipe.ts'
import { layGrain } from '../../grain/lay-grain.ts'
import type { PreparedGrain } from '../../grain/prepare-grain.ts'
import { type ColourShift, shiftRgb } from '../../raster/hsv.ts'
import { unite } from '../../raster/rect.ts'
import { type Rect, type SurfacePart, wholeOf } from '../../raster/surface.ts'
import { compositeLayer } from '../kernel/composite.ts'
import { type GrainRow, LAY, Q15_ONE, ROW_INTS, type StampJob } from '../kernel/kernel.ts'
import { CANVAS_CORNER, createLayerGrain, grainPose, type LayerGrain, strokeGrainTurn } from '../layer-grain.ts'
import { nearestScale } from '../level-ladder.ts'
import type { Level, PreparedFrame } from '../levels.ts'
import { SAMPLE, type Samples } from '../path/samples.ts'
import { STAMP_WORK_PX, STROKE_WORK_MAX_PX, type Stroke, type StrokeOptions } from '../stroke.ts'
import { writeColourMatrix } from './colour-matrix.ts'
import { planRows } from './plan-rows.ts'
import { CHANNELS, StampMemory } from './stamp-memory.ts'
import { STAMP, STAMP_STRIDE, StampPlacer } from './stamps.ts'

/** Where a stamp is sampled from and laid to; the rest follows from the recipe. */
type Sampling = Pick<
  StampJob,
  'layer' | 'layerWidth' | 'level' | 'levelStride' | 'rows' | 'rowCount' | 'du' | 'dv' | 'alphaQ15'
>

/** A stamp smaller than this lays less than half an 8-bit level on the one pixel it falls on. */
const AREA_MIN_PX2 = 1 / 512

/**
 * Paints one stroke by stamping. Stamps gather on a layer of their own, `compositeOnto` lays it on a picture, capped by
 * the stroke's opacity. A stroke may be added in pieces; the pixels are the same as when added whole.
 */
export class StampStroke implements Stroke {
  readonly #options: StrokeOptions
  readonly #recipe: Recipe
  readonly #frames: readonly PreparedFrame[]
  readonly #placer: StampPlacer
  readonly #memory: StampMemory
  readonly #lay: (typeof LAY)[keyof typeof LAY]
  readonly #shifts: boolean
  /** The grain that weighs each stamp; a grain that lies still weighs the whole layer instead. */
  readonly #stampGrain: PreparedGrain | undefined
  readonly #layerGrain: LayerGrain | undefined
  readonly #strokeTurn: number
  #origin = { x: 0, y: 0 }
  #begun = false
  #last: { x: number; y: number } | undefined
  readonly #workMaxPx: number
  #workPx = 0

  constructor(options: StrokeOptions) {
    const { width, height, brush, recipe, seed, kernel = 'simd', under } = options
    this.#options = options
    this.#workMaxPx = options.workMaxPx ?? STROKE_WORK_MAX_PX
    this.#recipe = recipe
    this.#frames = brush.frames
    const stampsMost = Math.max(0, Math.ceil(this.#workMaxPx / STAMP_WORK_PX))
    this.#placer = new StampPlacer(recipe, brush.frames, seed, stampsMost)
    this.#shifts = varies(recipe.variation.hue) || varies(recipe.variation.saturation) || varies(recipe.variation.value)
    this.#lay = layOf(recipe, brush.frames[0].channels, this.#shifts)
    const grain = recipe.ground.grain
    const byStamp = grain && (grain.anchor === 'stamp' || grain.randomTurn === 'stamp')
    this.#stampGrain = byStamp ? brush.grain : undefined
    this.#strokeTurn = grain?.randomTurn === 'stroke' ? strokeGrainTurn(seed) : 0
    this.#layerGrain = byStamp ? undefined : createLayerGrain(options)
    this.#memory = new StampMemory({
      width,
      height,
      kernel,
      channels: this.#lay === LAY.mask ? 1 : CHANNELS,
      smears: this.#lay === LAY.smear,
      frames: brush.frames,
      grain: grain && this.#stampGrain?.levelFor(grain.scalePct / 100).data,
    })
    if (this.#lay === LAY.smear) {
      if (!under) throw new Error('smearing needs the canvas that lies under the stroke')
      const { layer } = this.#memory
      for (let i = 0; i < under.data.length; i++) layer[i] = Math.round((under.data[i] * Q15_ONE) / 255)
    }
  }

  /** Whether the stroke asked for more than may be drawn; the rest of it is missing. */
  get isCutShort(): boolean {
    return this.#workPx >= this.#workMaxPx || this.#placer.isFull
  }

  get workPx(): number {
    return this.#workPx
  }

  add(samples: Samples): Rect | undefined {
    if (!this.#begun && samples.length > 0) {
      this.#begun = true
      this.#origin = { x: samples[SAMPLE.x], y: samples[SAMPLE.y] }
      this.#layerGrain?.begin(this.#origin)
    }
    return this.stamp(this.#placer.add(samples))
  }

  finish(): Rect | undefined {
    return this.stamp(this.#placer.finish())
  }

  /** Draws stamps that were placed elsewhere, `STAMP_STRIDE` numbers each. @returns The area that changed. */
  stamp(stamps: Float64Array): Rect | undefined {
    let changed: Rect | undefined
    for (let s = 0; s + STAMP_STRIDE <= stamps.length && this.#workPx < this.#workMaxPx; s += STAMP_STRIDE) {
      changed = unite(changed, this.#stampOne(stamps, s))
    }
    return changed
  }

  #stampOne(stamps: Float64Array, s: number): Rect | undefined {
    this.#workPx += STAMP_WORK_PX
    const { width, height } = this.#options
    const alphaQ15 = Math.round(stamps[s + STAMP.alpha] * Q15_ONE)
    const scaleX = stamps[s + STAMP.scale]
    const scaleY = scaleX * stamps[s + STAMP.squash]
    if (!(alphaQ15 > 0 && scaleX > 0 && scaleY > 0)) return undefined
    const frame = this.#frames[stamps[s + STAMP.frame]]
    if (frame.width * scaleX * (frame.height * scaleY) < AREA_MIN_PX2) return undefined
    const level = this.#levelOf(frame, scaleX, scaleY)
    const geometry = {
      x: stamps[s + STAMP.x],
      y: stamps[s + STAMP.y],
      cos: stamps[s + STAMP.cos],
      sin: stamps[s + STAMP.sin],
      scaleX: scaleX / level.perX,
      scaleY: scaleY / level.perY,
      middleX: (frame.width / 2) * level.perX + level.originX,
      middleY: (frame.height / 2) * level.perY + level.originY,
      levelWidth: level.width,
      levelHeight: level.height,
    }
    const { rowCount, du, dv, area } = planRows(geometry, width, height, this.#memory.rows)
    if (!area) return undefined
    this.#workPx += (area.right - area.left) * (area.bottom - area.top)
    this.#run(
      {
        layer: this.#memory.at.layer,
        layerWidth: width,
        level: this.#memory.levels.offsetOf(level),
        levelStride: level.stride,
        rows: this.#memory.at.rows,
        alphaQ15,
        rowCount,
        du,
        dv,
      },
      { stamps, s, area },
    )
    return area
  }

  /** The level made for the nearest scale of the ladder that starts from a stamp of full size, on both axes. */
  #levelOf(frame: PreparedFrame, scaleX: number, scaleY: number): Level {
    const { sizePx, squash } = this.#recipe.mark
    const side = Math.max(frame.width, frame.height)
    const own = sizePx / side
    return frame.levelFor(nearestScale(own, scaleX, scaleX * side), nearestScale(own * squash, scaleY, scaleY * side))
  }

  #run(job: Sampling, { stamps, s, area }: { stamps: Float64Array; s: number; area: Rect }): void {
    const { at, kernel, matrix } = this.#memory
    const shift = {
      hueDeg: stamps[s + STAMP.hue],
      saturationPts: stamps[s + STAMP.saturation],
      valuePts: stamps[s + STAMP.value],
    }
    const changesTip = this.#shifts && this.#lay === LAY.colour
    if (changesTip) writeColourMatrix(shift, matrix)
    const patch = this.#lay === LAY.smear ? this.#takePatch(stamps[s + STAMP.x], stamps[s + STAMP.y], area) : area
    kernel.stamp({
      ...job,
      lay: this.#lay,
      scratch: at.scratch,
      weights: at.weights,
      grain: this.#layStampGrain(stamps, s, job.rowCount),
      grainStarts: at.grainStarts,
      tint: this.#lay === LAY.tint ? this.#tint(shift) : [0, 0, 0],
      matrix: changesTip ? at.matrix : 0,
      patch: at.patch,
      patchWidth: patch.right - patch.left,
      patchLeft: patch.left,
      patchTop: patch.top,
    })
  }

  #tint(shift: ColourShift): [number, number, number] {
    const { r, g, b } = shiftRgb(this.#options.colour, shift)
    return [r, g, b].map((value) => Math.round((value / 255) * Q15_ONE)) as [number, number, number]
  }

  /** Lays the grain under one stamp and notes where each of its rows begins. */
  #layStampGrain(stamps: Float64Array, s: number, rowCount: number): Omit<GrainRow, 'u' | 'v'> | undefined {
    const grain = this.#stampGrain
    const settings = this.#recipe.ground.grain
    if (!grain || !settings) return undefined
    const turnDeg = settings.randomTurn === 'stamp' ? 360 * stamps[s + STAMP.grain] : this.#strokeTurn
    const origins = {
      stamp: { x: stamps[s + STAMP.x], y: stamps[s + STAMP.y] },
      stroke: this.#origin,
      canvas: CANVAS_CORNER,
    }
    const laid = layGrain(grain, grainPose(settings.scalePct, turnDeg, origins[settings.anchor]))
    const { rows, grainStarts, at } = this.#memory
    for (let r = 0; r < rowCount; r++) {
      const { u, v } = laid.startAt(rows[r * ROW_INTS + 1], rows[r * ROW_INTS])
      grainStarts[r * 2] = u
      grainStarts[r * 2 + 1] = v
    }
    const { level, periodU, periodV, du, dv } = laid
    return { level: at.grain, stride: level.stride, periodU, periodV, du, dv }
  }

  /** Copies what lies under the last stamp, as far as this stamp will want it. @returns Where the copy counts as lying. */
  #takePatch(x: number, y: number, area: Rect): Rect {
    const { width, height } = this.#options
    const { layer, patch } = this.#memory
    const at = { x: Math.round(x), y: Math.round(y) }
    const last = this.#last ?? at
    this.#last = at
    const row = (area.right - area.left) * CHANNELS
    for (let py = area.top, o = 0; py < area.bottom; py++, o += row) {
      const fromY = clamp(py - at.y + last.y, height - 1)
      const shift = last.x - at.x
      // Beyond the border of the canvas its edge goes on.
      for (let px = area.left, i = o; px < area.right; px++, i += CHANNELS) {
        const from = (fromY * width + clamp(px + shift, width - 1)) * CHANNELS
        for (let c = 0; c < CHANNELS; c++) patch[i + c] = layer[from + c]
      }
    }
    return area
  }

  /** Gives the memory back; the stroke must not be used after that. */
  close(): void {
    this.#memory.close()
  }

  compositeOnto(surface: SurfacePart, area: Rect = wholeOf(surface)): void {
    const { blend, behaviour } = this.#recipe.colour
    if (blend === 'normal' && behaviour === 'paint') this.#compositeByKernel(surface, area)
    else this.#compositePlainly(surface, area)
  }

  /** The usual case, row by row through the kernel's own memory. */
  #compositeByKernel(surface: SurfacePart, { left, top, right, bottom }: Rect): void {
    const { width, colour } = this.#options
    const channels = this.#lay === LAY.mask ? 1 : CHANNELS
    const count = right - left
    const opacityQ15 = Math.round(this.#recipe.colour.opacity * Q15_ONE)
    const memory = this.#memory
    const covers = memory.covers.fill(opacityQ15)
    const canvas = memory.canvasRow.subarray(0, count * 4)
    for (let y = top; y < bottom; y++) {
      const weights = this.#layerGrain?.weigh(y, left, right)
      if (weights) for (let k = 0; k < count; k++) covers[k] = (weights[k] * opacityQ15 + 0x4000) >> 15
      const at = ((y - (surface.top ?? 0)) * surface.width + left - (surface.left ?? 0)) * 4
      canvas.set(surface.data.subarray(at, at + count * 4))
      memory.kernel.compositeRow({
        canvas: memory.at.canvasRow,
        layer: memory.at.layer + (y * width + left) * channels * 2,
        covers: memory.at.covers,
        count,
        colour: channels === 1 ? colour : undefined,
      })
      surface.data.set(canvas, at)
    }
  }

  #compositePlainly(surface: SurfacePart, area: Rect): void {
    const { colour, opacity, blend, behaviour } = { ...this.#recipe.colour, colour: this.#options.colour }
    compositeLayer(surface, area, {
      data: this.#memory.layer,
      width: this.#options.width,
      channels: this.#lay === LAY.mask ? 1 : CHANNELS,
      colour,
      opacity,
      blend,
      behaviour: behaviour === 'smear' ? 'replace' : behaviour,
      weigh: this.#layerGrain?.weigh,
    })
  }
}

const varies = (spread: number | object) => typeof spread !== 'number' || spread !== 0

function layOf(recipe: Recipe, channels: 1 | 4, shifts: boolean): (typeof LAY)[keyof typeof LAY] {
  if (recipe.colour.behaviour === 'smear') return LAY.smear
  if (channels === 4) return LAY.colour
  return shifts && recipe.colour.behaviour === 'paint' ? LAY.tint : LAY.mask
}

const clamp = (value: number, max: number) => Math.min(max, Math.max(0, value))
