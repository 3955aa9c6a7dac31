import type { Curve } from '@satchel/core/brush/recipe'

const POINTS_MAX = 12
/** Points keep at least this far apart, so that a curve stays one. */
const GAP = 0.02

const clamp = (value: number, min: number, max: number) => Math.min(max, Math.max(min, value))
const round3 = (value: number) => Math.round(value * 1000) / 1000

/** The curve with one point moved, held between its neighbours; the first and last keep their end. */
export function movePoint(points: Curve, i: number, [x, y]: [number, number]): Curve {
  const left = i === 0 ? 0 : (points[i - 1]?.[0] ?? 0) + GAP
  const right = i === points.length - 1 ? 1 : (points[i + 1]?.[0] ?? 1) - GAP
  const isEnd = i === 0 || i === points.length - 1
  const at: [number, number] = [isEnd ? (points[i]?.[0] ?? 0) : round3(clamp(x, left, right)), round3(clamp(y, 0, 1))]
  return points.map((point, k) => (k === i ? at : point))
}

/** The curve with one point more. @returns The curve, and the new point's place; the same curve where there is no room. */
export function addPoint(points: Curve, [x, y]: [number, number]): { points: Curve; at: number } {
  const at = points.findIndex((point) => point[0] > x)
  const [left, right] = [points[at - 1], points[at]]
  if (points.length >= POINTS_MAX || !left || !right || x - left[0] < GAP || right[0] - x < GAP)
    return { points, at: -1 }
  return { points: [...points.slice(0, at), [round3(x), round3(clamp(y, 0, 1))], ...points.slice(at)], at }
}

/** The curve without a point; its ends stay. */
export const removePoint = (points: Curve, i: number): Curve =>
  i === 0 || i === points.length - 1 ? points : points.filter((_, k) => k !== i)

/** The lowest and highest outcome along a curve's points: between them it does not overshoot. */
export const curveRange = (points: Curve): { from: number; to: number } => {
  const outcomes = points.map((point) => point[1])
  return { from: Math.min(...outcomes), to: Math.max(...outcomes) }
}
