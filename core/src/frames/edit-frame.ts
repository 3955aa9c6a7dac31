import * as v from 'valibot'
import { toCoverage } from '../brush/coverage.ts'
import type { PaintReading } from '../brush/recipe.ts'
import { numberIn, type Rows, shareRow, usualOf } from '../number-row.ts'
import { oklabToRgb, rgbToOklab } from '../raster/oklab.ts'
import { createPixels, type Pixels } from '../raster/pixels.ts'
import { scalePixels } from '../raster/scale.ts'
import { measureFrame } from './measure-frames.ts'

export const EDIT_NUMBERS = {
  scale: shareRow('Size', { from: 0.1, to: 4, eased: true }),
  strength: shareRow('Paint', { from: 0.1, to: 4, eased: true }),
  hueDeg: { label: 'Hue', unit: '°', from: -180, to: 180, usual: 0 },
} satisfies Rows

/** What of one frame is changed beside the others. */
export const FrameEdit = v.strictObject({
  /** How large its mark becomes, of what it is. */
  scale: numberIn(EDIT_NUMBERS.scale),
  /** How far its colours are turned on the ring of hues, degrees; of paint alone nothing is to be turned. */
  hueDeg: numberIn(EDIT_NUMBERS.hueDeg),
  /** How much it paints, of what it does. */
  strength: numberIn(EDIT_NUMBERS.strength),
})
export type FrameEdit = v.InferOutput<typeof FrameEdit>

export const NO_EDIT: FrameEdit = usualOf(EDIT_NUMBERS)

/** Changes one frame. Its canvas stays, unless the mark becomes larger than it. */
export function editFrame(frame: Pixels, reading: PaintReading, { scale, hueDeg, strength }: FrameEdit): Pixels {
  const sized = scale === 1 ? frame : scaleMark(frame, reading, scale)
  const isColour = sized.channels === 4 && (reading === 'own' || reading === 'tone')
  const turned = hueDeg !== 0 && isColour ? turnHue(sized, hueDeg) : sized
  return strength === 1 ? turned : strengthen(turned, reading, strength)
}

function scaleMark(frame: Pixels, reading: PaintReading, scale: number): Pixels {
  const scaled = scalePixels(frame, scale)
  const box = measureFrame(scaled, reading).box
  if (!box) return frame
  const { width, height, channels } = frame
  // as far beside the middle as before
  const left = Math.round((width - scaled.width) / 2)
  const top = Math.round((height - scaled.height) / 2)
  const fits = box.left + left >= 0 && box.top + top >= 0 && box.right + left <= width && box.bottom + top <= height
  if (!fits) return scaled
  const out = createPixels(width, height, channels)
  const clear = groundOf(frame, reading)
  for (let i = 0; i < out.data.length; i++) out.data[i] = clear[i % channels]
  for (let y = box.top; y < box.bottom; y++) {
    const from = (y * scaled.width + box.left) * channels
    out.data.set(
      scaled.data.subarray(from, from + (box.right - box.left) * channels),
      ((y + top) * width + box.left + left) * channels,
    )
  }
  return out
}

/** What a pixel has where nothing paints. */
function groundOf({ channels }: Pixels, reading: PaintReading): readonly number[] {
  if (channels === 1) return [reading === 'dark' ? 255 : 0]
  return [0, 0, 0, 0]
}

/** Turns hues and keeps how light and how colourful each pixel is to the eye (OKLab). */
function turnHue(frame: Pixels, degrees: number): Pixels {
  const data = frame.data.slice()
  const turn = (degrees * Math.PI) / 180
  const [cos, sin] = [Math.cos(turn), Math.sin(turn)]
  for (let i = 0; i < data.length; i += 4) {
    if (data[i + 3] === 0) continue
    const { L, a, b } = rgbToOklab({ r: data[i], g: data[i + 1], b: data[i + 2] })
    const { r, g, b: blue } = oklabToRgb({ L, a: a * cos - b * sin, b: a * sin + b * cos })
    data[i] = Math.round(r)
    data[i + 1] = Math.round(g)
    data[i + 2] = Math.round(blue)
  }
  return { ...frame, data }
}

/**
 * More or less paint. What is read by its darkness or lightness becomes grey, since opaque colours have no alpha to give
 * more of.
 */
function strengthen(frame: Pixels, reading: PaintReading, factor: number): Pixels {
  const more = (paint: number) => Math.min(255, Math.round(paint * factor))
  if (reading === 'dark' || reading === 'light') {
    const paint = toCoverage(frame, reading)
    return { ...paint, data: paint.data.map((level) => (reading === 'dark' ? 255 - more(level) : more(level))) }
  }
  if (frame.channels === 1) return frame
  const data = frame.data.slice()
  for (let i = 3; i < data.length; i += 4) data[i] = more(data[i])
  return { ...frame, data }
}
