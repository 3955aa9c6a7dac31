import * as v from 'valibot'

/** The recipe's own version; each older one has a step in `migrate-recipe.ts`. */
export const RECIPE_VERSION = 1

export const SIZE_MIN_PX = 1
export const SIZE_MAX_PX = 4096
export const SPACING_MIN_PCT = 1
export const SPACING_MAX_PCT = 1000
export const COUNT_MAX = 32

const number = (min: number, max: number) => v.pipe(v.number(), v.finite(), v.minValue(min), v.maxValue(max))
const unit = number(0, 1)

/** Random change of a factor: an amount v draws from [1 - v, 1]; a range draws from [from, to]. */
const Spread = v.union([unit, v.strictObject({ from: number(0, 4), to: number(0, 4) })])
/** Random change in percentage points, added. */
const Points = v.strictObject({ from: number(-100, 100), to: number(-100, 100) })
/** A curve through points `[in, out]`, both in [0, 1], from left to right. */
const Curve = v.pipe(
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
export const BLEND_MODES = [
  'normal', 'multiply', 'screen', 'overlay', 'darken', 'lighten', 'color-dodge', 'color-burn',
  'hard-light', 'soft-light', 'difference', 'exclusion', 'hue', 'saturation', 'color', 'luminosity',
] as const // biome-ignore format: the names of W3C Compositing and Blending Level 1

/** Size and angle. */
const Mark = v.strictObject({
  sizePx: number(SIZE_MIN_PX, SIZE_MAX_PX),
  /** Fixed on the canvas, following the path, or kept as the stroke began; `deg` clockwise, 0 as drawn. */
  angle: v.strictObject({ mode: v.picklist(['fixed', 'following', 'first']), deg: number(-360, 360) }),
  squash: number(0.01, 1),
})

/** How stamps follow one another. */
const Path = v.strictObject({
  spacingPct: number(SPACING_MIN_PCT, SPACING_MAX_PCT),
  scatterPct: number(0, 1000),
  scatterAxis: v.picklist(['across', 'along', 'both']),
  count: v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(COUNT_MAX)),
  /** One rule a dimension of the grid of frames, the last dimension fastest; `frames` is how many lie along it. */
  nextFrame: v.pipe(
    v.array(
      v.strictObject({
        rule: v.picklist(FRAME_RULES),
        frames: v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(256)),
      }),
    ),
    v.minLength(1),
    v.maxLength(4),
  ),
  taper: v.strictObject({ startPx: number(0, 10_000), endPx: number(0, 10_000), size: unit, opacity: unit }),
  ribbon: v.optional(
    v.strictObject({
      lay: v.picklist(['stretched', 'repeated']),
      leadInPx: number(0, 16_384),
      leadOutPx: number(0, 16_384),
    }),
  ),
})

/** Random change from stamp to stamp. Angle and hue: an amount v adds up to +-180 v degrees. */
const Variation = v.strictObject({
  size: Spread, angle: unit, squash: Spread, opacity: Spread, flow: Spread, hue: unit, saturation: Points, value: Points,
}) // biome-ignore format: one line a group

/** What the hand does: curves from pressure, tilt and speed. */
const Hand = v.strictObject({ pressure: Curves, tilt: Curves, speed: Curves })

/** The grain the mark picks up. */
const Ground = v.strictObject({
  grain: v.optional(
    v.strictObject({
      /** SHA-256 of the grain's pixels: nothing refers outside. */
      sha256: v.pipe(v.string(), v.regex(/^[0-9a-f]{64}$/)),
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
      scatterPct: 0,
      scatterAxis: 'across',
      count: 1,
      nextFrame: [{ rule: 'inOrder', frames }],
      taper: { startPx: 0, endPx: 0, size: 0, opacity: 0 },
    },
    variation: {
      size: 0, angle: 0, squash: 0, opacity: 0, flow: 0, hue: 0, saturation: { from: 0, to: 0 }, value: { from: 0, to: 0 },
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
