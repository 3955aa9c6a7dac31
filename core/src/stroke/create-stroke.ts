import { RibbonStroke } from './ribbon-stroke.ts'
import { StampStroke } from './stamp-stroke.ts'
import type { Stroke, StrokeOptions } from './stroke.ts'

/** Begins a stroke of a brush: stamps along the path, or a strip laid along it. */
export const createStroke = (options: StrokeOptions): Stroke =>
  options.recipe.path.ribbon ? new RibbonStroke(options) : new StampStroke(options)
