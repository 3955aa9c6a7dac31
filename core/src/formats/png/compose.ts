import { createPixels, type Pixels } from '../../raster/pixels.ts'
import { BLEND, DISPOSE, type PngFrameChunk, type PngHeader } from './layout.ts'

/** Plays frames onto a canvas, one after another. @returns For each frame, what a viewer shows while it lasts. */
export type Player = (frame: PngFrameChunk, pixels: Pixels) => Pixels

/**
 * Plays an animation by its frames' offsets, blend and dispose ops.
 * @see https://www.w3.org/TR/png-3/#fcTL-chunk
 */
export function createPlayer({ width, height }: Pick<PngHeader, 'width' | 'height'>): Player {
  let canvas: Pixels | undefined
  return (frame, pixels) => {
    canvas ??= createPixels(width, height, pixels.channels)
    const before = frame.dispose === DISPOSE.previous ? canvas.data.slice() : undefined
    drawFrame(canvas, pixels, frame.x, frame.y, frame.blend === BLEND.over && pixels.channels === 4)
    const shown = { ...canvas, data: canvas.data.slice() }
    if (before) canvas = { ...canvas, data: before }
    if (frame.dispose === DISPOSE.background) clearRect(canvas, frame)
    return shown
  }
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
