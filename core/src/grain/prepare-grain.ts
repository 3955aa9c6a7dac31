import type { Grain } from '../brush/recipe.ts'
import { toGreyOnPaper } from '../raster/grey.ts'
import type { Pixels } from '../raster/pixels.ts'

/** One prefiltered size of a tile: weights 0…255 with one more column and row, which repeat the first ones. */
export type GrainLevel = { width: number; height: number; stride: number; data: Uint8Array }

/** A grain ready to weigh marks: level k is about the tile halved k times, and repeats as the tile does. */
export type PreparedGrain = { width: number; height: number; levels: GrainLevel[] }

type Tones = Pick<Grain, 'strength' | 'brightness' | 'contrast'>

/**
 * Reads a picture as grain: light takes paint, dark holds it off. Brightness and contrast come first, then strength:
 * a weight is 1 − strength · (1 − g). Whatever lies beyond the picture is the picture again.
 */
export function prepareGrain(pixels: Pixels, tones: Tones): PreparedGrain {
  const { width, height } = pixels
  const weights = Float64Array.from(toGreyOnPaper(pixels), (grey) => 255 * weightOf(grey / 255, tones))
  const levels: GrainLevel[] = []
  let [w, h, last] = [width, height, weights]
  for (let k = 0; ; k++) {
    levels.push(addWrappedBorder(last, w, h))
    if (w === 1 && h === 1) return { width, height, levels }
    const [nextW, nextH] = [
      Math.max(1, Math.round(width / 2 ** (k + 1))),
      Math.max(1, Math.round(height / 2 ** (k + 1))),
    ]
    last = shrinkRows(transpose(shrinkRows(last, w, h, nextW), nextW, h), h, nextW, nextH)
    last = transpose(last, nextH, nextW)
    ;[w, h] = [nextW, nextH]
  }
}

/** The weight of a grey 0…1: brightness adds, contrast turns about the middle grey. */
export function weightOf(grey: number, { strength, brightness, contrast }: Tones): number {
  const steepness = contrast < 0 ? 1 + contrast : 1 / Math.max(1 - contrast, 1 / 255)
  const g = Math.min(1, Math.max(0, (grey + brightness - 0.5) * steepness + 0.5))
  return 1 - strength * (1 - g)
}

/** Each row resampled to `to` columns by the exact mean over the width that a new column covers. */
function shrinkRows(data: Float64Array, width: number, height: number, to: number): Float64Array<ArrayBuffer> {
  const out = new Float64Array(to * height)
  const span = width / to
  for (let x = 0; x < to; x++) {
    const [start, end] = [x * span, (x + 1) * span]
    for (let y = 0; y < height; y++) {
      let sum = 0
      for (let i = Math.floor(start); i < end; i++) {
        sum += data[y * width + Math.min(i, width - 1)] * (Math.min(end, i + 1) - Math.max(start, i))
      }
      out[y * to + x] = sum / span
    }
  }
  return out
}

function transpose(data: Float64Array, width: number, height: number): Float64Array<ArrayBuffer> {
  const out = new Float64Array(data.length)
  for (let y = 0; y < height; y++) for (let x = 0; x < width; x++) out[x * height + y] = data[y * width + x]
  return out
}

function addWrappedBorder(weights: Float64Array, width: number, height: number): GrainLevel {
  const stride = width + 1
  const data = new Uint8Array(stride * (height + 1))
  for (let y = 0; y <= height; y++) {
    const row = (y % height) * width
    for (let x = 0; x <= width; x++) data[y * stride + x] = Math.round(weights[row + (x % width)])
  }
  return { width, height, stride, data }
}
