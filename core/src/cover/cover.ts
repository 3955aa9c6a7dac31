import * as v from 'valibot'
import type { Recipe } from '../brush/recipe.ts'
import { SIZE_MAX_PX } from '../brush/recipe.ts'
import type { Rgb } from '../raster/srgb.ts'
import type { Surface } from '../raster/surface.ts'
import { renderListStroke } from '../render/render.ts'
import { type BrushPictures, prepareBrush } from '../stroke/prepare-brush.ts'

/** The size of every cover, px. */
export const COVER = { width: 1600, height: 900 } as const
/** What is left free at its sides, px. */
export const COVER_MARGIN_PX = 80
export const COVER_STROKES_MAX = 6
export const COVER_TITLE_MAX_CHARS = 120

const Colour = v.pipe(v.string(), v.regex(/^#[0-9a-f]{6}$/))
const Share = v.pipe(v.number(), v.minValue(0), v.maxValue(1))

/** Where a title stands. */
export const COVER_PLACES = ['above', 'middle', 'below'] as const

/** A cover that is composed: a title, and strokes of brushes on a ground. */
export const CoverPlan = v.strictObject({
  /** The colour of all that nothing lies on. */
  ground: Colour,
  /** Empty for none. */
  title: v.pipe(v.string(), v.trim(), v.maxLength(COVER_TITLE_MAX_CHARS)),
  titleColour: Colour,
  titlePlace: v.picklist(COVER_PLACES),
  /** From the lowest to the uppermost. */
  strokes: v.pipe(
    v.array(
      v.strictObject({
        brushId: v.pipe(v.string(), v.uuid()),
        colour: Colour,
        /** Where its band begins, of what is left of the height. */
        top: Share,
        /** How high its band is, of the cover. */
        height: v.pipe(v.number(), v.minValue(0.05), v.maxValue(1)),
      }),
    ),
    v.maxLength(COVER_STROKES_MAX),
  ),
})
export type CoverPlan = v.InferOutput<typeof CoverPlan>
export type CoverStroke = CoverPlan['strokes'][number]

/** A part of a picture that becomes a cover, in shares of it. */
export const CoverCrop = v.strictObject({ left: Share, top: Share, width: Share, height: Share })
export type CoverCrop = v.InferOutput<typeof CoverCrop>

/** A colour as it is written in HTML. @param hex As `CoverPlan` has it. */
export function toRgb(hex: string): Rgb {
  const value = Number.parseInt(hex.slice(1), 16)
  return { r: value >> 16, g: (value >> 8) & 255, b: value & 255 }
}

/** Where the band of a stroke lies, px. */
export function bandOf({ top, height }: Pick<CoverStroke, 'top' | 'height'>) {
  const heightPx = Math.round(height * COVER.height)
  return {
    left: COVER_MARGIN_PX,
    top: Math.round(top * (COVER.height - heightPx)),
    width: COVER.width - 2 * COVER_MARGIN_PX,
    height: heightPx,
  }
}

/**
 * A stroke of a cover, painted at the size that it has there: as large as its band lets it, and no larger than its tip was
 * drawn, where it is not so already.
 *
 * @returns Premultiplied, of the size of its band, on nothing.
 */
export function paintCoverStroke(pictures: BrushPictures, recipe: Recipe, stroke: CoverStroke): Surface {
  const { width, height } = bandOf(stroke)
  const [frame] = pictures.frames
  const growToPx = Math.min(SIZE_MAX_PX, Math.max(frame?.width ?? 0, frame?.height ?? 0))
  const colour = toRgb(stroke.colour)
  return renderListStroke(prepareBrush(pictures, recipe, colour), recipe, { width, height, growToPx, colour })
}
