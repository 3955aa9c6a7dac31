import type { PaintReading } from '../brush/recipe.ts'
import { createPixels, type Pixels, toRgba } from '../raster/pixels.ts'
import { scalePixels } from '../raster/scale.ts'
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

/** Scales a frame so that its mark gets a size. */
function toSize(frame: Pixels, { size }: FrameFacts, wanted: number): Pixels {
  const scale = size === 0 ? 1 : wanted / size
  return Math.abs(scale - 1) < 0.01 ? frame : scalePixels(frame, scale)
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
