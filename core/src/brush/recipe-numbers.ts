import type { NumberRow } from '../number-row.ts'
import { RECIPE_PARTS } from './parts.ts'
import {
  COUNT_MAX,
  defaultRecipe,
  type Grain,
  type Recipe,
  SCATTER_MAX_PCT,
  SIZE_MAX_PX,
  SIZE_MIN_PX,
  SPACING_MAX_PCT,
  SPACING_MIN_PCT,
} from './recipe.ts'

const mark = RECIPE_PARTS.mark
const path = RECIPE_PARTS.path
const colour = RECIPE_PARTS.colour
const share = (label: string, from = 0, to = 1): NumberRow => ({ label, unit: '%', from, to, per: 100 })

/** Longer tapers than this are given by typing them into a file alone. */
const TAPER_MAX_PX = 2000
const taperPx = (label: string): NumberRow => ({ label, unit: 'px', from: 0, to: TAPER_MAX_PX, per: 1, eased: true })
const scatterPct = (label: string): NumberRow => ({
  label,
  unit: '%',
  from: 0,
  to: SCATTER_MAX_PCT,
  per: 1,
  eased: true,
})

/** Every number that a recipe has one control for, by where it stands: label, unit, bounds, and how it is told. */
export const RECIPE_NUMBERS = {
  'mark.sizePx': { label: mark.sizePx.label, unit: 'px', from: SIZE_MIN_PX, to: SIZE_MAX_PX, per: 1, eased: true },
  'mark.squash': share(mark.squash.label, 0.01),
  'mark.angle.deg': { label: 'Angle', unit: '°', from: -180, to: 180, per: 1 },
  'path.spacingPct': { label: path.spacingPct.label, unit: '%', from: SPACING_MIN_PCT, to: SPACING_MAX_PCT, per: 1, eased: true },
  'path.scatter.acrossPct': scatterPct('Scatter to the sides'),
  'path.scatter.alongPct': scatterPct('Scatter along the path'),
  'path.count': { label: path.count.label, unit: '', from: 1, to: COUNT_MAX, per: 1 },
  'path.taper.startPx': taperPx('Taper at the start'),
  'path.taper.endPx': taperPx('Taper at the end'),
  'path.taper.size': share('Taper thins by'),
  'path.taper.opacity': share('Taper pales by'),
  'ground.grain.scalePct': { label: 'Scale', unit: '%', from: 1, to: 1000, per: 1, eased: true },
  'ground.grain.strength': share('Strength'),
  'ground.grain.brightness': share('Brightness', -1),
  'ground.grain.contrast': share('Contrast', -1),
  'colour.anchorGrey': share(colour.anchorGrey.label, 0.01, 0.99),
  'colour.flow': share(colour.flow.label),
  'colour.opacity': share(colour.opacity.label),
} as const satisfies Record<string, NumberRow> // biome-ignore format: a table

export type NumberName = keyof typeof RECIPE_NUMBERS
export const NUMBER_NAMES = Object.keys(RECIPE_NUMBERS) as NumberName[]

/** A grain as it is taken up. */
export const USUAL_GRAIN: Omit<Grain, 'sha256'> = {
  anchor: 'canvas',
  scalePct: 100,
  strength: 1,
  brightness: 0,
  contrast: 0,
  randomTurn: 'none',
}

type Parts = { [key: string]: Parts | number }

/** @returns The number, or undefined where the recipe has no such part. */
export function numberOf(recipe: Recipe, name: NumberName): number | undefined {
  let at: Parts | number | undefined = recipe as unknown as Parts
  for (const key of name.split('.')) at = typeof at === 'object' ? at[key] : undefined
  return typeof at === 'number' ? at : undefined
}

/** The recipe with another number, held within its bounds; as it was where it has no such part. */
export function withNumber(recipe: Recipe, name: NumberName, value: number): Recipe {
  const { from, to } = RECIPE_NUMBERS[name]
  if (numberOf(recipe, name) === undefined) return recipe
  const held = Math.min(to, Math.max(from, value))
  const put = (parts: Parts, [key = '', ...rest]: string[]): Parts => ({
    ...parts,
    [key]: rest.length === 0 ? held : put(parts[key] as Parts, rest),
  })
  return put(recipe as unknown as Parts, name.split('.')) as unknown as Recipe
}

/** What a number is where nothing was set. @param frames How many frames the brush has. */
export function usualNumber(name: NumberName, frames = 1): number {
  const plain = defaultRecipe({ frames })
  const usual = { ...plain, ground: { grain: { ...USUAL_GRAIN, sha256: '' } } } as unknown as Recipe
  return numberOf(usual, name) ?? 0
}
