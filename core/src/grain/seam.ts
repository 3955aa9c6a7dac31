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
  const inside = insideSteps(grey, width, height)
  return {
    across: ratio(
      meanStep(height, (y) => grey[y * width] - grey[y * width + width - 1]),
      inside.across,
    ),
    down: ratio(
      meanStep(width, (x) => grey[x] - grey[(height - 1) * width + x]),
      inside.down,
    ),
  }
}

/** The mean absolute steps between neighbours, row by row as they lie in memory. */
function insideSteps(grey: Uint8Array, width: number, height: number): Seam {
  let [across, down] = [0, 0]
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      if (x > 0) across += Math.abs(grey[i] - grey[i - 1])
      if (y > 0) down += Math.abs(grey[i] - grey[i - width])
    }
  }
  return {
    across: width < 2 ? 0 : across / (height * (width - 1)),
    down: height < 2 ? 0 : down / (width * (height - 1)),
  }
}

function meanStep(count: number, step: (i: number) => number): number {
  let sum = 0
  for (let i = 0; i < count; i++) sum += Math.abs(step(i))
  return sum / count
}

const ratio = (wrap: number, inside: number) =>
  wrap === 0 ? (inside === 0 ? 1 : 0) : Math.min(SEAM_MAX, inside === 0 ? SEAM_MAX : wrap / inside)
