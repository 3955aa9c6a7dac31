import { guessReading, toCoverage } from '../brush/coverage.ts'
import { greyAt } from '../raster/grey.ts'
import type { Pixels } from '../raster/pixels.ts'
import { trimToMark } from '../raster/trim.ts'
import { measureSeam } from './seam.ts'

/** What a picture is for. */
export const PICTURE_USES = ['tip', 'grain', 'strip'] as const
export type PictureUse = (typeof PICTURE_USES)[number]

/** Strips of the trade are often 1024 x 256 (common practice, no source); from three to one on, a picture looks like one. */
const STRIP_ASPECT = 3
/** Smaller tiles are more often tips. */
const GRAIN_MIN_SIDE_PX = 64
/** Where one tone makes up so much of the border, it is the ground that a mark lies on. */
const GROUND_SHARE = 0.5
/** Tones this close count as one; of 255. */
const SAME_TONE = 3
/** A strip's drawing runs from one end to the other: it covers at least this share of the length. */
const STRIP_REACH = 0.9
/** Fainter paint than this does not count as part of the drawing; of 255. */
const MARK_LEVEL = 24

/** The use a curator would most likely have for a picture, from its shape, its border and its seam. */
export function guessUse(frames: readonly Pixels[]): PictureUse {
  const [picture] = frames
  if (!picture || frames.length > 1) return 'tip'
  const { width, height } = picture
  if (width >= STRIP_ASPECT * height && height > 1) return reachesBothEnds(picture) ? 'strip' : 'tip'
  if (Math.min(width, height) < GRAIN_MIN_SIDE_PX || !isFull(picture)) return 'tip'
  const { across, down } = measureSeam(picture)
  return across.isSeamless && down.isSeamless ? 'grain' : 'tip'
}

function reachesBothEnds(picture: Pixels): boolean {
  const coverage = toCoverage(picture, guessReading(picture))
  const mark = trimToMark(coverage.channels === 1 ? coverage : toCoverage(picture, 'alpha'), MARK_LEVEL)
  return mark !== undefined && mark.width >= STRIP_REACH * picture.width
}

/** Whether the drawing goes on to the border, with no even ground around it. */
function isFull(pixels: Pixels): boolean {
  const { width, height } = pixels
  const border = new Uint8Array(2 * (width + height))
  let o = 0
  for (let x = 0; x < width; x++) {
    border[o++] = greyAt(pixels, x)
    border[o++] = greyAt(pixels, (height - 1) * width + x)
  }
  for (let y = 0; y < height; y++) {
    border[o++] = greyAt(pixels, y * width)
    border[o++] = greyAt(pixels, y * width + width - 1)
  }
  border.sort()
  const span = Math.floor(border.length * GROUND_SHARE)
  return border.every((tone, i) => i + span >= border.length || border[i + span] - tone > 2 * SAME_TONE)
}
