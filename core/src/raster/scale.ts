import { checkPictureSize } from '../limits.ts'
import { meanOverAreas, scaledAxis } from './area.ts'
import { createPixels, type Pixels } from './pixels.ts'

/**
 * Scales a picture as a whole: by exact means down, bilinearly up.
 * @throws {LimitError} Before memory is taken, if it would become larger than a picture may be.
 */
export function scalePixels(pixels: Pixels, factor: number): Pixels {
  const width = Math.max(1, Math.round(pixels.width * factor))
  const height = Math.max(1, Math.round(pixels.height * factor))
  checkPictureSize(width, height)
  return fromPremultiplied(scaled(toPremultiplied(pixels), width, height), pixels.channels)
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
