import { toGreyOnPaper } from '../raster/grey.ts'
import type { Pixels } from '../raster/pixels.ts'

/** How a picture meets itself when it repeats, across and down: 1 is seamless, above about 1.5 visible. */
export type Seam = { across: number; down: number }

/** Above this a seam shows; common practice, no source. */
export const SEAM_VISIBLE = 1.5
/** A wholly flat picture with a step at its border has no measure to divide by; it counts as this. */
const SEAM_MAX = 999

/** The mean absolute step across the wrap over the mean absolute step between neighbours inside. */
export function measureSeam(pixels: Pixels): Seam {
  const { width, height } = pixels
  const grey = toGreyOnPaper(pixels)
  return {
    across: ratio(
      meanStep(height, (y) => grey[y * width] - grey[y * width + width - 1]),
      insideStep(grey, { count: width, step: 1, lines: height, lineStep: width }),
    ),
    down: ratio(
      meanStep(width, (x) => grey[x] - grey[(height - 1) * width + x]),
      insideStep(grey, { count: height, step: width, lines: width, lineStep: 1 }),
    ),
  }
}

type Lines = { count: number; step: number; lines: number; lineStep: number }

function insideStep(grey: Uint8Array, { count, step, lines, lineStep }: Lines): number {
  if (count < 2) return 0
  let sum = 0
  for (let line = 0; line < lines; line++) {
    for (let i = 1, at = line * lineStep; i < count; i++, at += step) sum += Math.abs(grey[at + step] - grey[at])
  }
  return sum / (lines * (count - 1))
}

function meanStep(count: number, step: (i: number) => number): number {
  let sum = 0
  for (let i = 0; i < count; i++) sum += Math.abs(step(i))
  return sum / count
}

const ratio = (wrap: number, inside: number) =>
  wrap === 0 ? (inside === 0 ? 1 : 0) : Math.min(SEAM_MAX, inside === 0 ? SEAM_MAX : wrap / inside)
