/** One channel of a picture, 0…255, rows from the top. */
export type Plane = { width: number; height: number; data: Float32Array }

const RADIUS = 5
const SIGMA = 1.5
const C1 = (0.01 * 255) ** 2
const C2 = (0.03 * 255) ** 2

/** The weights of a gaussian window of 11, which add up to 1. */
const WINDOW = (() => {
  const weights = Float64Array.from({ length: 2 * RADIUS + 1 }, (_, i) =>
    Math.exp(-((i - RADIUS) ** 2) / (2 * SIGMA ** 2)),
  )
  const sum = weights.reduce((all, weight) => all + weight, 0)
  return weights.map((weight) => weight / sum)
})()

/** The side below which a plane holds no whole window, px. */
export const SSIM_LEAST_PX = 2 * RADIUS + 1

/** A plane with its means and mean squares over every whole window: one of them may be compared with many others. */
export type Windowed = Plane & { means: Float64Array; meanSquares: Float64Array }

/** @throws {RangeError} If it holds no whole window. */
export function toWindowed(plane: Plane): Windowed {
  const { width, height, data } = plane
  if (width < SSIM_LEAST_PX || height < SSIM_LEAST_PX) throw new RangeError('planes that hold a window')
  return {
    ...plane,
    means: overWindows(data, width, height),
    meanSquares: overWindows(
      data.map((value) => value * value),
      width,
      height,
    ),
  }
}

/**
 * Structural similarity of every whole window of 11 x 11 px, gaussian with sigma 1.5.
 * @returns A plane smaller by 10 px each way; 1 where both are the same.
 * @throws {RangeError} If the planes differ in size.
 * @see Wang, Bovik, Sheikh and Simoncelli, "Image quality assessment: from error visibility to structural similarity", 2004.
 */
export function ssimMap(a: Windowed, b: Windowed): Plane {
  const { width, height } = a
  if (width !== b.width || height !== b.height) throw new RangeError('two planes of one size')
  const meanProducts = overWindows(
    a.data.map((value, i) => value * b.data[i]),
    width,
    height,
  )
  const out = new Float32Array(a.means.length)
  for (let i = 0; i < out.length; i++) {
    const [x, y] = [a.means[i], b.means[i]]
    const varianceA = a.meanSquares[i] - x * x
    const varianceB = b.meanSquares[i] - y * y
    const covariance = meanProducts[i] - x * y
    out[i] = ((2 * x * y + C1) * (2 * covariance + C2)) / ((x * x + y * y + C1) * (varianceA + varianceB + C2))
  }
  return { width: width - 2 * RADIUS, height: height - 2 * RADIUS, data: out }
}

/**
 * The weighted mean over every whole window: first along rows, then down columns. The window is the same both ways, so
 * two samples share a weight; all eleven of a window are taken at once, so that each mean is written once.
 */
function overWindows(data: Float32Array, width: number, height: number): Float64Array {
  const [w5, w4, w3, w2, w1, w0] = WINDOW
  const across = width - 2 * RADIUS
  const rows = new Float64Array(across * height)
  for (let y = 0, to = 0; y < height; y++)
    for (let x = 0, i = y * width + RADIUS; x < across; x++, i++, to++)
      rows[to] =
        w0 * data[i] +
        w1 * (data[i - 1] + data[i + 1]) +
        w2 * (data[i - 2] + data[i + 2]) +
        w3 * (data[i - 3] + data[i + 3]) +
        w4 * (data[i - 4] + data[i + 4]) +
        w5 * (data[i - 5] + data[i + 5])
  const out = new Float64Array(across * (height - 2 * RADIUS))
  for (let to = 0, i = RADIUS * across; to < out.length; to++, i++)
    out[to] =
      w0 * rows[i] +
      w1 * (rows[i - across] + rows[i + across]) +
      w2 * (rows[i - 2 * across] + rows[i + 2 * across]) +
      w3 * (rows[i - 3 * across] + rows[i + 3 * across]) +
      w4 * (rows[i - 4 * across] + rows[i + 4 * across]) +
      w5 * (rows[i - 5 * across] + rows[i + 5 * across])
  return out
}

/** The mean of a plane. */
export const meanOf = ({ data }: Plane): number => {
  let sum = 0
  for (let i = 0; i < data.length; i++) sum += data[i]
  return sum / data.length
}
