import type { Recipe } from '../brush/recipe.ts'
import { RibbonStroke } from './ribbon/ribbon-stroke.ts'
import { StampStroke } from './stamp/stamp-stroke.ts'
import type { Stroke, StrokeOptions } from './stroke.ts'

/** Begins a stroke of a brush: stamps along the path, or a strip laid along it. */
export const createStroke = (options: StrokeOptions): Stroke =>
  options.recipe.path.ribbon ? new RibbonStroke(options) : new StampStroke(options)

/**
 * Whether the last part of a stroke is drawn only by `finish`: a strip and an end taper are fitted to the whole length.
 * To show such a stroke while it grows, paint it anew and finish it: pieces and whole give the same pixels.
 */
export const waitsForEnd = ({ path }: Recipe): boolean => path.ribbon !== undefined || path.taper.endPx > 0
