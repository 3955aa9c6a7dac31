import type { Mix } from './steps/grey.ts'

/** Colours as numbers: r, g, b of one after another. */
export type Colours = readonly number[]

/** Added to the scatter of each channel, levels squared: colours of a flat picture have none of their own. */
const LEAST_SCATTER = 4
/** Where the mixture puts nearly all of a picture; the rest is clipped. */
const LOW = 6
const HIGH = 249
const TAIL = 0.004

/**
 * The mixture of channels that parts paint from ground best, paint dark: Fisher's linear discriminant (Fisher 1936, "The
 * use of multiple measurements in taxonomic problems").
 *
 * @param paint, ground Colours that shall become paint, and ground; at least one each.
 * @param all Colours of the whole picture, which the mixture spreads over the greys.
 */
export function partingMix(paint: Colours, ground: Colours, all: Colours): Mix {
  const meanPaint = meanOf(paint)
  const meanGround = meanOf(ground)
  const scatter = addScatter(scatterOf(paint, meanPaint), scatterOf(ground, meanGround))
  const weights = solve3(
    scatter,
    [0, 1, 2].map((c) => meanGround[c] - meanPaint[c]),
  )
  return spread(weights, all)
}

function meanOf(colours: Colours): number[] {
  const mean = [0, 0, 0]
  for (let i = 0; i < colours.length; i++) mean[i % 3] += colours[i]
  return mean.map((sum) => (3 * sum) / colours.length)
}

/** The covariance of colours, three rows one after another. */
function scatterOf(colours: Colours, mean: readonly number[]): number[] {
  const sums = Array(9).fill(0)
  for (let i = 0; i < colours.length; i += 3)
    for (let a = 0; a < 3; a++)
      for (let b = 0; b < 3; b++) sums[3 * a + b] += (colours[i + a] - mean[a]) * (colours[i + b] - mean[b])
  return sums.map((sum) => (3 * sum) / colours.length)
}

const addScatter = (a: readonly number[], b: readonly number[]) =>
  a.map((each, i) => each + b[i] + (i % 4 === 0 ? LEAST_SCATTER : 0))

/** Solves a symmetric positive system of three by Cramer's rule. */
function solve3(m: readonly number[], y: readonly number[]): number[] {
  const det = (a: readonly number[]) =>
    a[0] * (a[4] * a[8] - a[5] * a[7]) - a[1] * (a[3] * a[8] - a[5] * a[6]) + a[2] * (a[3] * a[7] - a[4] * a[6])
  const whole = det(m)
  return [0, 1, 2].map((column) => det(m.map((each, i) => (i % 3 === column ? y[Math.floor(i / 3)] : each))) / whole)
}

/** Lays nearly all of a picture's mixed values over the greys. */
function spread(weights: readonly number[], all: Colours): Mix {
  const values = new Float64Array(all.length / 3)
  for (let i = 0; i < values.length; i++)
    values[i] = weights[0] * all[3 * i] + weights[1] * all[3 * i + 1] + weights[2] * all[3 * i + 2]
  values.sort()
  const low = values[Math.floor(TAIL * (values.length - 1))]
  const high = values[Math.ceil((1 - TAIL) * (values.length - 1))]
  const largest = Math.max(...weights.map(Math.abs))
  // nothing to part: as much contrast as a mixture may have, and not more
  const gain = largest === 0 ? 0 : Math.min((HIGH - LOW) / Math.max(high - low, 1e-9), 8 / largest)
  const middle = (low + high) / 2
  const [red, green, blue] = weights.map((weight) => weight * gain)
  return { red, green, blue, offset: (LOW + HIGH) / 2 - middle * gain }
}
