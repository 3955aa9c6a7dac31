import type { Pixels } from '../raster/pixels.ts'
import { measureSeam, SEAM_VISIBLE, toGrey } from './seam.ts'

/** What a picture is for. */
export const PICTURE_USES = ['tip', 'grain', 'strip'] as const
export type PictureUse = (typeof PICTURE_USES)[number]

/** Strips of the trade are often 1024 x 256 (common practice, no source); from three to one on, a picture looks like one. */
const STRIP_ASPECT = 3
/** Smaller tiles are more often tips. */
const GRAIN_MIN_SIDE_PX = 64
/** A mark on paper has an even border; grain goes on to its edge. In 8-bit greys. */
const BORDER_SPREAD = 6

/** The use a curator would most likely have for a picture, from its shape, its border and its seam. */
export function guessUse(frames: readonly Pixels[]): PictureUse {
  const [picture] = frames
  if (!picture || frames.length > 1) return 'tip'
  const { width, height } = picture
  if (width >= STRIP_ASPECT * height && height > 1) return 'strip'
  if (Math.min(width, height) < GRAIN_MIN_SIDE_PX || borderSpread(picture) < BORDER_SPREAD) return 'tip'
  const { across, down } = measureSeam(picture)
  return Math.max(across, down) <= SEAM_VISIBLE ? 'grain' : 'tip'
}

/** Standard deviation of the greys along the border. */
function borderSpread(pixels: Pixels): number {
  const { width, height } = pixels
  const grey = toGrey(pixels)
  const border: number[] = []
  for (let x = 0; x < width; x++) border.push(grey[x], grey[(height - 1) * width + x])
  for (let y = 0; y < height; y++) border.push(grey[y * width], grey[y * width + width - 1])
  const mean = border.reduce((sum, value) => sum + value, 0) / border.length
  return Math.sqrt(border.reduce((sum, value) => sum + (value - mean) ** 2, 0) / border.length)
}
