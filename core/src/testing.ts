import fc from 'fast-check'
import { ANGLE_MODES, defaultRecipe, FRAME_RULES, PAINT_READINGS, type Recipe } from './brush/recipe.ts'
import { BLEND_MODES } from './raster/blend.ts'
import type { Pixels } from './raster/pixels.ts'

/** Pictures of any small size, kind and content, for property tests. */
export const anyPixels = (maxSide = 12): fc.Arbitrary<Pixels> =>
  fc
    .record({
      width: fc.integer({ min: 1, max: maxSide }),
      height: fc.integer({ min: 1, max: maxSide }),
      channels: fc.constantFrom<1 | 4>(1, 4),
    })
    .chain(({ width, height, channels }) => {
      const length = width * height * channels
      return fc
        .uint8Array({ minLength: length, maxLength: length })
        .map((data) => ({ width, height, channels, data: new Uint8Array(data) }))
    })

/** A soft round mark, grey, light paints: full in the middle, none at the rim. */
export function roundTip(side: number): Pixels {
  const data = new Uint8Array(side * side)
  const middle = side / 2
  for (let y = 0; y < side; y++) {
    for (let x = 0; x < side; x++) {
      const distance = Math.sqrt((x + 0.5 - middle) ** 2 + (y + 0.5 - middle) ** 2) / middle
      data[y * side + x] = Math.round(255 * Math.max(0, 1 - distance))
    }
  }
  return { width: side, height: side, channels: 1, data }
}

const unit = fc.double({ min: 0, max: 1, noNaN: true })
const range = (min: number, max: number) =>
  fc.record({ from: fc.double({ min, max, noNaN: true }), to: fc.double({ min, max, noNaN: true }) })
const spread = fc.oneof(unit, range(0, 2))
const turn = fc.oneof(unit, range(-180, 180))
const points = fc.oneof(unit, range(-100, 100))
const curve = fc
  .tuple(unit, unit, unit)
  .map(([a, b, c]): [number, number][] => [[0, a], [0.5, b], [1, c]]) // biome-ignore format: points
const maybeCurve = fc.option(curve, { nil: undefined, freq: 3 })
const curves = fc
  .record({ size: maybeCurve, opacity: maybeCurve, flow: maybeCurve, angle: maybeCurve, frame: maybeCurve })
  .map((all) => Object.fromEntries(Object.entries(all).filter(([, value]) => value)))

const grain = fc.record({
  sha256: fc.constant('0'.repeat(64)),
  anchor: fc.constantFrom('canvas', 'stroke', 'stamp'),
  scalePct: fc.integer({ min: 1, max: 1000 }),
  strength: unit,
  brightness: fc.double({ min: -1, max: 1, noNaN: true }),
  contrast: fc.double({ min: -1, max: 1, noNaN: true }),
  randomTurn: fc.constantFrom('none', 'stroke', 'stamp'),
} as const)

const ribbon = fc.record({
  lay: fc.constantFrom('stretched', 'repeated'),
  leadInPx: fc.integer({ min: 0, max: 30 }),
  leadOutPx: fc.integer({ min: 0, max: 30 }),
} as const)

/** Recipes from the whole schema, for pictures of a hundred or two px. */
export const anyRecipe: fc.Arbitrary<Recipe> = fc
  .record({
    sizePx: fc.integer({ min: 1, max: 80 }),
    angle: fc.record({ mode: fc.constantFrom(...ANGLE_MODES), deg: fc.integer({ min: -360, max: 360 }) }),
    squash: fc.double({ min: 0.01, max: 1, noNaN: true }),
    spacingPct: fc.oneof(
      { weight: 9, arbitrary: fc.integer({ min: 8, max: 300 }) },
      { weight: 1, arbitrary: fc.integer({ min: 1, max: 1000 }) },
    ),
    scatterPct: fc.integer({ min: 0, max: 1000 }),
    scatterAxis: fc.constantFrom('across', 'along', 'both'),
    count: fc.oneof(
      { weight: 9, arbitrary: fc.integer({ min: 1, max: 3 }) },
      { weight: 1, arbitrary: fc.integer({ min: 4, max: 32 }) },
    ),
    nextFrame: fc.array(fc.record({ rule: fc.constantFrom(...FRAME_RULES), frames: fc.integer({ min: 1, max: 3 }) }), {
      minLength: 1,
      maxLength: 2,
    }),
    taper: fc.record({
      startPx: fc.integer({ min: 0, max: 90 }),
      endPx: fc.integer({ min: 0, max: 90 }),
      size: unit,
      opacity: unit,
    }),
    ribbon: fc.option(ribbon, { nil: undefined, freq: 3 }),
    variation: fc.record({
      size: spread, angle: turn, squash: spread, opacity: spread, flow: spread, hue: turn, saturation: points, value: points,
    }), // biome-ignore format: one line a group
    hand: fc.record({ pressure: curves, tilt: curves, speed: curves }),
    grain: fc.option(grain, { nil: undefined }),
    colour: fc.record({
      reading: fc.constantFrom(...PAINT_READINGS),
      anchorGrey: fc.double({ min: 0.01, max: 0.99, noNaN: true }),
      opacity: unit,
      flow: unit,
      blend: fc.constantFrom(...BLEND_MODES),
      behaviour: fc.constantFrom('paint', 'erase', 'smear'),
    }),
  } as const)
  .map(({ sizePx, angle, squash, ribbon, grain, variation, hand, colour, ...path }) => ({
    version: defaultRecipe().version,
    mark: { sizePx, angle, squash },
    path: { ...path, ...(ribbon && { ribbon }) },
    variation,
    hand,
    ground: grain ? { grain } : {},
    colour,
  }))
