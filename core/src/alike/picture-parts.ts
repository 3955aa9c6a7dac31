import type { PaintReading } from '../brush/recipe.ts'
import { toLuma } from '../raster/luma.ts'
import type { Pixels } from '../raster/pixels.ts'

/** A part of a picture, in whole px. */
export type Part = { left: number; top: number; width: number; height: number }

/**
 * A part of a picture at a size at which it is quick to look at: each of its pixels is the mean of `scale` x `scale` of
 * the source. `paint` is how much of the chosen colour a mask lays there, or else the alpha, 0…1; `rgb` is there for own
 * colours, 0…255 times alpha, three numbers a pixel.
 */
export type Reduced = {
  width: number
  height: number
  scale: number
  paint: Float32Array
  rgb: Float32Array | undefined
}

/** What is cut out by its alpha may be more than a silhouette: then its greys are looked at too. */
const paintsOwnColours = (pixels: Pixels, reading: PaintReading) =>
  pixels.channels === 4 && (reading === 'own' || reading === 'tone' || (reading === 'alpha' && hasTones(pixels)))

const ONE_TONE_LEVELS = 24
const VISIBLE_ALPHA = 32

function hasTones({ data }: Pixels): boolean {
  let [low, high] = [255, 0]
  for (let p = 0; p < data.length; p += 4) {
    if (data[p + 3] < VISIBLE_ALPHA) continue
    const luma = toLuma(data[p], data[p + 1], data[p + 2])
    if (luma < low) low = luma
    if (luma > high) high = luma
    if (high - low > ONE_TONE_LEVELS) return true
  }
  return false
}

/** Reduces a part by a whole factor, so that its longer side is below twice `sidePx`. */
export function reducePart(pixels: Pixels, reading: PaintReading, part: Part, sidePx: number): Reduced {
  const scale = Math.max(1, Math.floor(Math.max(part.width, part.height) / sidePx))
  const width = Math.ceil(part.width / scale)
  const height = Math.ceil(part.height / scale)
  const paint = new Float32Array(width * height)
  const rgb = paintsOwnColours(pixels, reading) ? new Float32Array(3 * width * height) : undefined
  const row = new Float64Array(4 * width)
  for (let y = 0; y < height; y++) {
    row.fill(0)
    const bottom = Math.min(part.height, (y + 1) * scale)
    for (let sy = y * scale; sy < bottom; sy++) {
      const from = (part.top + sy) * pixels.width + part.left
      if (rgb) addColours(pixels.data, row, from, part.width, scale)
      else addPaint(pixels, reading, row, from, part.width, scale)
    }
    const rows = bottom - y * scale
    for (let x = 0; x < width; x++) {
      const count = rows * (Math.min(part.width, (x + 1) * scale) - x * scale)
      const i = y * width + x
      if (!rgb) paint[i] = row[x] / (255 * count)
      else {
        paint[i] = row[4 * x + 3] / (255 * count)
        for (let c = 0; c < 3; c++) rgb[3 * i + c] = row[4 * x + c] / (255 * count)
      }
    }
  }
  return { width, height, scale, paint, rgb }
}

/** Adds a row's paint, each px to the cell it lies in. */
function addPaint(
  { channels, data }: Pixels,
  reading: PaintReading,
  row: Float64Array,
  from: number,
  width: number,
  scale: number,
): void {
  for (let x = 0, cell = 0; x < width; x += scale, cell++) {
    const end = from + Math.min(width, x + scale)
    let sum = 0
    if (channels === 1) {
      for (let i = from + x; i < end; i++) sum += data[i]
      // The darkness of greys: what is left of white.
      if (reading !== 'light') sum = 255 * (end - from - x) - sum
    } else for (let i = from + x; i < end; i++) sum += paintOfColour(data, 4 * i, reading)
    row[cell] += sum
  }
}

function paintOfColour(data: Uint8Array, p: number, reading: PaintReading): number {
  if (reading === 'alpha') return data[p + 3]
  const luma = toLuma(data[p], data[p + 1], data[p + 2])
  return ((reading === 'light' ? luma : 255 - luma) * data[p + 3]) / 255
}

/** Sums of colour times alpha stay whole numbers, in 255ths: they fit 32 bits times the square of any scale in doubles. */
function addColours(data: Uint8Array, row: Float64Array, from: number, width: number, scale: number): void {
  let p = 4 * from
  for (let x = 0, o = 0; x < width; x += scale, o += 4) {
    let [red, green, blue, alpha] = [0, 0, 0, 0]
    for (const end = 4 * (from + Math.min(width, x + scale)); p < end; p += 4) {
      const share = data[p + 3]
      if (share === 0) continue
      red += data[p] * share
      green += data[p + 1] * share
      blue += data[p + 2] * share
      alpha += share
    }
    row[o] += red
    row[o + 1] += green
    row[o + 2] += blue
    row[o + 3] += alpha
  }
}
