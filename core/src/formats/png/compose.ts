import { createPixels, type Pixels } from '../../raster/pixels.ts'
import { BLEND, DISPOSE, type PngParts } from './layout.ts'

/**
 * Plays the frames onto the canvas by their offsets, blend and dispose ops; what comes back is what a viewer shows.
 * @param decoded The frames' own pixels, in order, all of the same channel count.
 * @see https://www.w3.org/TR/png-3/#fcTL-chunk
 */
export function composeFrames({ header, frames }: PngParts, decoded: readonly Pixels[]): Pixels[] {
  const channels = decoded[0].channels
  let canvas = createPixels(header.width, header.height, channels)
  return frames.map((frame, i) => {
    const before = frame.dispose === DISPOSE.previous ? canvas.data.slice() : undefined
    drawFrame(canvas, decoded[i], frame.x, frame.y, frame.blend === BLEND.over && channels === 4)
    const shown = { ...canvas, data: canvas.data.slice() }
    if (before) canvas = { ...canvas, data: before }
    if (frame.dispose === DISPOSE.background) clearRect(canvas, frame)
    return shown
  })
}

function drawFrame(canvas: Pixels, frame: Pixels, x: number, y: number, over: boolean): void {
  const { channels } = canvas
  for (let row = 0; row < frame.height; row++) {
    const from = row * frame.width * channels
    const to = ((y + row) * canvas.width + x) * channels
    if (!over) canvas.data.set(frame.data.subarray(from, from + frame.width * channels), to)
    else for (let i = 0; i < frame.width * 4; i += 4) blendOver(canvas.data, to + i, frame.data, from + i)
  }
}

/** Source-over of straight RGBA. */
function blendOver(to: Uint8Array, o: number, from: Uint8Array, i: number): void {
  const source = from[i + 3] / 255
  const below = (to[o + 3] / 255) * (1 - source)
  const alpha = source + below
  if (alpha === 0) return
  for (let c = 0; c < 3; c++) to[o + c] = Math.round((from[i + c] * source + to[o + c] * below) / alpha)
  to[o + 3] = Math.round(alpha * 255)
}

function clearRect(canvas: Pixels, rect: { x: number; y: number; width: number; height: number }): void {
  const { channels, width, data } = canvas
  for (let row = rect.y; row < rect.y + rect.height; row++) {
    const start = (row * width + rect.x) * channels
    data.fill(0, start, start + rect.width * channels)
  }
}
