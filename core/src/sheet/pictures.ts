import type { Recipe } from '../brush/recipe.ts'
import { createPixels, type Pixels, toGreyIfLossless } from '../raster/pixels.ts'
import type { Rgb } from '../raster/srgb.ts'
import { INK } from '../render/render.ts'
import { layOn, placeFrame, renderSeenListStroke } from '../render/thumbnail.ts'
import { type BrushPictures, prepareBrush } from '../stroke/prepare-brush.ts'

const PAPER: Rgb = { r: 255, g: 255, b: 255 }
type Size = { width: number; height: number }

/**
 * A brush's stroke as it is printed, painted at just this size: on white paper, white paint on dark.
 *
 * @returns Opaque; of one channel where it has no colours.
 */
export const renderPrintedStroke = (pictures: BrushPictures, recipe: Recipe, size: Size): Pixels =>
  toGreyIfLossless(layOn(renderSeenListStroke(prepareBrush(pictures, recipe, INK), recipe, size), PAPER))

/** The first frame of a brush as it is printed; white paper where there is none. @returns As `renderPrintedStroke`. */
export function renderPrintedTip({ frames: [frame] }: BrushPictures, recipe: Recipe, size: Size): Pixels {
  if (frame) return toGreyIfLossless(placeFrame(frame, recipe, { ...size, backdrop: PAPER }))
  const blank = createPixels(size.width, size.height, 1)
  blank.data.fill(PAPER.r)
  return blank
}
