import type { Recipe } from '../brush/recipe.ts'
import { unite } from '../raster/rect.ts'
import type { Rgb } from '../raster/srgb.ts'
import { createSurface, type Surface } from '../raster/surface.ts'
import { createStroke } from '../stroke/create-stroke.ts'
import type { Samples } from '../stroke/path/samples.ts'
import { type PreparedBrush, STROKE_WORK_MAX_PX, type Stroke, type StrokeOptions } from '../stroke/stroke.ts'
import { gaugeList, layOutGauge, listStroke, paintedReach, scaleRecipe } from './gauge.ts'
import { layUnder } from './underlay.ts'

export const INK: Rgb = { r: 24, g: 24, b: 24 }
/** The seed of gauge strokes, the same everywhere so that they can be compared. */
export const GAUGE_SEED = 20_261

/** Most work that all strokes of one picture may take together. */
const PICTURE_WORK_MAX_PX = 400_000_000

export type RenderOptions = {
  width: number
  height: number
  colour?: Rgb
  /** What lies under the paint; clear where there is none. */
  backdrop?: Rgb | undefined
  seed?: number
  kernel?: StrokeOptions['kernel']
  /** How much work it may take, as strokes count it. */
  workMaxPx?: number
}

/** A picture with strokes on it, and whether one of them asked for more than may be drawn. */
export type Painted = Surface & { isCutShort: boolean; workPx: number }

/** Paints whole strokes one after another onto a new picture; what erases or smears gets bars to work on. */
export function renderStrokes(
  strokes: readonly Samples[],
  brush: PreparedBrush,
  recipe: Recipe,
  { width, height, colour = INK, backdrop, seed = GAUGE_SEED, kernel, workMaxPx = PICTURE_WORK_MAX_PX }: RenderOptions,
): Painted {
  const surface = createSurface(width, height, backdrop)
  layUnder(surface, recipe.colour.behaviour)
  let isCutShort = false
  let workPx = 0
  for (const [i, samples] of strokes.entries()) {
    const left = Math.min(STROKE_WORK_MAX_PX, workMaxPx - workPx)
    const done = paintStroke(surface, samples, { brush, recipe, seed: seed + i, colour, kernel, workMaxPx: left })
    isCutShort ||= done.isCutShort
    workPx += done.workPx
  }
  return { ...surface, isCutShort, workPx }
}

type StrokeOf = Pick<StrokeOptions, 'brush' | 'recipe' | 'seed' | 'colour' | 'kernel' | 'workMaxPx'>

/** Paints one whole stroke onto a picture, in place. @returns Whether it had to be cut short, and the work it took. */
export function paintStroke(
  surface: Surface,
  samples: Samples,
  options: StrokeOf,
): Pick<Stroke, 'isCutShort' | 'workPx'> {
  const { width, height } = surface
  const stroke = createStroke({ ...options, width, height, under: surface })
  const area = unite(stroke.add(samples), stroke.finish())
  if (area) stroke.compositeOnto(surface, area)
  const { isCutShort, workPx } = stroke
  stroke.close()
  return { isCutShort, workPx }
}

/** All gauge strokes of a brush at its own size, or as large as the picture allows. */
export function renderGauge(brush: PreparedBrush, recipe: Recipe, options: RenderOptions): Painted {
  const { strokes, recipe: fitted } = layOutGauge(recipe, options.width, options.height)
  return renderStrokes(gaugeList(strokes), brush, fitted, options)
}

/** The part of a list line's height that a stroke may take, and the least its marks may shrink to when thrown far. */
const LINE_SHARE = 0.72
const MARK_MIN_PX = 3

/**
 * One long stroke for a list line: never larger than the line, marks thrown far so small that they are seen.
 *
 * @param options.growToPx Marks may be painted larger than the brush says, up to this size: a line may be a large one.
 */
export function renderListStroke(
  brush: PreparedBrush,
  recipe: Recipe,
  { growToPx = 0, ...options }: RenderOptions & { growToPx?: number },
): Painted {
  const mostPx = Math.max(MARK_MIN_PX, (options.height * LINE_SHARE) / paintedReach(recipe))
  const wantedPx = Math.max(recipe.mark.sizePx, growToPx)
  const fitted = scaleRecipe(recipe, Math.min(wantedPx, mostPx) / recipe.mark.sizePx)
  return renderStrokes([listStroke(options.width, options.height, fitted.mark.sizePx / 2 + 2)], brush, fitted, options)
}
