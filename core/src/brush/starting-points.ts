import type { Recipe } from './recipe.ts'

/** A recipe to begin from: it changes how a brush paints and leaves its size, reading, frames and grain alone. */
export type StartingPoint = { name: string; what: string; apply: (recipe: Recipe) => Recipe }

const STEADY: Recipe['variation'] = {
  size: 0, angle: 0, squash: 0, opacity: 0, flow: 0, hue: 0, saturation: 0, value: 0,
} // biome-ignore format: one line

/** Everything as drawn, but for what the strokes of a brush share whatever it does: size, frames, reading, grain. */
function plain(recipe: Recipe, change: { path?: Partial<Recipe['path']>; variation?: Partial<Recipe['variation']>; hand?: Recipe['hand']; colour?: Partial<Recipe['colour']>; angle?: Recipe['mark']['angle'] }): Recipe {
  return {
    ...recipe,
    mark: { ...recipe.mark, squash: 1, angle: change.angle ?? { mode: 'fixed', deg: 0 } },
    path: {
      spacingPct: 25,
      scatterPct: 0,
      scatterAxis: 'across',
      count: 1,
      taper: { startPx: 0, endPx: 0, size: 0, opacity: 0 },
      nextFrame: recipe.path.nextFrame,
      ...change.path,
    },
    variation: { ...STEADY, ...change.variation },
    hand: change.hand ?? { pressure: {}, tilt: {}, speed: {} },
    colour: { ...recipe.colour, opacity: 1, flow: 1, blend: 'normal', ...change.colour },
  }
} // biome-ignore format: one argument

const RISE: [number, number][] = [[0, 0.1], [0.5, 0.55], [1, 1]] // biome-ignore format: points

/** Ready recipes. Their figures are common practice of the trade, no source. */
export const STARTING_POINTS: readonly StartingPoint[] = [
  {
    name: 'Side by side',
    what: 'marks that just touch, one after another',
    apply: (recipe) => plain(recipe, { path: { spacingPct: 100 }, angle: { mode: 'following', deg: 0 } }),
  },
  {
    name: 'Uneven row',
    what: 'size 70 to 100 % and height 70 to 80 % at random, value down to −13 %',
    apply: (recipe) =>
      plain(recipe, {
        path: { spacingPct: 110 },
        variation: { size: { from: 0.7, to: 1 }, squash: { from: 0.7, to: 0.8 }, value: { from: -13, to: 0 } },
      }),
  },
  {
    name: 'Flurry',
    what: 'three marks a step thrown wide, every size, turn and density',
    apply: (recipe) =>
      plain(recipe, {
        path: { spacingPct: 200, scatterPct: 1000, scatterAxis: 'both', count: 3 },
        variation: { size: 1, angle: 1, opacity: 1 },
      }),
  },
  {
    name: 'Pressed line',
    what: 'a close line that swells with pressure and thins out at both ends',
    apply: (recipe) =>
      plain(recipe, {
        path: { spacingPct: 8, taper: { startPx: 40, endPx: 40, size: 0.8, opacity: 0.2 } },
        hand: { pressure: { size: RISE }, tilt: {}, speed: {} },
      }),
  },
  {
    name: 'Thin washes',
    what: 'strokes that darken each other where they cross',
    apply: (recipe) =>
      plain(recipe, {
        path: { spacingPct: 12 },
        hand: { pressure: { opacity: RISE }, tilt: {}, speed: {} },
        colour: { opacity: 0.45, blend: 'multiply' },
      }),
  },
  {
    name: 'Dry drag',
    what: 'turned along the stroke, torn to the sides, paler when fast',
    apply: (recipe) =>
      plain(recipe, {
        path: { spacingPct: 30, scatterPct: 25 },
        variation: { opacity: 0.5, flow: 0.3, squash: 0.3 },
        angle: { mode: 'following', deg: 0 },
        hand: { pressure: {}, tilt: {}, speed: { flow: [[0, 1], [1, 0.25]] } },
      }),
  }, // biome-ignore format: points
]

/** A tip's length apart and a little more: what each single stamp does can be seen. */
const SPREAD_SPACING_PCT = 130

/** The same recipe with its stamps drawn apart, to look at; ribbons have none and stay. */
export const spreadStamps = (recipe: Recipe): Recipe => ({
  ...recipe,
  path: { ...recipe.path, spacingPct: Math.max(SPREAD_SPACING_PCT, recipe.path.spacingPct) },
})
