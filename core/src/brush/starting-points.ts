import { defaultRecipe, type Recipe, SIZE_MAX_PX } from './recipe.ts'

/** A recipe to begin from: it changes how a brush paints and leaves its size, reading, frames and grain alone. */
export type StartingPoint = { name: string; what: string; apply: (recipe: Recipe) => Recipe }

type Change = { [Group in 'mark' | 'path' | 'variation' | 'hand' | 'colour']?: Partial<Recipe[Group]> }

/** Everything as drawn, but for what the strokes of a brush share whatever it does: size, frames, reading, grain. */
function plainWith({ mark, path, variation, hand, colour }: Change): StartingPoint['apply'] {
  return (recipe) => {
    const plain = defaultRecipe()
    const { reading, anchorGrey, behaviour } = recipe.colour
    return {
      ...plain,
      mark: { ...plain.mark, sizePx: recipe.mark.sizePx, ...mark },
      path: { ...plain.path, nextFrame: recipe.path.nextFrame, ...path },
      variation: { ...plain.variation, ...variation },
      hand: { ...plain.hand, ...hand },
      ground: recipe.ground,
      colour: { ...plain.colour, reading, anchorGrey, behaviour, ...colour },
    }
  }
}

const FOLLOWING: Recipe['mark']['angle'] = { mode: 'following', deg: 0 }
/** Hardly there when the pen barely touches, and full well before it is pressed hard. */
const YIELDING: [number, number][] = [[0, 0.06], [0.35, 0.5], [0.8, 1], [1, 1]] // biome-ignore format: points
/** Half as strong for a light hand. */
const WEIGHTED: [number, number][] = [[0, 0.35], [0.6, 0.8], [1, 1]] // biome-ignore format: points
/** Full while slow, a third when drawn fast. */
const RUNNING_DRY: [number, number][] = [[0, 1], [0.4, 0.8], [1, 0.3]] // biome-ignore format: points

/** Ready recipes; their figures were found by painting each with the tips of the starter library. */
export const STARTING_POINTS: readonly StartingPoint[] = [
  {
    name: 'Beads on a thread',
    what: 'marks that follow the path, a hair apart',
    apply: plainWith({ mark: { angle: FOLLOWING }, path: { spacingPct: 103 } }),
  },
  {
    name: 'Shingle',
    what: 'a row of marks, none quite like its neighbour',
    apply: plainWith({
      path: { spacingPct: 84, scatter: { acrossPct: 14, alongPct: 6 } },
      variation: {
        size: { from: 0.55, to: 1 },
        angle: { from: -24, to: 24 },
        squash: { from: 0.62, to: 1 },
        value: { from: -9, to: 4 },
      },
    }),
  },
  {
    name: 'Spindrift',
    what: 'blown wide to both sides, large and small, dense and faint',
    apply: plainWith({
      path: { spacingPct: 60, scatter: { acrossPct: 230, alongPct: 70 }, count: 2 },
      variation: { size: { from: 0.18, to: 0.85 }, angle: 1, opacity: { from: 0.25, to: 1 } },
    }),
  },
  {
    name: 'Marram blade',
    what: 'one close line that swells under the hand and ends in a point',
    apply: plainWith({
      path: { spacingPct: 6, taper: { startPx: 26, endPx: 90, size: 0.92, opacity: 0 } },
      hand: { pressure: { size: YIELDING } },
    }),
  },
  {
    name: 'Ebb wash',
    what: 'thin layers that darken where they cross',
    apply: plainWith({
      path: { spacingPct: 9 },
      hand: { pressure: { opacity: WEIGHTED } },
      colour: { opacity: 0.38, flow: 0.55, blend: 'multiply' },
    }),
  },
  {
    name: 'Driftwood',
    what: 'turned with the stroke, broken at its sides, running dry when drawn fast',
    apply: plainWith({
      mark: { angle: FOLLOWING },
      path: { spacingPct: 22, scatter: { acrossPct: 18, alongPct: 0 } },
      variation: { squash: { from: 0.55, to: 1 }, opacity: { from: 0.35, to: 1 }, flow: { from: 0.6, to: 1 } },
      hand: { speed: { flow: RUNNING_DRY } },
    }),
  },
]

/** A tip's length apart and a little more: what each single stamp does can be seen. */
const SPREAD_SPACING_PCT = 130

/** The same recipe with its stamps drawn apart, to look at; ribbons have none and stay. */
export const spreadStamps = (recipe: Recipe): Recipe => ({
  ...recipe,
  path: { ...recipe.path, spacingPct: Math.max(SPREAD_SPACING_PCT, recipe.path.spacingPct) },
})

/** A strip's first recipe: repeated as a whole, as wide as it is high. @param heightPx Of the strip. */
export function toRibbonRecipe(recipe: Recipe, heightPx: number): Recipe {
  const ribbon = recipe.path.ribbon ?? { lay: 'repeated', leadInPx: 0, leadOutPx: 0 }
  return {
    ...recipe,
    mark: { ...recipe.mark, sizePx: Math.min(SIZE_MAX_PX, heightPx) },
    path: { ...recipe.path, ribbon },
  }
}
