import { pointsRange, type Recipe, spreadRange, turnRange } from './recipe.ts'

/** A part of the recipe, in the interface's own words. */
export type RecipePart<Value = unknown> = {
  /** What its control is called. */
  label: string
  /** What it is called where something leaves it behind: "… does not hold the taper". */
  called: string | ((value: Value) => string)
  /** Whether it changes how the brush paints. */
  isUsed(value: Value, recipe: Recipe): boolean
}

type Groups = Omit<Recipe, 'version'>
export type RecipeGroup = keyof Groups
type PartsOf<Group> = { [Part in keyof Group]-?: RecipePart<Exclude<Group[Part], undefined>> }

const isWholeSpread = (value: Recipe['variation']['size']) => {
  const { from, to } = spreadRange(value)
  return from === 1 && to === 1
}
const isNoTurn = (value: Recipe['variation']['angle']) => {
  const { from, to } = turnRange(value)
  return from === 0 && to === 0
}
const isNoChange = (value: Recipe['variation']['value']) => {
  const { from, to } = pointsRange(value)
  return from === 0 && to === 0
}

const spread = (label: string, called: string): RecipePart<Recipe['variation']['size']> => ({
  label,
  called,
  isUsed: (value) => !isWholeSpread(value),
})
const turn = (label: string, called: string): RecipePart<Recipe['variation']['angle']> => ({
  label,
  called,
  isUsed: (value) => !isNoTurn(value),
})
const points = (label: string, called: string): RecipePart<Recipe['variation']['value']> => ({
  label,
  called,
  isUsed: (value) => !isNoChange(value),
})
const curves = (label: string, called: string): RecipePart<Recipe['hand']['pressure']> => ({
  label,
  called,
  isUsed: (value) => Object.values(value).some((curve) => curve !== undefined),
})

/** Every part of the recipe, one row each; the compiler holds the table complete. */
export const RECIPE_PARTS: { readonly [Group in RecipeGroup]: PartsOf<Groups[Group]> } = {
  mark: {
    sizePx: { label: 'Size', called: 'the size it is painted at', isUsed: () => true },
    angle: { label: 'The mark lies', called: 'the angle', isUsed: ({ mode, deg }) => mode !== 'fixed' || deg !== 0 },
    squash: { label: 'Squash', called: 'the squash', isUsed: (squash) => squash !== 1 },
  },
  path: {
    spacingPct: { label: 'Spacing', called: 'the spacing', isUsed: (_, { path }) => path.ribbon === undefined },
    scatter: {
      label: 'Scatter',
      called: 'the scatter',
      isUsed: ({ acrossPct, alongPct }) => acrossPct > 0 || alongPct > 0,
    },
    count: { label: 'Stamps a step', called: 'several stamps a step', isUsed: (count) => count > 1 },
    nextFrame: {
      label: 'Next frame',
      called: 'the rule for the next frame',
      isUsed: (rules) => rules.some(({ frames }) => frames > 1),
    },
    taper: {
      label: 'Taper',
      called: 'the taper',
      isUsed: ({ startPx, endPx, size, opacity }) => (startPx > 0 || endPx > 0) && (size > 0 || opacity > 0),
    },
    ribbon: { label: 'Along the path', called: 'the ribbon', isUsed: () => true },
  },
  variation: {
    size: spread('Size', 'the variation of size'),
    angle: turn('Angle', 'the variation of angle'),
    squash: spread('Squash', 'the variation of squash'),
    opacity: spread('Opacity', 'the variation of opacity'),
    flow: spread('Flow', 'the variation of flow'),
    hue: turn('Hue', 'the variation of hue'),
    saturation: points('Saturation', 'the variation of saturation'),
    value: points('Value', 'the variation of value'),
  },
  hand: {
    pressure: curves('Pressure', 'what pressure does'),
    tilt: curves('Tilt', 'what tilt does'),
    speed: curves('Speed', 'what speed does'),
  },
  ground: {
    grain: { label: 'Grain', called: 'the grain', isUsed: ({ strength }) => strength > 0 },
  },
  colour: {
    reading: {
      label: 'How pixels become paint',
      called: 'the shading by tone',
      isUsed: (reading) => reading === 'tone',
    },
    anchorGrey: {
      label: 'Anchor grey',
      called: 'the anchor grey',
      isUsed: (_, { colour }) => colour.reading === 'tone' && colour.behaviour === 'paint',
    },
    opacity: { label: 'Opacity', called: 'the opacity', isUsed: (opacity) => opacity < 1 },
    flow: { label: 'Flow', called: 'the flow', isUsed: (flow) => flow < 1 },
    blend: { label: 'Strokes meet what is there as', called: 'the blend', isUsed: (blend) => blend !== 'normal' },
    behaviour: {
      label: 'The brush',
      called: (behaviour) => `that it ${behaviour}s`,
      isUsed: (behaviour) => behaviour !== 'paint',
    },
  },
}

/** The name of a part across all groups. */
export type PartName = { [Group in RecipeGroup]: `${Group}.${keyof PartsOf<Groups[Group]> & string}` }[RecipeGroup]

/** All parts, in the order of the table. */
export const PART_NAMES = Object.entries(RECIPE_PARTS).flatMap(([group, parts]) =>
  Object.keys(parts).map((part) => `${group}.${part}` as PartName),
)

/** A part that a recipe uses, with what it is called there. */
export type UsedPart = { name: PartName; group: RecipeGroup; called: string }

/** The parts that a recipe uses, in the order of the table; a part that it leaves out is not used. */
export function usedParts(recipe: Recipe): UsedPart[] {
  return (Object.keys(RECIPE_PARTS) as RecipeGroup[]).flatMap((group) => {
    const values = recipe[group] as Record<string, unknown>
    return Object.entries(RECIPE_PARTS[group] as Record<string, RecipePart>)
      .filter(([key, part]) => values[key] !== undefined && part.isUsed(values[key], recipe))
      .map(([key, { called }]) => ({
        name: `${group}.${key}` as PartName,
        group,
        called: typeof called === 'string' ? called : called(values[key]),
      }))
  })
}

/** Whether a recipe uses anything of a group. */
export const usesGroup = (recipe: Recipe, group: RecipeGroup): boolean =>
  usedParts(recipe).some((used) => used.group === group)

/** Parts that every brush uses, or that lists tell of in a way of their own. */
const TOLD_OTHERWISE: readonly PartName[] = [
  ...(['mark.sizePx', 'path.spacingPct', 'path.nextFrame', 'path.ribbon'] as const),
  ...(['ground.grain', 'colour.reading', 'colour.behaviour'] as const),
]
/** The parts by which brushes are found: those that use them. */
export const FOUND_PARTS: readonly PartName[] = PART_NAMES.filter((name) => !TOLD_OTHERWISE.includes(name))

/** The parts that a recipe uses, of those by which brushes are found. */
export const foundParts = (recipe: Recipe): PartName[] =>
  usedParts(recipe).flatMap(({ name }) => (FOUND_PARTS.includes(name) ? [name] : []))
