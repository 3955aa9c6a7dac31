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

/**
 * Structural similarity of every whole window of 11 x 11 px, gaussian with sigma 1.5.
 * @returns A plane smaller by 10 px each way; 1 where both are the same.
 * @throws {RangeError} If the planes differ in size, or hold no whole window.
 * @see Wang, Bovik, Sheikh and Simoncelli, "Image quality assessment: from error visibility to structural similarity", 2004.
 */
export function ssimMap(a: Plane, b: Plane): Plane {
  if (a.width !== b.width || a.height !== b.height) throw new RangeError('two planes of one size')
  if (a.width < SSIM_LEAST_PX || a.height < SSIM_LEAST_PX) throw new RangeError('planes that hold a window')
  const count = a.data.length
  const products = [new Float32Array(count), new Float32Array(count), new Float32Array(count)]
  const [squareA, squareB, both] = products
  for (let i = 0; i < count; i++) {
    squareA[i] = a.data[i] * a.data[i]
    squareB[i] = b.data[i] * b.data[i]
    both[i] = a.data[i] * b.data[i]
  }
  const { width, height } = a
  const [meanA, meanB, meanSquareA, meanSquareB, meanBoth] = [a.data, b.data, ...products].map((data) =>
    overWindows(data, width, height),
  )
  const out = new Float32Array(meanA.length)
  for (let i = 0; i < out.length; i++) {
    const [x, y] = [meanA[i], meanB[i]]
    const varianceA = meanSquareA[i] - x * x
    const varianceB = meanSquareB[i] - y * y
    const covariance = meanBoth[i] - x * y
    out[i] = ((2 * x * y + C1) * (2 * covariance + C2)) / ((x * x + y * y + C1) * (varianceA + varianceB + C2))
  }
  return { width: width - 2 * RADIUS, height: height - 2 * RADIUS, data: out }
}

/** The weighted mean over every whole window: first along rows, then down columns. */
function overWindows(data: Float32Array, width: number, height: number): Float64Array {
  const across = width - 2 * RADIUS
  const rows = new Float64Array(across * height)
  for (let y = 0; y < height; y++)
    for (let x = 0; x < across; x++) {
      let sum = 0
      const from = y * width + x
      for (let k = 0; k <= 2 * RADIUS; k++) sum += WINDOW[k] * data[from + k]
      rows[y * across + x] = sum
    }
  const down = height - 2 * RADIUS
  const out = new Float64Array(across * down)
  for (let k = 0; k <= 2 * RADIUS; k++) {
    const weight = WINDOW[k]
    const from = k * across
    for (let i = 0; i < out.length; i++) out[i] += weight * rows[from + i]
  }
  return out
}

/** The mean of a plane. */
export const meanOf = ({ data }: Plane): number => {
  let sum = 0
  for (let i = 0; i < data.length; i++) sum += data[i]
  return sum / data.length
}
