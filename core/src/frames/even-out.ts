import type { PaintReading } from '../brush/recipe.ts'
import { meanOverAreas, scaledAxis } from '../raster/area.ts'
import { createPixels, type Pixels, toRgba } from '../raster/pixels.ts'
import { type FrameFacts, measureFrame, medianOf } from './measure-frames.ts'

/** What is evened out, each on its own. */
export type EvenOut = { size: boolean; align: 'no' | 'centres' | 'base lines'; tone: boolean }

/** Clear rows and columns around marks on their common canvas, px. */
const MARGIN_PX = 1

/**
 * Makes frames alike: marks of one size, on one canvas by their middles or base lines, of one tone and contrast, each towards
 * the median of all. Frames that paint nothing stay as they are, on the common canvas.
 */
export function evenOut(frames: readonly Pixels[], reading: PaintReading, wish: EvenOut): Pixels[] {
  const before = frames.map((frame) => measureFrame(frame, reading))
  const sized = wish.size
    ? frames.map((frame, i) => toSize(frame, before[i], medianOf(before.map(({ size }) => size))))
    : [...frames]
  const toned = wish.tone ? matchTones(sized, reading) : sized
  return wish.align === 'no' ? toned : align(toned, reading, wish.align)
}

/** Scales a frame so that its mark gets a size: by exact means down, bilinearly up. */
function toSize(frame: Pixels, { size }: FrameFacts, wanted: number): Pixels {
  const scale = size === 0 ? 1 : wanted / size
  if (Math.abs(scale - 1) < 0.01) return frame
  const width = Math.max(1, Math.round(frame.width * scale))
  const height = Math.max(1, Math.round(frame.height * scale))
  return fromPremultiplied(scaled(toPremultiplied(frame), width, height), frame.channels)
}

type Field = { width: number; height: number; channels: number; data: Float32Array }

function scaled(field: Field, width: number, height: number): Field {
  if (width <= field.width && height <= field.height)
    return {
      ...field,
      width,
      height,
      data: meanOverAreas(field, scaledAxis(field.width, width), scaledAxis(field.height, height)),
    }
  const out = new Float32Array(width * height * field.channels)
  for (let y = 0, o = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      for (let c = 0; c < field.channels; c++, o++)
        out[o] = bilinear(field, ((x + 0.5) * field.width) / width - 0.5, ((y + 0.5) * field.height) / height - 0.5, c)
  return { ...field, width, height, data: out }
}

function bilinear({ width, height, channels, data }: Field, x: number, y: number, c: number): number {
  const x0 = Math.max(0, Math.floor(x))
  const y0 = Math.max(0, Math.floor(y))
  const x1 = Math.min(width - 1, x0 + 1)
  const y1 = Math.min(height - 1, y0 + 1)
  const [fx, fy] = [Math.max(0, x - x0), Math.max(0, y - y0)]
  const at = (px: number, py: number) => data[(py * width + px) * channels + c]
  const top = at(x0, y0) + (at(x1, y0) - at(x0, y0)) * fx
  return top + (at(x0, y1) + (at(x1, y1) - at(x0, y1)) * fx - top) * fy
}

/** Colours weighed by their alpha, so that clear pixels add none; grey stays grey. */
function toPremultiplied({ width, height, channels, data }: Pixels): Field {
  const out = Float32Array.from(data)
  if (channels === 4) for (let i = 0; i < out.length; i += 4) for (let c = 0; c < 3; c++) out[i + c] *= out[i + 3] / 255
  return { width, height, channels, data: out }
}

function fromPremultiplied({ width, height, data }: Field, channels: 1 | 4): Pixels {
  const out = createPixels(width, height, channels)
  if (channels === 1) for (let i = 0; i < data.length; i++) out.data[i] = Math.round(data[i])
  else
    for (let i = 0; i < data.length; i += 4) {
      const alpha = data[i + 3]
      if (alpha < 0.5) continue
      for (let c = 0; c < 3; c++) out.data[i + c] = Math.min(255, Math.round((data[i + c] * 255) / alpha))
      out.data[i + 3] = Math.min(255, Math.round(alpha))
    }
  return out
}

/** Rounds until tones clipped at black and white have come as near to the others as they can. */
const ROUNDS = 4

/** Brings mean and spread of the tones inside each mark to the median of all. */
function matchTones(frames: readonly Pixels[], reading: PaintReading): Pixels[] {
  const facts = frames.map((frame) => measureFrame(frame, reading))
  const painted = facts.filter(({ box }) => box)
  const tone = medianOf(painted.map((each) => each.tone))
  const contrast = medianOf(painted.map((each) => each.contrast))
  return frames.map((frame, i) => {
    let now = frame
    let { tone: mean, contrast: spread, box } = facts[i]
    for (let round = 0; box && round < ROUNDS; round++) {
      const gain = spread > 0.005 ? Math.min(4, contrast / spread) : 1
      now = shiftTones(now, reading, (light) => tone + (light - mean) * gain)
      const next = measureFrame(now, reading)
      mean = next.tone
      spread = next.contrast
      box = next.box
    }
    return now
  })
}

/** Lightness and paint of a pixel trade places by the reading: dark paints means thin paint is light. */
function shiftTones(frame: Pixels, reading: PaintReading, move: (light: number) => number): Pixels {
  const level = (light: number) => Math.round(255 * Math.min(1, Math.max(0, move(light))))
  const isOwn = reading === 'own' || reading === 'tone'
  const { channels, data } = isOwn || reading === 'alpha' ? toRgba(frame) : frame
  const out: Pixels = { ...frame, channels, data: data.slice() }
  if (isOwn) {
    for (let i = 0; i < data.length; i += 4) {
      if (data[i + 3] === 0) continue
      const light = (54 * data[i] + 183 * data[i + 1] + 19 * data[i + 2]) / 256
      const shift = level(light / 255) - light
      for (let c = 0; c < 3; c++) out.data[i + c] = Math.min(255, Math.max(0, Math.round(data[i + c] + shift)))
    }
    return out
  }
  // paint may not vanish, nor appear where there was none
  const paint = (thick: number) => (thick < MARK_FROM ? thick : Math.max(MARK_FROM, 255 - level(1 - thick / 255)))
  if (reading === 'alpha') for (let i = 3; i < data.length; i += 4) out.data[i] = paint(data[i])
  else if (channels === 1)
    for (let i = 0; i < data.length; i++) out.data[i] = reading === 'dark' ? 255 - paint(255 - data[i]) : paint(data[i])
  else
    for (let i = 0; i < data.length; i += 4)
      for (let c = 0; c < 3; c++)
        out.data[i + c] = reading === 'dark' ? 255 - paint(255 - data[i + c]) : paint(data[i + c])
  return out
}
const MARK_FROM = 12

/** Lays all marks on canvases of one size, by their middles or by the lower ends of their boxes. */
function align(frames: readonly Pixels[], reading: PaintReading, by: 'centres' | 'base lines'): Pixels[] {
  const boxes = frames.map(
    (frame) => measureFrame(frame, reading).box ?? { left: 0, top: 0, right: frame.width, bottom: frame.height },
  )
  const width = Math.max(...boxes.map(({ left, right }) => right - left)) + 2 * MARGIN_PX
  const height = Math.max(...boxes.map(({ top, bottom }) => bottom - top)) + 2 * MARGIN_PX
  return frames.map((frame, i) => {
    const { left, top, right, bottom } = boxes[i]
    const x = Math.floor((width - (right - left)) / 2)
    const y = by === 'centres' ? Math.floor((height - (bottom - top)) / 2) : height - MARGIN_PX - (bottom - top)
    return placed(frame, { left, top, right, bottom }, { x, y, width, height, ground: groundOf(reading) })
  })
}

/** What a one-channel picture has where nothing paints. */
const groundOf = (reading: PaintReading) => (reading === 'dark' ? 255 : 0)

type Box = { left: number; top: number; right: number; bottom: number }
type To = { x: number; y: number; width: number; height: number; ground: number }

function placed(frame: Pixels, { left, top, right, bottom }: Box, { x, y, width, height, ground }: To): Pixels {
  const { channels } = frame
  const out = createPixels(width, height, channels)
  // opaque colours that are read by their darkness need their ground, too
  if (channels === 1) out.data.fill(ground)
  for (let row = top; row < bottom; row++) {
    const from = (row * frame.width + left) * channels
    out.data.set(frame.data.subarray(from, from + (right - left) * channels), ((y + row - top) * width + x) * channels)
  }
  return out
}
