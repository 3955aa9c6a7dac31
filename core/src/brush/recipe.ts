import * as v from 'valibot'
import { PixelShaText } from '../hashes.ts'
import { FRAMES_MAX } from '../limits.ts'
import { BLEND_MODES } from '../raster/blend.ts'

/** The recipe's own version; each older one has a step in `migrate-recipe.ts`. */
export const RECIPE_VERSION = 3

export const SIZE_MIN_PX = 1
export const SIZE_MAX_PX = 4096
export const SPACING_MIN_PCT = 1
export const SPACING_MAX_PCT = 1200
export const SCATTER_MAX_PCT = 1200
export const COUNT_MAX = 32

const number = (min: number, max: number) => v.pipe(v.number(), v.finite(), v.minValue(min), v.maxValue(max))
const unit = number(0, 1)

/** Random change of a factor: an amount v draws from [1 - v, 1]; a range draws from [from, to]. */
const Spread = v.union([unit, v.strictObject({ from: number(0, 4), to: number(0, 4) })])
/** Random turn: an amount v adds up to ±180 v degrees; a range adds from…to degrees. */
const Turn = v.union([unit, v.strictObject({ from: number(-180, 180), to: number(-180, 180) })])
/** Random change in percentage points, added: an amount v up to ±100 v points, or a range. */
const Points = v.union([unit, v.strictObject({ from: number(-100, 100), to: number(-100, 100) })])
/** A curve through points `[in, out]`, both in [0, 1], from left to right. */
export const Curve = v.pipe(
  v.array(v.strictTuple([unit, unit])),
  v.minLength(2),
  v.maxLength(12),
  v.check(
    (points) => points.every((point, i) => i === 0 || point[0] > (points[i - 1]?.[0] ?? 0)),
    'points from left to right',
  ),
)
const Curves = v.strictObject({
  size: v.optional(Curve),
  opacity: v.optional(Curve),
  flow: v.optional(Curve),
  angle: v.optional(Curve),
  frame: v.optional(Curve),
})

export const PAINT_READINGS = ['dark', 'light', 'alpha', 'own', 'tone'] as const
export const FRAME_RULES = ['inOrder', 'random', 'direction', 'pressure', 'speed', 'tiltX', 'tiltY'] as const

export const ANGLE_MODES = ['fixed', 'following', 'first', 'tilt'] as const

/** Size and angle. */
const Mark = v.strictObject({
  sizePx: number(SIZE_MIN_PX, SIZE_MAX_PX),
  /** Fixed on the canvas, following the path, kept as the stroke began, or leaning as the pen; `deg` clockwise is added. */
  angle: v.strictObject({ mode: v.picklist(ANGLE_MODES), deg: number(-360, 360) }),
  squash: number(0.01, 1),
})

/** How stamps follow one another. */
const Path = v.strictObject({
  spacingPct: number(SPACING_MIN_PCT, SPACING_MAX_PCT),
  /** How far stamps are thrown at random, to both sides of the path and along it, percent of the drawn width. */
  scatter: v.strictObject({ acrossPct: number(0, SCATTER_MAX_PCT), alongPct: number(0, SCATTER_MAX_PCT) }),
  count: v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(COUNT_MAX)),
  /** One rule a dimension of the grid of frames, the last dimension fastest; `frames` is how many lie along it. */
  nextFrame: v.pipe(
    v.array(
      v.strictObject({
        rule: v.picklist(FRAME_RULES),
        frames: v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(FRAMES_MAX)),
      }),
    ),
    v.minLength(1),
    v.maxLength(4),
  ),
  /** At the very end size and opacity are less by these shares; over the given lengths they grow to full. */
  taper: v.strictObject({ startPx: number(0, 10_000), endPx: number(0, 10_000), size: unit, opacity: unit }),
  /** Lays the tip's first frame along the path as a strip; the parts before and after the repeated one in strip px. */
  ribbon: v.optional(
    v.strictObject({
      lay: v.picklist(['stretched', 'repeated']),
      leadInPx: number(0, 16_384),
      leadOutPx: number(0, 16_384),
    }),
  ),
})

/** Random change from stamp to stamp. */
const Variation = v.strictObject({
  size: Spread, angle: Turn, squash: Spread, opacity: Spread, flow: Spread, hue: Turn, saturation: Points, value: Points,
}) // biome-ignore format: one line a group

/** What the hand does: curves from pressure, tilt and speed. */
const Hand = v.strictObject({ pressure: Curves, tilt: Curves, speed: Curves })

/** The grain the mark picks up. */
const Ground = v.strictObject({
  grain: v.optional(
    v.strictObject({
      /** The grain's pixels: nothing refers outside. */
      sha256: PixelShaText,
      anchor: v.picklist(['canvas', 'stroke', 'stamp']),
      scalePct: number(1, 1000),
      strength: unit,
      brightness: number(-1, 1),
      contrast: number(-1, 1),
      randomTurn: v.picklist(['none', 'stroke', 'stamp']),
    }),
  ),
})

/** Reading and blending. Flow is per stamp, opacity caps the stroke. */
const Colour = v.strictObject({
  reading: v.picklist(PAINT_READINGS),
  /** In tone: the OKLab lightness that gives exactly the chosen colour. */
  anchorGrey: number(0.01, 0.99),
  opacity: unit,
  flow: unit,
  blend: v.picklist(BLEND_MODES),
  behaviour: v.picklist(['paint', 'erase', 'smear']),
})

/** Everything about how a brush paints, saved as one. Units as in the field names; angles in degrees clockwise. */
export const Recipe = v.strictObject({
  version: v.literal(RECIPE_VERSION),
  mark: Mark,
  path: Path,
  variation: Variation,
  hand: Hand,
  ground: Ground,
  colour: Colour,
})

export type Recipe = v.InferOutput<typeof Recipe>
export type Spread = v.InferOutput<typeof Spread>
export type Turn = v.InferOutput<typeof Turn>
export type Points = v.InferOutput<typeof Points>
export type AngleMode = (typeof ANGLE_MODES)[number]
export type Grain = NonNullable<Recipe['ground']['grain']>
export type Ribbon = NonNullable<Recipe['path']['ribbon']>
export type Curve = v.InferOutput<typeof Curve>
export type PaintReading = (typeof PAINT_READINGS)[number]
export type FrameRule = (typeof FRAME_RULES)[number]

/** A recipe that simply stamps the tip along the path. `sizePx` is clamped to what a recipe may hold. */
export function defaultRecipe({ sizePx = 64, reading = 'dark' as PaintReading, frames = 1 } = {}): Recipe {
  return {
    version: RECIPE_VERSION,
    mark: {
      sizePx: Math.min(SIZE_MAX_PX, Math.max(SIZE_MIN_PX, sizePx)),
      angle: { mode: 'fixed', deg: 0 },
      squash: 1,
    },
    path: {
      spacingPct: frames > 1 ? 100 : 25,
      scatter: { acrossPct: 0, alongPct: 0 },
      count: 1,
      nextFrame: [{ rule: 'inOrder', frames }],
      taper: { startPx: 0, endPx: 0, size: 0, opacity: 0 },
    },
    variation: {
      size: 0, angle: 0, squash: 0, opacity: 0, flow: 0, hue: 0, saturation: 0, value: 0,
    }, // biome-ignore format: one line a group
    hand: { pressure: {}, tilt: {}, speed: {} },
    ground: {},
    colour: { reading, anchorGrey: 0.5, opacity: 1, flow: 1, blend: 'normal', behaviour: 'paint' },
  }
}

/** The lowest and highest factor a spread can draw. */
export function spreadRange(spread: Spread): { from: number; to: number } {
  return typeof spread === 'number' ? { from: 1 - spread, to: 1 } : spread
}

/** The lowest and highest turn in degrees that a turn can draw. */
export function turnRange(turn: Turn): { from: number; to: number } {
  return typeof turn === 'number' ? { from: -180 * turn, to: 180 * turn } : turn
}

/** The lowest and highest change in points that can be drawn. */
export function pointsRange(points: Points): { from: number; to: number } {
  return typeof points === 'number' ? { from: -100 * points, to: 100 * points } : points
}
