import { toCoverage } from '../brush/coverage.ts'
import type { PaintReading } from '../brush/recipe.ts'
import { createPixels, type Pixels } from '../raster/pixels.ts'
import { shrinkPixels } from '../raster/resample.ts'
import { trimToMark } from '../raster/trim.ts'

/**
 * What near duplicates are found by: `bits`, 64 signs of the horizontal gradient as 16 hex digits, and `signature`,
 * the mark itself at SIGNATURE_SIDE squared, levels stretched to 0…255.
 */
export type NearHash = { bits: string; signature: Uint8Array }

const MARK_FROM = 8 // fainter coverage than this is dust, not shape
const COLUMNS = 9
const ROWS = 8
export const SIGNATURE_SIDE = 16

/** Hashes a tip's mark, trimmed and stretched, so that margins, size and faintness do not matter. Undefined when blank. */
export function hashNear(pixels: Pixels, reading: PaintReading): NearHash | undefined {
  const covered = toCoverage(pixels, reading === 'own' || reading === 'tone' ? colouredReading(pixels) : reading)
  const mark = trimToMark(covered, MARK_FROM)
  if (!mark) return undefined
  const grid = toSize(mark, COLUMNS, ROWS)
  let bits = ''
  for (let y = 0; y < ROWS; y++) {
    let byte = 0
    for (let x = 0; x < ROWS; x++)
      byte = (byte << 1) | (grid.data[y * COLUMNS + x] < grid.data[y * COLUMNS + x + 1] ? 1 : 0)
    bits += byte.toString(16).padStart(2, '0')
  }
  return { bits, signature: stretch(toSize(mark, SIGNATURE_SIDE, SIGNATURE_SIDE).data) }
}

/** Own colours are compared by shape: their alpha, or their darkness where they are opaque. */
function colouredReading({ channels, data }: Pixels): PaintReading {
  if (channels === 1) return 'dark'
  for (let i = 3; i < data.length; i += 4) if (data[i] < 255) return 'alpha'
  return 'dark'
}

/** Shrinks by area, or repeats pixels of a mark that is smaller than the grid. */
function toSize(mark: Pixels, width: number, height: number): Pixels {
  if (mark.width >= width && mark.height >= height) return shrinkPixels(mark, width, height)
  const out = createPixels(width, height, 1)
  for (let y = 0, o = 0; y < height; y++) {
    const row = Math.floor(((y + 0.5) * mark.height) / height) * mark.width
    for (let x = 0; x < width; x++, o++) out.data[o] = mark.data[row + Math.floor(((x + 0.5) * mark.width) / width)]
  }
  return out
}

function stretch(levels: Uint8Array): Uint8Array {
  const low = levels.reduce((a, b) => Math.min(a, b), 255)
  const high = levels.reduce((a, b) => Math.max(a, b), 0)
  return high === low ? levels.map(() => 128) : levels.map((level) => Math.round(((level - low) * 255) / (high - low)))
}
