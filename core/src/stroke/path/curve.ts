import type { Curve } from '../../brush/recipe.ts'

/** A curve ready to be asked: in and out in [0, 1]. */
export type CurveFn = (x: number) => number

/**
 * Monotone cubic through a curve's points; left and right of them it stays level.
 * @see Fritsch & Carlson, SIAM J. Numer. Anal. 17(2), 1980; tangents limited as in their section 4 (from memory).
 */
export function createCurve(points: Curve): CurveFn {
  const n = points.length
  const slope = Array.from({ length: n - 1 }, (_, i) =>
    boundSlope((points[i + 1][1] - points[i][1]) / (points[i + 1][0] - points[i][0])),
  )
  const tangent = points.map((_, i) => {
    if (i === 0) return slope[0]
    if (i === n - 1) return slope[n - 2]
    return slope[i - 1] * slope[i] <= 0 ? 0 : (slope[i - 1] + slope[i]) / 2
  })
  for (let i = 0; i < n - 1; i++) {
    if (slope[i] === 0) {
      tangent[i] = 0
      tangent[i + 1] = 0
      continue
    }
    const a = tangent[i] / slope[i]
    const b = tangent[i + 1] / slope[i]
    const length = a * a + b * b
    if (length > 9) {
      tangent[i] = (3 / Math.sqrt(length)) * a * slope[i]
      tangent[i + 1] = (3 / Math.sqrt(length)) * b * slope[i]
    }
  }
  return (x) => {
    if (!(x > points[0][0])) return points[0][1]
    if (x >= points[n - 1][0]) return points[n - 1][1]
    let i = 0
    while (x >= points[i + 1][0]) i++
    const width = points[i + 1][0] - points[i][0]
    const t = (x - points[i][0]) / width
    const u = 1 - t
    const y =
      points[i][1] * u * u * (1 + 2 * t) +
      tangent[i] * width * t * u * u +
      points[i + 1][1] * t * t * (3 - 2 * t) -
      tangent[i + 1] * width * t * t * u
    return Math.min(1, Math.max(0, y))
  }
}

/** Flatter counts as level and steeper as this steep: ratios of slopes stay numbers, however close points lie. */
const [SLOPE_MIN, SLOPE_MAX] = [1e-6, 1e6]

function boundSlope(slope: number): number {
  if (Math.abs(slope) < SLOPE_MIN) return 0
  return Math.max(-SLOPE_MAX, Math.min(SLOPE_MAX, slope))
}
