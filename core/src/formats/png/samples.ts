import { createPixels, type Pixels } from '../../raster/pixels.ts'
import { COLOUR_TYPE, type PngParts } from './layout.ts'

/** Decoded samples, unpacked to one array element each, at the file's own depth and channel count. */
export type Samples = {
  width: number
  height: number
  channels: number
  data: Uint8Array | Uint8ClampedArray | Uint16Array
}

/**
 * Brings samples of any colour type and depth to 8-bit grey or straight RGBA: grey stays one channel unless one grey
 * is transparent; everything else becomes RGBA. Sixteen bits are rounded to eight.
 */
export function toPixels(samples: Samples, { header, palette, transparency }: PngParts): Pixels {
  const { depth, colourType } = header
  const clear = transparency && colourType !== COLOUR_TYPE.palette ? clearColour(transparency) : undefined
  const out = createPixels(samples.width, samples.height, colourType === COLOUR_TYPE.grey && !clear ? 1 : 4)
  const { data: from, channels } = samples
  const { data: to } = out
  const to8 = scaleTo8(depth)
  const count = samples.width * samples.height
  for (let p = 0, i = 0, o = 0; p < count; p++, i += channels, o += 4) {
    switch (colourType) {
      case COLOUR_TYPE.grey:
        if (!clear) {
          to[p] = to8(from[i])
          break
        }
        to[o] = to[o + 1] = to[o + 2] = to8(from[i])
        to[o + 3] = from[i] === clear[0] ? 0 : 255
        break
      case COLOUR_TYPE.greyAlpha:
        to[o] = to[o + 1] = to[o + 2] = to8(from[i])
        to[o + 3] = to8(from[i + 1])
        break
      case COLOUR_TYPE.rgb:
        to[o] = to8(from[i])
        to[o + 1] = to8(from[i + 1])
        to[o + 2] = to8(from[i + 2])
        to[o + 3] = clear && from[i] === clear[0] && from[i + 1] === clear[1] && from[i + 2] === clear[2] ? 0 : 255
        break
      case COLOUR_TYPE.rgba:
        for (let c = 0; c < 4; c++) to[o + c] = to8(from[i + c])
        break
      case COLOUR_TYPE.palette: {
        const entry = from[i] * 3
        to[o] = palette?.[entry] ?? 0
        to[o + 1] = palette?.[entry + 1] ?? 0
        to[o + 2] = palette?.[entry + 2] ?? 0
        to[o + 3] = transparency?.[from[i]] ?? 255
        break
      }
    }
  }
  return out
}

/** The colour that tRNS makes transparent, in samples of the file's depth. */
function clearColour(transparency: Uint8Array): number[] {
  const colour: number[] = []
  for (let i = 0; i + 1 < transparency.length; i += 2) colour.push(transparency[i] * 256 + transparency[i + 1])
  return colour
}

function scaleTo8(depth: number): (sample: number) => number {
  if (depth === 8) return (sample) => sample
  if (depth === 16) return (sample) => (sample * 255 + 32_895) >> 16 // rounds sample · 255 / 65535
  const factor = 255 / ((1 << depth) - 1)
  return (sample) => sample * factor
}

/** Unpacks rows of 1-, 2- or 4-bit samples, each row starting on a byte, to one byte a sample. */
export function unpackBits(packed: Uint8Array, width: number, height: number, depth: number): Uint8Array {
  const out = new Uint8Array(width * height)
  const rowBytes = Math.ceil((width * depth) / 8)
  const mask = (1 << depth) - 1
  for (let y = 0, o = 0; y < height; y++) {
    for (let x = 0; x < width; x++, o++) {
      const bit = x * depth
      out[o] = (packed[y * rowBytes + (bit >> 3)] >> (8 - depth - (bit & 7))) & mask
    }
  }
  return out
}

const USUAL_GAMMA = 1 / 2.2
const GAMMA_TOLERANCE = 0.02 // closer than this to the usual gamma nothing would be seen to change

/** Re-codes samples of another gamma as sRGB (IEC 61966-2-1), in place. Alpha stays. Returns whether it did. */
export function applyGamma(pixels: Pixels, gamma: number | undefined): boolean {
  if (!gamma || Math.abs(gamma - USUAL_GAMMA) < GAMMA_TOLERANCE) return false
  const table = Uint8Array.from({ length: 256 }, (_, value) => {
    const light = (value / 255) ** (1 / gamma)
    return Math.round(255 * (light <= 0.0031308 ? 12.92 * light : 1.055 * light ** (1 / 2.4) - 0.055))
  })
  const { data, channels } = pixels
  for (let i = 0; i < data.length; i++) if (channels === 1 || (i & 3) !== 3) data[i] = table[data[i]]
  return true
}
