import type { Recipe } from '../brush/recipe.ts'
import { type Kernel, Q15_ONE, ROW_INTS } from './kernel.ts'
import { createPlainKernel } from './kernel-plain.ts'
import { createSimdKernel, createWasmMemory } from './kernel-simd.ts'
import type { Level, PreparedFrame } from './levels.ts'
import type { Samples } from './samples.ts'
import { STAMP, STAMP_STRIDE, StampPlacer } from './stamps.ts'
import type { Rect, Rgb, Surface } from './surface.ts'

export type PainterOptions = {
  width: number
  height: number
  /** The tip's frames, all of one channel count. */
  frames: readonly PreparedFrame[]
  recipe: Recipe
  seed: number
  /** The chosen colour; tips in their own colours do not use it. */
  colour: Rgb
  /** `plain` is the tested reference of `simd`; both give the same bytes. */
  kernel?: 'simd' | 'plain'
}

type Placed = Level & { offset: number }

const FIXED_ONE = 65_536
/** Levels are chosen so that what is left to scale stays within a factor of √2 either way. */
const LEVEL_SWITCH = Math.SQRT1_2
const ALIGN_BYTES = 16

/**
 * Paints one stroke: stamps gather on a layer of their own, and `compositeOnto` lays that layer on a picture,
 * capped by the stroke's opacity. A stroke may be added in pieces; the pixels are the same as when added whole.
 */
export class StrokePainter {
  readonly #options: PainterOptions
  readonly #placer: StampPlacer
  readonly #kernel: Kernel
  readonly #rows: Int32Array
  readonly #layer: Int16Array
  readonly #layerOffset: number
  readonly #rowsOffset: number
  readonly #levels: Placed[][]
  readonly #channels: 1 | 4

  constructor(options: PainterOptions) {
    const { width, height, frames, recipe, seed, kernel = 'simd' } = options
    this.#options = options
    this.#channels = frames[0].channels
    this.#placer = new StampPlacer(recipe, frames, seed)
    const arena = new ArenaPlan()
    this.#rowsOffset = arena.take(height * ROW_INTS * 4)
    const layerShorts = width * height * this.#channels
    this.#layerOffset = arena.take(layerShorts * 2)
    this.#levels = frames.map(({ levels }) =>
      levels.map((level) => ({ ...level, offset: arena.take(level.data.length) })),
    )
    const memory = kernel === 'simd' ? createWasmMemory(arena.bytes) : { buffer: new ArrayBuffer(arena.bytes) }
    this.#kernel = kernel === 'simd' ? createSimdKernel(memory) : createPlainKernel(memory.buffer)
    const bytes = new Uint8Array(memory.buffer)
    for (const levels of this.#levels) for (const level of levels) bytes.set(level.data, level.offset)
    this.#rows = new Int32Array(memory.buffer, this.#rowsOffset, height * ROW_INTS)
    this.#layer = new Int16Array(memory.buffer, this.#layerOffset, layerShorts)
  }

  /** Adds more of the stroke's path. @returns The area that changed, or undefined when no stamp fell on the picture. */
  add(samples: Samples): Rect | undefined {
    return this.stamp(this.#placer.add(samples))
  }

  /** Draws stamps that were placed elsewhere, `STAMP_STRIDE` numbers each. @returns The area that changed. */
  stamp(stamps: Float64Array): Rect | undefined {
    let changed: Rect | undefined
    for (let s = 0; s + STAMP_STRIDE <= stamps.length; s += STAMP_STRIDE) {
      const area = this.#stampOne(stamps, s)
      if (area) changed = changed ? unite(changed, area) : area
    }
    return changed
  }

  #stampOne(stamps: Float64Array, s: number): Rect | undefined {
    const { width, height, frames } = this.#options
    const alphaQ15 = Math.round(stamps[s + STAMP.alpha] * Q15_ONE)
    const scaleX = stamps[s + STAMP.scale]
    const scaleY = scaleX * stamps[s + STAMP.squash]
    if (!(alphaQ15 > 0 && scaleX > 0 && scaleY > 0)) return undefined
    const frame = frames[stamps[s + STAMP.frame]]
    const levels = this.#levels[stamps[s + STAMP.frame]]
    let k = 0
    let shrink = 1
    while (Math.sqrt(scaleX * scaleY) * shrink < LEVEL_SWITCH && k < levels.length - 1) {
      k++
      shrink *= 2
    }
    const level = levels[k]
    const geometry = {
      x: stamps[s],
      y: stamps[s + STAMP.y],
      cos: stamps[s + STAMP.cos],
      sin: stamps[s + STAMP.sin],
      // px drawn per level px
      scaleX: scaleX * shrink,
      scaleY: scaleY * shrink,
      // the tip's middle in level px, and its size
      middleX: frame.width / 2 / shrink,
      middleY: frame.height / 2 / shrink,
      levelWidth: level.width,
      levelHeight: level.height,
    }
    const setup = planRows(geometry, width, height, this.#rows)
    if (setup.rowCount === 0) return undefined
    const job = {
      layer: this.#layerOffset,
      layerWidth: width,
      level: level.offset,
      levelStride: level.stride,
      rows: this.#rowsOffset,
      alphaQ15,
      rowCount: setup.rowCount,
      du: setup.du,
      dv: setup.dv,
    }
    if (this.#channels === 1) this.#kernel.stampMask(job)
    else this.#kernel.stampColour(job)
    return setup.area
  }

  /**
   * Lays the stroke onto a picture of the painter's own size, in place, within `area` (default: everywhere).
   * Source-over on premultiplied sRGB.
   */
  compositeOnto(
    surface: Surface,
    area: Rect = { left: 0, top: 0, right: surface.width, bottom: surface.height },
  ): void {
    const { colour, recipe } = this.#options
    const opacity = recipe.colour.opacity / Q15_ONE
    const { data, width } = surface
    const layer = this.#layer
    for (let y = area.top; y < area.bottom; y++) {
      for (let x = area.left, p = y * width + area.left; x < area.right; x++, p++) {
        const o = p * 4
        if (this.#channels === 1) {
          const alpha = layer[p] * opacity
          if (alpha === 0) continue
          data[o] = data[o] * (1 - alpha) + colour.r * alpha
          data[o + 1] = data[o + 1] * (1 - alpha) + colour.g * alpha
          data[o + 2] = data[o + 2] * (1 - alpha) + colour.b * alpha
          data[o + 3] = data[o + 3] * (1 - alpha) + 255 * alpha
          continue
        }
        const keep = 1 - layer[o + 3] * opacity
        if (keep === 1) continue
        for (let c = 0; c < 4; c++) data[o + c] = data[o + c] * keep + layer[o + c] * opacity * 255
      }
    }
  }
}

/** Hands out places in one block of memory. The first bytes stay free: compiled code may call them its own. */
class ArenaPlan {
  bytes = 1024
  take(size: number): number {
    const offset = this.bytes
    this.bytes = Math.ceil((offset + size) / ALIGN_BYTES) * ALIGN_BYTES
    return offset
  }
}

type Geometry = {
  x: number
  y: number
  cos: number
  sin: number
  scaleX: number
  scaleY: number
  middleX: number
  middleY: number
  levelWidth: number
  levelHeight: number
}

/**
 * Finds, row by row, which pixels of the picture a stamp reaches, so that the inner loop needs no bounds check.
 * Writes `ROW_INTS` integers a row into `rows`.
 */
function planRows(
  g: Geometry,
  width: number,
  height: number,
  rows: Int32Array,
): { rowCount: number; du: number; dv: number; area: Rect | undefined } {
  const du = Math.round((g.cos / g.scaleX) * FIXED_ONE)
  const dv = Math.round((-g.sin / g.scaleY) * FIXED_ONE)
  // One pixel more on each side: bilinear sampling fades into the border.
  const halfX = (g.middleX + 1) * g.scaleX
  const halfY = (g.middleY + 1) * g.scaleY
  const reachX = Math.abs(g.cos) * halfX + Math.abs(g.sin) * halfY
  const reachY = Math.abs(g.sin) * halfX + Math.abs(g.cos) * halfY
  const none = { rowCount: 0, du, dv, area: undefined }
  const left = Math.max(0, Math.floor(g.x - reachX))
  const right = Math.min(width, Math.ceil(g.x + reachX))
  const top = Math.max(0, Math.floor(g.y - reachY))
  const bottom = Math.min(height, Math.ceil(g.y + reachY))
  if (!(left < right && top < bottom)) return none
  const uEnd = (g.levelWidth + 1) * FIXED_ONE
  const vEnd = (g.levelHeight + 1) * FIXED_ONE
  let rowCount = 0
  for (let y = top; y < bottom; y++) {
    const dx = left + 0.5 - g.x
    const dy = y + 0.5 - g.y
    // -0.5 from pixel middles to corners, +1 for the border
    const u = Math.floor(((g.cos * dx + g.sin * dy) / g.scaleX + g.middleX + 0.5) * FIXED_ONE)
    const v = Math.floor(((-g.sin * dx + g.cos * dy) / g.scaleY + g.middleY + 0.5) * FIXED_ONE)
    const first = Math.max(firstInside(u, du, uEnd), firstInside(v, dv, vEnd))
    const last = Math.min(lastInside(u, du, uEnd), lastInside(v, dv, vEnd), right - left - 1)
    if (first > last) continue
    const i = rowCount * ROW_INTS
    rows[i] = y
    rows[i + 1] = left + first
    rows[i + 2] = left + last + 1
    rows[i + 3] = u + du * first
    rows[i + 4] = v + dv * first
    rowCount++
  }
  return rowCount === 0 ? none : { rowCount, du, dv, area: { left, top, right, bottom } }
}

/** The first whole n ≥ 0 with 0 ≤ start + n · step < end, or a number beyond any row. */
function firstInside(start: number, step: number, end: number): number {
  if (start >= 0 && start < end) return 0
  if (start < 0) return step > 0 ? Math.ceil(-start / step) : NEVER
  return step < 0 ? Math.floor((start - end) / -step) + 1 : NEVER
}

/** The last whole n with 0 ≤ start + n · step < end, given that some n is inside. */
function lastInside(start: number, step: number, end: number): number {
  if (step > 0) return Math.ceil((end - start) / step) - 1
  if (step < 0) return Math.floor(start / -step)
  return start >= 0 && start < end ? NEVER : -1
}

const NEVER = 1e9

function unite(a: Rect, b: Rect): Rect {
  return {
    left: Math.min(a.left, b.left),
    top: Math.min(a.top, b.top),
    right: Math.max(a.right, b.right),
    bottom: Math.max(a.bottom, b.bottom),
  }
}
