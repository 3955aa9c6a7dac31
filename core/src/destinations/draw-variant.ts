import type { Recipe } from '../brush/recipe.ts'
import { type ColourShift, shiftRgb } from '../raster/hsv.ts'
import { createPixels, type Pixels, toRgba } from '../raster/pixels.ts'
import { groundOf } from './fit-state.ts'

/**
 * One draw of all that varies: factors of size and squash, a turn, a factor of paint, a change of colour, and how far it is
 * thrown along the path and across it, in widths of the picture.
 */
export type Variant = {
  size: number
  turnDeg: number
  squash: number
  paint: number
  shift: ColourShift
  dx: number
  dy: number
}

export const PLAIN_VARIANT: Variant = {
  size: 1,
  turnDeg: 0,
  squash: 1,
  paint: 1,
  dx: 0,
  dy: 0,
  shift: { hueDeg: 0, saturationPts: 0, valuePts: 0 },
}

/** One change within another: what is thrown is turned and sized along. */
export function together(outer: Variant, inner: Variant): Variant {
  const { cos, sin } = turnOf(outer)
  return {
    size: outer.size * inner.size,
    turnDeg: outer.turnDeg + inner.turnDeg,
    squash: outer.squash * inner.squash,
    paint: outer.paint * inner.paint,
    shift: {
      hueDeg: outer.shift.hueDeg + inner.shift.hueDeg,
      saturationPts: outer.shift.saturationPts + inner.shift.saturationPts,
      valuePts: outer.shift.valuePts + inner.shift.valuePts,
    },
    dx: outer.dx + outer.size * (inner.dx * cos - inner.dy * sin),
    dy: outer.dy + outer.size * (inner.dx * sin + inner.dy * cos),
  }
}

const turnOf = ({ turnDeg }: Variant) => {
  const turn = (turnDeg * Math.PI) / 180
  return { cos: Math.cos(turn), sin: Math.sin(turn) }
}

type Size = { width: number; height: number }

/** How far marks reach from the middle of their canvas, px. */
export function reachOf({ width, height }: Size, marks: readonly Variant[], scale: number): Size {
  let [across, down] = [0, 0]
  for (const { size, turnDeg, dx, dy } of marks) {
    const half = (scale * size * Math.hypot(width, height)) / 2
    const isTurned = turnDeg !== 0
    across = Math.max(across, Math.abs(dx) * width * scale + (isTurned ? half : (scale * size * width) / 2))
    down = Math.max(down, Math.abs(dy) * width * scale + (isTurned ? half : (scale * size * height) / 2))
  }
  return { width: across, height: down }
}

/** Samples a side within one new pixel: enough for marks drawn at a third of their size. */
const SAMPLES = 3

/**
 * Draws a picture as draws of its variation show it, one mark over the other, about the middle of a canvas.
 * @param scale px of the canvas per px of the picture, before a variant's own size.
 */
export function drawVariants(
  frame: Pixels,
  marks: readonly Variant[],
  { width, height }: Size,
  scale: number,
  recipe: Recipe,
): Pixels {
  const ground = groundOf(recipe)
  const from = ground === undefined ? toRgba(frame) : frame
  const out = createPixels(width, height, from.channels)
  if (ground !== undefined) out.data.fill(ground)
  for (const mark of marks) drawMark(out, from, mark, scale, ground)
  return out
}

function drawMark(out: Pixels, from: Pixels, mark: Variant, scale: number, ground: number | undefined): void {
  const { channels, width, height } = out
  const { size, squash } = mark
  const { cos, sin } = turnOf(mark)
  const [scaleX, scaleY] = [scale * size, scale * size * squash]
  const [x0, y0] = [width / 2 + mark.dx * from.width * scale, height / 2 + mark.dy * from.width * scale]
  const reach = (scaleX * Math.hypot(from.width, from.height)) / 2 + 1
  const [top, bottom] = [Math.max(0, Math.floor(y0 - reach)), Math.min(height, Math.ceil(y0 + reach))]
  const [left, right] = [Math.max(0, Math.floor(x0 - reach)), Math.min(width, Math.ceil(x0 + reach))]
  const sums = new Float64Array(4)
  for (let y = top; y < bottom; y++)
    for (let x = left; x < right; x++) {
      sums.fill(0)
      for (let k = 0; k < SAMPLES * SAMPLES; k++) {
        const dx = x + ((k % SAMPLES) + 0.5) / SAMPLES - x0
        const dy = y + (Math.floor(k / SAMPLES) + 0.5) / SAMPLES - y0
        const sx = (dx * cos + dy * sin) / scaleX + from.width / 2
        const sy = (dy * cos - dx * sin) / scaleY + from.height / 2
        addSample(from, sx, sy, ground, sums)
      }
      writePixel(out.data, (y * width + x) * channels, sums, mark, ground)
    }
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

/** Lays a pixel of a mark over what is there: paint covers paint, colours lie over colours. */
function writePixel(
  data: Uint8Array,
  o: number,
  sums: Float64Array,
  { paint, shift }: Variant,
  ground: number | undefined,
): void {
  const count = SAMPLES * SAMPLES
  const share = Math.min(1, paint)
  if (ground !== undefined) {
    const grey = ground + (sums[0] / count - ground) * share
    data[o] = Math.round(ground === 0 ? 255 - ((255 - data[o]) * (255 - grey)) / 255 : (data[o] * grey) / 255)
    return
  }
  const alpha = (sums[3] / count / 255) * share
  if (alpha < 0.002) return
  const unit = 255 / sums[3]
  const { r, g, b } = shiftRgb({ r: sums[0] * unit, g: sums[1] * unit, b: sums[2] * unit }, shift)
  const below = (data[o + 3] / 255) * (1 - alpha)
  const all = alpha + below
  for (const [c, value] of [r, g, b].entries())
    data[o + c] = Math.round(Math.min(255, (value * alpha + data[o + c] * below) / all))
  data[o + 3] = Math.round(255 * all)
}
