import * as v from 'valibot'
import { toWorkPoint, type Work } from '../work.ts'

export const TOUCH_KINDS = ['keep', 'drop', 'cover'] as const
const POINTS_MAX = 4000
const STROKES_MAX = 2000

/** One stroke of touching up: where it went on the source, and how it changes what paints. */
const TouchStroke = v.strictObject({
  /** Keep puts back what the picture had; drop takes away; cover paints fully. */
  does: v.picklist(TOUCH_KINDS),
  /** Px of the source. */
  radiusPx: v.pipe(v.number(), v.minValue(0.5), v.maxValue(4096)),
  /** The share of the radius that fades, 0 hard to 1 soft. */
  soft: v.pipe(v.number(), v.minValue(0), v.maxValue(1)),
  /** x, y of one point after another, px of the source. */
  path: v.pipe(
    v.array(v.pipe(v.number(), v.minValue(-100_000), v.maxValue(100_000))),
    v.minLength(2),
    v.maxLength(2 * POINTS_MAX),
    v.check((path) => path.length % 2 === 0, 'a path has an x and a y for each point'),
  ),
})
export type TouchStroke = v.InferOutput<typeof TouchStroke>

export const TouchUp = v.strictObject({ strokes: v.pipe(v.array(TouchStroke), v.maxLength(STROKES_MAX)) })
export type TouchUp = v.InferOutput<typeof TouchUp>

/**
 * Replays strokes by hand in the order in which they were made; they are kept as paths, so they are as sharp at any size.
 * @param before The work as it was before its ground was cleared: what "keep" puts back.
 */
export function touchUp(work: Work, { strokes }: TouchUp, before: Work): Work {
  const grey = work.grey.slice()
  for (const stroke of strokes) {
    const cover = coverOf(work, stroke)
    if (cover) apply(grey, before.grey, cover, { width: work.width, does: stroke.does })
  }
  return { ...work, grey }
}

/** How much a stroke covers each pixel of a box, 0…255. */
type Cover = { left: number; top: number; width: number; height: number; data: Uint8Array }

function coverOf(work: Work, { radiusPx, soft, path }: TouchStroke): Cover | undefined {
  const radius = Math.max(0.5, radiusPx * work.place.scale)
  const points: { x: number; y: number }[] = []
  for (let i = 0; i < path.length; i += 2) points.push(toWorkPoint(work, path[i], path[i + 1]))
  const xs = points.map(({ x }) => x)
  const ys = points.map(({ y }) => y)
  const left = Math.max(0, Math.floor(least(xs) - radius - 1))
  const top = Math.max(0, Math.floor(least(ys) - radius - 1))
  const width = Math.min(work.width, Math.ceil(-least(xs.map((x) => -x)) + radius + 1)) - left
  const height = Math.min(work.height, Math.ceil(-least(ys.map((y) => -y)) + radius + 1)) - top
  if (width <= 0 || height <= 0) return undefined
  const cover = { left, top, width, height, data: new Uint8Array(width * height) }
  const fade = Math.max(1, radius * soft)
  for (const [i, point] of points.entries()) coverCapsule(cover, points[Math.max(0, i - 1)], point, { radius, fade })
  return cover
}

const least = (values: readonly number[]) => values.reduce((a, b) => Math.min(a, b), Number.POSITIVE_INFINITY)

type Point = { x: number; y: number }

/** Covers all that lies near to a line from a to b. */
function coverCapsule(cover: Cover, a: Point, b: Point, { radius, fade }: { radius: number; fade: number }): void {
  const { left, top, width, height, data } = cover
  const dx = b.x - a.x
  const dy = b.y - a.y
  const length2 = dx * dx + dy * dy
  const reach = radius + 1
  const x0 = Math.max(left, Math.floor(Math.min(a.x, b.x) - reach))
  const x1 = Math.min(left + width, Math.ceil(Math.max(a.x, b.x) + reach))
  const y0 = Math.max(top, Math.floor(Math.min(a.y, b.y) - reach))
  const y1 = Math.min(top + height, Math.ceil(Math.max(a.y, b.y) + reach))
  for (let y = y0; y < y1; y++)
    for (let x = x0, i = (y - top) * width + x0 - left; x < x1; x++, i++) {
      const px = x + 0.5 - a.x
      const py = y + 0.5 - a.y
      const t = length2 === 0 ? 0 : Math.min(1, Math.max(0, (px * dx + py * dy) / length2))
      const ex = px - t * dx
      const ey = py - t * dy
      const inside = (radius + 0.5 - Math.sqrt(ex * ex + ey * ey)) / fade
      const value = inside >= 1 ? 255 : inside <= 0 ? 0 : Math.round(255 * inside)
      if (value > data[i]) data[i] = value
    }
}

function apply(
  grey: Uint8Array,
  before: Uint8Array,
  { left, top, width, height, data }: Cover,
  { width: workWidth, does }: { width: number; does: TouchStroke['does'] },
): void {
  for (let y = 0, c = 0; y < height; y++)
    for (let x = 0, i = (top + y) * workWidth + left; x < width; x++, i++, c++) {
      if (data[c] === 0) continue
      const to = does === 'drop' ? 255 : does === 'cover' ? 0 : Math.min(grey[i], before[i])
      grey[i] = Math.round(grey[i] + ((to - grey[i]) * data[c]) / 255)
    }
}
