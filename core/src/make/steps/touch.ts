import * as v from 'valibot'
import { picklistOf } from '../../number-row.ts'
import { bytesOf, toBytes } from '../../raster/base64.ts'
import type { Pixels } from '../../raster/pixels.ts'
import { scalePixels } from '../../raster/scale.ts'
import { toWorkPoint, type Work } from '../work.ts'

export const TOUCH_WORDS = { keep: 'put back', drop: 'take away', cover: 'paint over' } as const
const POINTS_MAX = 4000
const STROKES_MAX = 2000

/** Tips of one step, and the longer side they are kept at, px: as sharp as a stroke over a picture needs. */
const TIPS_MAX = 8
export const TOUCH_TIP_SIDE_PX = 96

/** What a tip covers, kept with the strokes, so that they are replayed whatever becomes of the brush it was taken from. */
const TouchTip = v.pipe(
  v.strictObject({
    name: v.pipe(v.string(), v.maxLength(200)),
    width: v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(TOUCH_TIP_SIDE_PX)),
    height: v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(TOUCH_TIP_SIDE_PX)),
    /** A byte a pixel, rows from the top, 255 covers fully; as base64. */
    cover: v.pipe(v.string(), v.base64(), v.maxLength(4 * Math.ceil(TOUCH_TIP_SIDE_PX ** 2 / 3))),
  }),
  v.check(({ width, height, cover }) => bytesOf(cover) === width * height, 'the tip has another size than it says'),
)
export type TouchTip = v.InferOutput<typeof TouchTip>

/** One stroke of touching up: where it went on the source, and how it changes what paints. */
const TouchStroke = v.strictObject({
  /** Keep puts back what the picture had; drop takes away; cover paints fully. */
  does: picklistOf(TOUCH_WORDS),
  /** Px of the source. */
  radiusPx: v.pipe(v.number(), v.minValue(0.5), v.maxValue(4096)),
  /** The share of the radius that fades, 0 hard to 1 soft. */
  soft: v.pipe(v.number(), v.minValue(0), v.maxValue(1)),
  /** The tip that stamps along it, by its place; round where there is none. */
  tip: v.optional(v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(TIPS_MAX - 1))),
  /** x, y of one point after another, px of the source. */
  path: v.pipe(
    v.array(v.pipe(v.number(), v.minValue(-100_000), v.maxValue(100_000))),
    v.minLength(2),
    v.maxLength(2 * POINTS_MAX),
    v.check((path) => path.length % 2 === 0, 'a path has an x and a y for each point'),
  ),
})
export type TouchStroke = v.InferOutput<typeof TouchStroke>

export const TouchUp = v.pipe(
  v.strictObject({
    strokes: v.pipe(v.array(TouchStroke), v.maxLength(STROKES_MAX)),
    tips: v.optional(v.pipe(v.array(TouchTip), v.maxLength(TIPS_MAX))),
  }),
  v.check(
    ({ strokes, tips = [] }) => strokes.every(({ tip }) => tip === undefined || tip < tips.length),
    'a stroke names a tip that is not there',
  ),
)
export type TouchUp = v.InferOutput<typeof TouchUp>

/**
 * Replays strokes by hand in the order in which they were made; they are kept as paths, so they are as sharp at any size.
 * @param before The work as it was before its ground was cleared: what "keep" puts back.
 */
export function touchUp(work: Work, { strokes, tips = [] }: TouchUp, before: Work): Work {
  const grey = work.grey.slice()
  for (const stroke of strokes) {
    const tip = stroke.tip === undefined ? undefined : tips[stroke.tip]
    const cover = coverOf(work, stroke, tip)
    if (cover) apply(grey, before.grey, cover, { width: work.width, does: stroke.does })
  }
  return { ...work, grey }
}

/** How much a stroke covers each pixel of a box, 0…255. */
type Cover = { left: number; top: number; width: number; height: number; data: Uint8Array }

function coverOf(work: Work, { radiusPx, soft, path }: TouchStroke, tip: TouchTip | undefined): Cover | undefined {
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
  if (tip) {
    stampAlong(cover, points, tip, radius)
    return cover
  }
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

/** How far apart stamps lie, of the tip's longer side. */
const STAMP_SPACING = 0.12

/** Stamps a tip along a way, its longer side two radii long; where stamps lie over each other, the thicker one counts. */
function stampAlong(cover: Cover, points: readonly Point[], tip: TouchTip, radius: number): void {
  const scale = (2 * radius) / Math.max(tip.width, tip.height)
  const width = Math.max(1, Math.round(tip.width * scale))
  const height = Math.max(1, Math.round(tip.height * scale))
  const whole: Pixels = { width: tip.width, height: tip.height, channels: 1, data: toBytes(tip.cover) }
  const mark = scalePixels(whole, Math.max(width, height) / Math.max(tip.width, tip.height))
  const apart = Math.max(1, 2 * radius * STAMP_SPACING)
  let left = 0
  for (const [i, to] of points.entries()) {
    const from = points[Math.max(0, i - 1)]
    const length = Math.hypot(to.x - from.x, to.y - from.y)
    if (length === 0 && i > 0) continue
    let along = i === 0 ? 0 : left
    for (; along <= length; along += apart) {
      const share = length === 0 ? 0 : along / length
      stamp(cover, mark, from.x + (to.x - from.x) * share, from.y + (to.y - from.y) * share)
    }
    left = along - length
  }
}

function stamp(cover: Cover, { width, height, data }: Pixels, cx: number, cy: number): void {
  const x0 = Math.round(cx - width / 2) - cover.left
  const y0 = Math.round(cy - height / 2) - cover.top
  for (let y = Math.max(0, -y0); y < Math.min(height, cover.height - y0); y++)
    for (let x = Math.max(0, -x0); x < Math.min(width, cover.width - x0); x++) {
      const o = (y0 + y) * cover.width + x0 + x
      if (data[y * width + x] > cover.data[o]) cover.data[o] = data[y * width + x]
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
