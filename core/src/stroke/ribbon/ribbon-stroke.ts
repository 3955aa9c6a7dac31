import type { Recipe, Ribbon } from '../../brush/recipe.ts'
import { unite } from '../../raster/rect.ts'
import { type Rect, type SurfacePart, wholeOf } from '../../raster/surface.ts'
import { compositeLayer } from '../kernel/composite.ts'
import { createLayerGrain, type LayerGrain } from '../layer-grain.ts'
import type { PreparedFrame } from '../levels.ts'
import { Centreline, type PathMark } from '../path/centreline.ts'
import { createHandFactors, type HandFactors } from '../path/hand-factors.ts'
import { SAMPLE, type Samples } from '../path/samples.ts'
import { createTaper } from '../path/taper.ts'
import { STAMP_WORK_PX, STROKE_WORK_MAX_PX, type Stroke, type StrokeOptions } from '../stroke.ts'
import { RibbonLayer } from './ribbon-layer.ts'
import type { RibbonPoint } from './ribbon-segment.ts'
import { findSqueezes, type Squeeze } from './squeeze.ts'
import { bodyOf, closedRun, openRun, type StripRun, stretchedRun, waitingPx } from './strip-run.ts'

/** Most of a path that one ribbon may cover, so that no recipe can freeze a page. */
export const RIBBON_POINTS_MAX = 60_000

/**
 * Paints one stroke by laying a strip along its path. Repeated strips are drawn as far as their end cannot change them
 * any more; the rest, and all of a stretched one, comes with `finish`.
 */
export class RibbonStroke implements Stroke {
  readonly #recipe: Recipe
  readonly #options: StrokeOptions
  readonly #ribbon: Ribbon
  readonly #strip: PreparedFrame
  readonly #path = new Centreline()
  readonly #hand: HandFactors
  readonly #taper: ReturnType<typeof createTaper>
  readonly #layer: RibbonLayer
  readonly #grain: LayerGrain | undefined
  /** Canvas px per strip px, along and across. */
  readonly #scale: number
  readonly #points: RibbonPoint[] = []
  #drawn = 0
  readonly #workMaxPx: number
  #workPx = 0
  #lengthPx = Number.POSITIVE_INFINITY
  /** An end drawn on trial: where it lies, and how far the stroke was without it. */
  #trial: { area: Rect | undefined; path: PathMark; drawn: number; workPx: number } | undefined

  constructor(options: StrokeOptions) {
    const { brush, recipe, width, height } = options
    if (!recipe.path.ribbon) throw new Error('the recipe has no ribbon')
    this.#options = options
    this.#workMaxPx = options.workMaxPx ?? STROKE_WORK_MAX_PX
    this.#recipe = recipe
    this.#ribbon = recipe.path.ribbon
    this.#strip = brush.frames[0]
    this.#scale = recipe.mark.sizePx / this.#strip.height
    this.#hand = createHandFactors(recipe)
    this.#taper = createTaper(recipe.path.taper)
    this.#layer = new RibbonLayer({
      width,
      height,
      strip: this.#strip,
      scale: this.#scale,
      body: this.#ribbon.lay === 'repeated' ? bodyOf(this.#stripSizes()) : undefined,
    })
    this.#grain = createLayerGrain(options)
  }

  get isCutShort(): boolean {
    return this.#path.points.length > RIBBON_POINTS_MAX || this.#workPx >= this.#workMaxPx
  }

  get workPx(): number {
    return this.#workPx
  }

  add(samples: Samples): Rect | undefined {
    const back = this.#takeBack()
    const first = this.#path.points.length === 0
    this.#path.add(samples)
    const [start] = this.#path.points
    if (first && start) this.#grain?.begin({ x: start.at[SAMPLE.x], y: start.at[SAMPLE.y] })
    if (this.#ribbon.lay === 'stretched') return back
    const waitPx = Math.max(this.#taper?.endPx ?? 0, waitingPx(this.#stripSizes()) * this.#scale)
    const known = this.#path.points.at(-1)?.distancePx ?? 0
    return unite(back, this.#drawUpTo(known - waitPx, openRun(this.#stripSizes())))
  }

  peek(): Rect | undefined {
    const back = this.#takeBack()
    const [path, drawn, workPx] = [this.#path.mark(), this.#drawn, this.#workPx]
    this.#layer.beginTrial()
    const area = this.#drawEnd()
    this.#trial = { area, path, drawn, workPx }
    return unite(back, area)
  }

  finish(): Rect | undefined {
    const back = this.#takeBack()
    return unite(back, this.#drawEnd())
  }

  #takeBack(): Rect | undefined {
    if (!this.#trial) return undefined
    const { area, path, drawn, workPx } = this.#trial
    this.#trial = undefined
    this.#layer.takeBack()
    this.#path.goBack(path)
    this.#points.length = drawn
    this.#drawn = drawn
    this.#workPx = workPx
    this.#lengthPx = Number.POSITIVE_INFINITY
    return area
  }

  #drawEnd(): Rect | undefined {
    this.#path.finish()
    const last = this.#path.points.at(-1)
    this.#lengthPx = last?.distancePx ?? 0
    const drawnPx = this.#points.at(-1)?.distancePx ?? 0
    const [drawn, total] = [drawnPx / this.#scale, this.#lengthPx / this.#scale]
    const strip = this.#stripSizes()
    const run = this.#ribbon.lay === 'stretched' ? stretchedRun(strip, total) : closedRun(strip, drawn, total)
    return this.#drawUpTo(this.#lengthPx, run)
  }

  /** Where the strip is squeezed by more than a third, so far. */
  squeezes(): Squeeze[] {
    const points = this.#path.points.slice(0, this.#points.length)
    return findSqueezes(
      points,
      this.#points.map((point) => point.halfWidthPx),
    )
  }

  #stripSizes() {
    const { leadInPx, leadOutPx } = this.#ribbon
    return { lengthPx: this.#strip.width, leadInPx, leadOutPx }
  }

  #drawUpTo(distancePx: number, run: StripRun): Rect | undefined {
    let changed: Rect | undefined
    const { points } = this.#path
    const most = Math.min(points.length, RIBBON_POINTS_MAX)
    while (this.#drawn < most && points[this.#drawn].distancePx <= distancePx && this.#workPx < this.#workMaxPx) {
      const point = this.#toRibbonPoint(this.#drawn, run)
      this.#points.push(point)
      this.#drawn++
      const n = this.#points.length
      this.#workPx += STAMP_WORK_PX
      if (n < 2) continue
      const laid = this.#layer.lay(this.#points[n - 3], this.#points[n - 2], point)
      if (laid) this.#workPx += (laid.right - laid.left) * (laid.bottom - laid.top)
      changed = unite(changed, laid)
    }
    return changed
  }

  #toRibbonPoint(i: number, run: StripRun): RibbonPoint {
    const { at, distancePx } = this.#path.points[i]
    const before = this.#path.points[i - 1]
    const speed = before ? this.#hand.speedOf(before.at, at, distancePx - before.distancePx) : 0
    const taper = this.#taper?.at(distancePx, this.#lengthPx) ?? { size: 1, opacity: 1 }
    const { sizePx } = this.#recipe.mark
    return {
      x: at[SAMPLE.x],
      y: at[SAMPLE.y],
      distancePx,
      halfWidthPx: (sizePx / 2) * this.#hand.factor('size', at, speed) * taper.size,
      cover:
        this.#recipe.colour.flow *
        this.#hand.factor('flow', at, speed) *
        this.#hand.factor('opacity', at, speed) *
        taper.opacity,
      stripPx: run(distancePx / this.#scale),
    }
  }

  /** A ribbon holds nothing that could be used again. */
  close(): void {
    this.#points.length = 0
  }

  compositeOnto(surface: SurfacePart, area: Rect = wholeOf(surface)): void {
    const { opacity, blend, behaviour } = this.#recipe.colour
    compositeLayer(surface, area, {
      data: this.#layer.data,
      width: this.#options.width,
      channels: this.#strip.channels,
      colour: this.#options.colour,
      opacity,
      blend,
      behaviour: behaviour === 'erase' ? 'erase' : 'paint', // a ribbon has no stamps that could move what is there
      weigh: this.#grain?.weigh,
    })
  }
}
