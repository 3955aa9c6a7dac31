import type { Recipe } from '../brush/recipe.ts'
import { type ColourShift, shiftRgb } from '../raster/hsv.ts'
import { createPixels, type Pixels, toRgba } from '../raster/pixels.ts'
import { groundOf } from './fit-state.ts'

/** One draw of all that varies: factors of size and squash, a turn, a factor of paint, a change of colour. */
export type Variant = { size: number; turnDeg: number; squash: number; paint: number; shift: ColourShift }

export const PLAIN_VARIANT: Variant = {
  ...{ size: 1, turnDeg: 0, squash: 1, paint: 1 },
  shift: { hueDeg: 0, saturationPts: 0, valuePts: 0 },
}

/** One change after the other. */
export const together = (one: Variant, other: Variant): Variant => ({
  size: one.size * other.size,
  turnDeg: one.turnDeg + other.turnDeg,
  squash: one.squash * other.squash,
  paint: one.paint * other.paint,
  shift: {
    hueDeg: one.shift.hueDeg + other.shift.hueDeg,
    saturationPts: one.shift.saturationPts + other.shift.saturationPts,
    valuePts: one.shift.valuePts + other.shift.valuePts,
  },
})

/** Samples a side within one new pixel: enough for marks drawn at a third of their size. */
const SAMPLES = 3

/**
 * Draws a picture as one draw of its variation shows it, in the middle of a canvas.
 * @param scale px of the canvas per px of the picture, before the variant's own size.
 */
export function drawVariant(
  frame: Pixels,
  { size, turnDeg, squash, paint, shift }: Variant,
  { width, height }: { width: number; height: number },
  scale: number,
  recipe: Recipe,
): Pixels {
  const ground = groundOf(recipe)
  const from = ground === undefined ? toRgba(frame) : frame
  const { channels } = from
  const out = createPixels(width, height, channels)
  const turn = (turnDeg * Math.PI) / 180
  const [cos, sin] = [Math.cos(turn), Math.sin(turn)]
  const [scaleX, scaleY] = [scale * size, scale * size * squash]
  const sums = new Float64Array(4)
  for (let y = 0, o = 0; y < height; y++)
    for (let x = 0; x < width; x++, o += channels) {
      sums.fill(0)
      for (let k = 0; k < SAMPLES * SAMPLES; k++) {
        const dx = x + ((k % SAMPLES) + 0.5) / SAMPLES - width / 2
        const dy = y + (Math.floor(k / SAMPLES) + 0.5) / SAMPLES - height / 2
        const sx = (dx * cos + dy * sin) / scaleX + from.width / 2
        const sy = (dy * cos - dx * sin) / scaleY + from.height / 2
        addSample(from, sx, sy, ground, sums)
      }
      writePixel(out.data, o, sums, { paint, shift, ground })
    }
  return out
}

/** Adds a bilinear sample: a grey, or premultiplied colours and alpha; beyond the border lies the ground. */
function addSample(
  { width, height, channels, data }: Pixels,
  x: number,
  y: number,
  ground: number | undefined,
  sums: Float64Array,
): void {
  const [left, top] = [Math.floor(x - 0.5), Math.floor(y - 0.5)]
  const [fx, fy] = [x - 0.5 - left, y - 0.5 - top]
  for (let k = 0; k < 4; k++) {
    const [px, py] = [left + (k & 1), top + (k >> 1)]
    const weight = (k & 1 ? fx : 1 - fx) * (k >> 1 ? fy : 1 - fy)
    if (px < 0 || py < 0 || px >= width || py >= height) {
      sums[0] += weight * (ground ?? 0)
      continue
    }
    const i = (py * width + px) * channels
    if (channels === 1) sums[0] += weight * data[i]
    else {
      const alpha = weight * data[i + 3]
      for (let c = 0; c < 3; c++) sums[c] += (alpha * data[i + c]) / 255
      sums[3] += alpha
    }
  }
}

type Writing = { paint: number; shift: ColourShift; ground: number | undefined }

function writePixel(data: Uint8Array, o: number, sums: Float64Array, { paint, shift, ground }: Writing): void {
  const count = SAMPLES * SAMPLES
  if (ground !== undefined) {
    const grey = sums[0] / count
    data[o] = Math.round(ground + (grey - ground) * Math.min(1, paint))
    return
  }
  const alpha = sums[3] / count
  if (alpha < 0.5) return
  const unit = 255 / sums[3]
  const { r, g, b } = shiftRgb({ r: sums[0] * unit, g: sums[1] * unit, b: sums[2] * unit }, shift)
  data[o] = Math.round(Math.min(255, r))
  data[o + 1] = Math.round(Math.min(255, g))
  data[o + 2] = Math.round(Math.min(255, b))
  data[o + 3] = Math.round(alpha * Math.min(1, paint))
}
