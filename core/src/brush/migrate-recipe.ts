import * as v from 'valibot'
import { FormatError } from '../errors.ts'
import { RECIPE_VERSION, Recipe } from './recipe.ts'

/** One step a version: takes a recipe of that version, gives the next one's. */
const STEPS: Record<number, (recipe: Record<string, unknown>) => Record<string, unknown>> = {
  // Version 2 adds the angle from tilt, and ranges for angle and hue; all that version 1 says keeps its meaning.
  1: (recipe) => ({ ...recipe, version: 2 }),
  // Version 3 has two amounts of scatter in the place of one with a choice of axes.
  2: ({ path, ...recipe }) => ({ ...recipe, version: 3, path: withTwoScatters(path as Record<string, unknown>) }),
}

function withTwoScatters({ scatterPct, scatterAxis, ...path }: Record<string, unknown>): Record<string, unknown> {
  const amount = (axis: 'across' | 'along') => (scatterAxis === axis || scatterAxis === 'both' ? scatterPct : 0)
  return { ...path, scatter: { acrossPct: amount('across'), alongPct: amount('along') } }
}

/**
 * Takes a recipe of any version this product has ever written.
 * @throws {FormatError} If it is newer than this product, or a part is missing or out of range; names the part.
 */
export function parseRecipe(value: unknown): Recipe {
  let recipe = value
  for (let version = versionOf(recipe); version < RECIPE_VERSION; version = versionOf(recipe)) {
    const step = STEPS[version]
    if (!step) throw new FormatError('recipe', undefined, `a version up to ${RECIPE_VERSION}, found ${version}`)
    recipe = step(recipe as Record<string, unknown>)
  }
  const found = versionOf(recipe)
  if (found > RECIPE_VERSION)
    throw new FormatError('recipe', undefined, `version ${RECIPE_VERSION} or older, found ${found}`)
  const result = v.safeParse(Recipe, recipe)
  if (result.success) return result.output
  const [issue] = result.issues
  throw new FormatError(
    'recipe',
    undefined,
    `${v.getDotPath(issue) ?? 'it'} to be ${issue.expected ?? issue.message}, found ${issue.received}`,
  )
}

function versionOf(recipe: unknown): number {
  const version = typeof recipe === 'object' && recipe !== null && 'version' in recipe ? recipe.version : undefined
  if (typeof version !== 'number') throw new FormatError('recipe', undefined, 'a version number')
  return version
}
