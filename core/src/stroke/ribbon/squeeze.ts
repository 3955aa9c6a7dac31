import type { PathPoint } from '../path/centreline.ts'
import { SAMPLE } from '../path/samples.ts'

/** A part of a ribbon where its inner edge is squeezed: path distances, the tightest point, what is lost there 0…1. */
export type Squeeze = { fromPx: number; toPx: number; x: number; y: number; share: number }

/** Squeezed by more than this share counts as distorted. */
export const SQUEEZE_MAX = 1 / 3
/** Curvature is measured over this length to either side, px, so that single pixels do not count as bends. */
const REACH_PX = 4

/**
 * The parts of a ribbon that bend too tightly for its width: the inner edge is shorter than the middle by the
 * curvature times half the width.
 * @param halfWidthPx At each point.
 */
export function findSqueezes(points: readonly PathPoint[], halfWidthPx: readonly number[]): Squeeze[] {
  const found: Squeeze[] = []
  let open: Squeeze | undefined
  for (let i = 0; i < points.length; i++) {
    const share = Math.min(1, curvature(points, i) * halfWidthPx[i])
    const { at, distancePx } = points[i]
    if (share <= SQUEEZE_MAX) {
      open = undefined
      continue
    }
    if (!open) {
      open = { fromPx: distancePx, toPx: distancePx, x: at[SAMPLE.x], y: at[SAMPLE.y], share }
      found.push(open)
    }
    open.toPx = distancePx
    if (share > open.share) Object.assign(open, { x: at[SAMPLE.x], y: at[SAMPLE.y], share })
  }
  return found
}

/** Curvature in 1/px of the circle through a point and its neighbours at REACH_PX; 0 at the ends. */
function curvature(points: readonly PathPoint[], i: number): number {
  let a = i
  let b = i
  while (a > 0 && points[i].distancePx - points[a].distancePx < REACH_PX) a--
  while (b < points.length - 1 && points[b].distancePx - points[i].distancePx < REACH_PX) b++
  if (a === i || b === i) return 0
  const [ax, ay] = points[a].at
  const [px, py] = points[i].at
  const [bx, by] = points[b].at
  // Menger: 4 · area / product of the sides
  const doubleArea = Math.abs((px - ax) * (by - ay) - (py - ay) * (bx - ax))
  const sides = length(px - ax, py - ay) * length(bx - px, by - py) * length(bx - ax, by - ay)
  return sides === 0 ? 0 : (2 * doubleArea) / sides
}

const length = (dx: number, dy: number) => Math.sqrt(dx * dx + dy * dy)
