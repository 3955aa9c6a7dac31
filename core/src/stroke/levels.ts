import type { Coverage } from '../brush/coverage.ts'
import { type AxisSamples, everyPixel, meanOverAreas } from '../raster/area.ts'
import { DENSE_BYTES_MAX, LevelStore } from '../raster/level-store.ts'

/**
 * A frame prefiltered for one size, with a border of one empty pixel so that sampling never needs a bounds check. A
 * place x px from the frame's left edge is read at `x · perX + originX` level px from the middle of the border's corner.
 */
export type Level = {
  width: number
  height: number
  stride: number
  data: Uint8Array
  perX: number
  perY: number
  originX: number
  originY: number
}

type Size = { width: number; height: number; channels: 1 | 4 }

/** A frame ready to stamp; colour is premultiplied. */
export type PreparedFrame = Size & {
  /**
   * The level to read at so many canvas px per frame px. Below 1, one bilinear sample of it at the middle of a canvas
   * pixel is the exact mean of what that pixel covers, on whole and on half pixels; from 1 on, it is the frame itself.
   */
  levelFor(scaleX: number, scaleY: number): Level
}

const BORDER = 1
/** A halved frame serves as source while a canvas pixel still covers so many of its pixels: far less to read. */
const SOURCE_PX_PER_CANVAS_PX = 4

/** Makes a frame ready. Frames of one brush share a store, so that all of them together keep within its budget. */
export function prepareFrame(coverage: Coverage, store = new LevelStore<Level>()): PreparedFrame {
  const { width, height, channels } = coverage
  const source = { width, height, channels, data: channels === 4 ? premultiply(coverage.data) : coverage.data }
  const halves: Source[] = [source]
  const own = createLevel(source, { x: nativeAxis(width), y: nativeAxis(height) }, 0)
  const id = store.newId()
  return {
    width,
    height,
    channels,
    levelFor(scaleX, scaleY) {
      if (scaleX >= 1 && scaleY >= 1) return own
      return store.keep(`${id} ${scaleX} ${scaleY}`, () => {
        const octave = octaveFor(Math.max(scaleX, scaleY), Math.max(width, height))
        while (halves.length <= octave) halves.push(halve(halves[halves.length - 1]))
        return createLevel(halves[octave], axesFor(source, scaleX, scaleY), octave)
      })
    },
  }
}

/** The most bytes that one level of a frame takes, of whatever size. */
export function levelBytesMax({ width, height, channels }: Size): number {
  const bytes = (perPx: number) => levelBytes(perPx * width + 1, perPx * height + 1, channels)
  return Math.max(bytes(1), Math.min(bytes(2), DENSE_BYTES_MAX))
}

const levelBytes = (columns: number, rows: number, channels: number) =>
  (columns + 2 * BORDER) * (rows + 2 * BORDER) * channels

type Source = Size & { data: Uint8Array }

/** How one axis of a level samples the frame, in frame px, and where it lies. */
type Axis = AxisSamples & { per: number; origin: number }

/** Array places count from the border, pixels have their middles at halves: +1 − ½. */
const nativeAxis = (length: number): Axis => ({ ...everyPixel(length), per: 1, origin: BORDER - 0.5 })

/** One sample a canvas pixel: the mean of what lies under it when the frame's edge is on the pixel grid. */
function sparseAxis(length: number, scale: number): Axis {
  const step = 1 / scale
  const count = Math.ceil(length * scale)
  return { first: 0, step, window: step, count, wraps: false, per: scale, origin: BORDER - 0.5 }
}

/** Two samples a canvas pixel, on its middle and on its edge, each the mean over the width of a canvas pixel. */
function denseAxis(length: number, scale: number): Axis {
  const step = 1 / (2 * scale)
  const count = Math.ceil(length * 2 * scale) + 1
  return { first: -step, step, window: 2 * step, count, wraps: false, per: 2 * scale, origin: BORDER }
}

function axesFor({ width, height, channels }: Size, scaleX: number, scaleY: number): { x: Axis; y: Axis } {
  const axes = (reduced: typeof denseAxis) => ({
    x: scaleX < 1 ? reduced(width, scaleX) : nativeAxis(width),
    y: scaleY < 1 ? reduced(height, scaleY) : nativeAxis(height),
  })
  const dense = axes(denseAxis)
  return levelBytes(dense.x.count, dense.y.count, channels) <= DENSE_BYTES_MAX ? dense : axes(sparseAxis)
}

/** How often a frame may be halved before it is sampled at a scale. */
function octaveFor(scale: number, side: number): number {
  let octave = 0
  for (let px = 2; px <= side && px * scale * SOURCE_PX_PER_CANVAS_PX <= 1; px *= 2) octave++
  return octave
}

function createLevel(source: Source, { x, y }: { x: Axis; y: Axis }, octave: number): Level {
  const { channels } = source
  const stride = x.count + 2 * BORDER
  const data = new Uint8Array(levelBytes(x.count, y.count, channels))
  const means = meanOverAreas(source, inOctave(x, octave), inOctave(y, octave))
  const row = x.count * channels
  for (let j = 0, i = 0; j < y.count; j++) {
    const o = ((j + BORDER) * stride + BORDER) * channels
    for (let k = 0; k < row; k++, i++) data[o + k] = means[i] + 0.5
  }
  const [perX, perY, originX, originY] = [x.per, y.per, x.origin, y.origin]
  return { width: x.count, height: y.count, stride, data, perX, perY, originX, originY }
}

const inOctave = (axis: Axis, octave: number): AxisSamples => {
  const px = 2 ** octave
  return { ...axis, first: axis.first / px, step: axis.step / px, window: axis.window / px }
}

/** Means of 2 × 2. Odd sizes round up; the missing half counts as empty, which is what lies outside a tip anyway. */
function halve(from: Source): Source {
  const [width, height] = [Math.ceil(from.width / 2), Math.ceil(from.height / 2)]
  const axis = (count: number) => ({ first: 0, step: 2, window: 2, count, wraps: false })
  const means = meanOverAreas(from, axis(width), axis(height))
  return { width, height, channels: from.channels, data: Uint8Array.from(means, (mean) => mean + 0.5) }
}

function premultiply(data: Uint8Array): Uint8Array {
  const out = new Uint8Array(data.length)
  for (let i = 0; i < data.length; i += 4) {
    const alpha = data[i + 3]
    for (let c = 0; c < 3; c++) out[i + c] = Math.round((data[i + c] * alpha) / 255)
    out[i + 3] = alpha
  }
  return out
}
