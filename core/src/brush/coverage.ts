import { toGreyOnPaper } from '../raster/grey.ts'
import { toLuma } from '../raster/luma.ts'
import { createPixels, type Pixels, toRgba } from '../raster/pixels.ts'
import type { PaintReading } from './recipe.ts'

/** What a tip's pixels paint: one channel of coverage (255 full paint), or straight RGBA in its own colours. */
export type Coverage = Pixels

/**
 * Turns pixels into paint by a reading. Dark, light and alpha give one channel of coverage; own colours gives RGBA.
 * Tone keeps the greys and their alpha, since they shade the chosen colour later.
 */
export function toCoverage(pixels: Pixels, reading: PaintReading): Coverage {
  switch (reading) {
    case 'own':
    case 'tone':
      return toRgba(pixels)
    case 'alpha':
      return mapCoverage(pixels, (_luma, alpha) => alpha)
    case 'dark':
      return mapCoverage(pixels, (luma, alpha) => Math.round(((255 - luma) * alpha) / 255))
    case 'light':
      return mapCoverage(pixels, (luma, alpha) => Math.round((luma * alpha) / 255))
  }
}

function mapCoverage(pixels: Pixels, paint: (luma: number, alpha: number) => number): Pixels {
  const { width, height, channels, data } = pixels
  const out = createPixels(width, height, 1)
  if (channels === 1) {
    const table = Uint8Array.from({ length: 256 }, (_, grey) => paint(grey, 255))
    for (let i = 0; i < data.length; i++) out.data[i] = table[data[i]]
    return out
  }
  for (let i = 0, o = 0; i < data.length; i += 4, o++) {
    out.data[o] = paint(toLuma(data[i], data[i + 1], data[i + 2]), data[i + 3])
  }
  return out
}

/**
 * The reading a curator would most likely choose for a picture nobody has said anything about: own colours where
 * there is colour, alpha where transparency draws the shape, else dark paints on a light ground, light on a dark one.
 */
export function guessReading(pixels: Pixels): PaintReading {
  if (pixels.channels === 1) return guessByBorder(pixels)
  const { data } = pixels
  let coloured = 0
  let clear = 0
  let seen = 0
  // more than that would be coloured even if all the rest were seen
  const enough = (data.length / 4) * COLOURED_SHARE
  for (let i = 0; i < data.length; i += 4) {
    if (data[i + 3] < 128) clear++
    if (data[i + 3] < 8) continue
    seen++
    const high = Math.max(data[i], data[i + 1], data[i + 2])
    const low = Math.min(data[i], data[i + 1], data[i + 2])
    if (high - low > COLOUR_STEP && ++coloured > enough) return 'own'
  }
  if (coloured > seen * COLOURED_SHARE) return 'own'
  if (clear > (data.length / 4) * CLEAR_SHARE) return 'alpha'
  return guessByBorder(pixels)
}

const COLOUR_STEP = 24 // levels between channels below which a pixel passes for grey
const COLOURED_SHARE = 0.02
const CLEAR_SHARE = 0.02

/** The ground runs along the border: a light border means dark paints. */
function guessByBorder(pixels: Pixels): 'dark' | 'light' {
  const { width, height } = pixels
  const data = toGreyOnPaper(pixels)
  let sum = 0
  for (let x = 0; x < width; x++) sum += data[x] + data[(height - 1) * width + x]
  for (let y = 0; y < height; y++) sum += data[y * width] + data[y * width + width - 1]
  return sum / (2 * (width + height)) >= 128 ? 'dark' : 'light'
}
