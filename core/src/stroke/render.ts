import { toCoverage } from '../brush/coverage.ts'
import type { Recipe } from '../brush/recipe.ts'
import type { Pixels } from '../raster/pixels.ts'
import { gaugeStrokes, listStroke } from './gauge.ts'
import { type PreparedFrame, prepareFrame } from './levels.ts'
import { StrokePainter } from './painter.ts'
import type { Samples } from './samples.ts'
import { createSurface, type Rgb, type Surface } from './surface.ts'

export const INK: Rgb = { r: 24, g: 24, b: 24 }
const SEED = 20_261

/** Reads a tip's frames as paint and prefilters them; do it once a tip and reading. */
export function prepareTip(frames: readonly Pixels[], recipe: Recipe): PreparedFrame[] {
  return frames.map((frame) => prepareFrame(toCoverage(frame, recipe.colour.reading)))
}

export type RenderOptions = {
  width: number
  height: number
  colour?: Rgb
  ground?: Rgb
  seed?: number
  kernel?: 'simd' | 'plain'
}

/** Paints whole strokes one after another onto a new picture. */
export function renderStrokes(
  strokes: readonly Samples[],
  frames: readonly PreparedFrame[],
  recipe: Recipe,
  { width, height, colour = INK, ground, seed = SEED, kernel }: RenderOptions,
): Surface {
  const surface = createSurface(width, height, ground)
  strokes.forEach((samples, i) => {
    const painter = new StrokePainter({ width, height, frames, recipe, seed: seed + i, colour, kernel })
    const area = painter.add(samples)
    if (area) painter.compositeOnto(surface, area)
  })
  return surface
}

/** All gauge strokes of a brush at its own size, or as large as the picture's bands allow. */
export function renderGauge(frames: readonly PreparedFrame[], recipe: Recipe, options: RenderOptions): Surface {
  const fitted = fitRecipe(recipe, options.height / 4)
  const strokes = gaugeStrokes(options.width, options.height, fitted.mark.sizePx / 2 + 4)
  return renderStrokes([strokes.level, strokes.curve, strokes.zigzag, ...strokes.stamps], frames, fitted, options)
}

/** One long stroke for a list line, never larger than the line. */
export function renderListStroke(frames: readonly PreparedFrame[], recipe: Recipe, options: RenderOptions): Surface {
  const fitted = fitRecipe(recipe, options.height * 0.72)
  return renderStrokes([listStroke(options.width, options.height, fitted.mark.sizePx / 2 + 2)], frames, fitted, options)
}

/** The same recipe with its size held to `maxPx`; spacing and scatter are relative and follow by themselves. */
function fitRecipe(recipe: Recipe, maxPx: number): Recipe {
  if (recipe.mark.sizePx <= maxPx) return recipe
  return { ...recipe, mark: { ...recipe.mark, sizePx: Math.max(1, maxPx) } }
}
