import { type CurvePath, fitOne } from './fit-curves.ts'
import { countAnchors, type Traced } from './trace.ts'

/** An anchor: of which tone, of which of its paths, the end of which curve. */
export type AnchorAt = { tone: number; path: number; curve: number }

/** Every anchor of a trace, and where it lies, px. */
export const anchorsOf = ({ tones }: Traced): { x: number; y: number; at: AnchorAt }[] =>
  tones.flatMap(({ paths }, tone) =>
    paths.flatMap(({ curves }, path) =>
      Array.from({ length: curves.length / 6 }, (_, curve) => ({
        x: curves[6 * curve + 4],
        y: curves[6 * curve + 5],
        at: { tone, path, curve },
      })),
    ),
  )

/** Points of a curve that what takes its place is fitted to. */
const POINTS = 12

/**
 * Takes one anchor away: the two curves that meet there become one, which lies as near to both as it can. Of a path of two
 * anchors all goes.
 * @throws {RangeError} If there is no such anchor.
 */
export function removeAnchor(traced: Traced, { tone, path, curve }: AnchorAt): Traced {
  const old = traced.tones[tone]?.paths[path]
  if (!old || curve < 0 || curve >= old.curves.length / 6) throw new RangeError('there is no such anchor')
  const fewer = withoutAnchor(old, curve)
  const tones = traced.tones.map((each, t) =>
    t === tone ? { ...each, paths: each.paths.flatMap((own, p) => (p === path ? (fewer ?? []) : own)) } : each,
  )
  return { ...traced, tones, anchors: countAnchors(tones) }
}

function withoutAnchor({ x, y, curves }: CurvePath, at: number): CurvePath | undefined {
  const count = curves.length / 6
  if (count <= 2) return undefined
  const next = (at + 1) % count
  const points = Float64Array.from([...pointsOf({ x, y, curves }, at), ...pointsOf({ x, y, curves }, next).slice(2)])
  const joined = fitOne(points)
  const kept: number[] = []
  for (let c = 0; c < count; c++) {
    if (c === at) kept.push(...joined)
    else if (c !== next) kept.push(...curves.subarray(6 * c, 6 * c + 6))
  }
  // a closed path begins where its last curve ends, also where the first one has become a part of that
  return { x: kept[kept.length - 2], y: kept[kept.length - 1], curves: Float64Array.from(kept) }
}

/** Points along a curve of a path, x and y one after another, from its beginning to its end. */
export function pointsOf({ x, y, curves }: CurvePath, at: number): number[] {
  const [x0, y0] = at === 0 ? [x, y] : [curves[6 * at - 2], curves[6 * at - 1]]
  const [x1, y1, x2, y2, x3, y3] = curves.subarray(6 * at, 6 * at + 6)
  const points: number[] = []
  for (let i = 0; i <= POINTS; i++) {
    const u = i / POINTS
    const v = 1 - u
    const [b0, b1, b2, b3] = [v * v * v, 3 * u * v * v, 3 * u * u * v, u * u * u]
    points.push(b0 * x0 + b1 * x1 + b2 * x2 + b3 * x3, b0 * y0 + b1 * y1 + b2 * y2 + b3 * y3)
  }
  return points
}
