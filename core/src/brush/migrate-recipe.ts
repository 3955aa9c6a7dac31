import * as v from 'valibot'
import { FormatError } from '../errors.ts'
import { RECIPE_VERSION, Recipe } from './recipe.ts'

/** One step a version: takes a recipe of that version, gives the next one's. */
const STEPS: Record<number, (recipe: Record<string, unknown>) => Record<string, unknown>> = {
  // Version 2 adds the angle from tilt, and ranges for angle and hue; all that version 1 says keeps its meaning.
  1: (recipe) => ({ ...recipe, version: 2 }),
}

/**
 * Reads a recipe of any version this product has ever written.
 * @throws {FormatError} If it is newer than this product, or a part is missing or out of range; names the part.
 */
export function readRecipe(value: unknown): Recipe {
  let recipe = value
  for (let version = versionOf(recipe); version < RECIPE_VERSION; version = versionOf(recipe)) {
    const step = STEPS[version]
    if (!step) throw new FormatError('recipe', 0, `a version up to ${RECIPE_VERSION}, found ${version}`)
    recipe = step(recipe as Record<string, unknown>)
  }
  const found = versionOf(recipe)
  if (found > RECIPE_VERSION) throw new FormatError('recipe', 0, `version ${RECIPE_VERSION} or older, found ${found}`)
  const result = v.safeParse(Recipe, recipe)
  if (result.success) return result.output
  const [issue] = result.issues
  throw new FormatError(
    'recipe',
    0,
    `${v.getDotPath(issue) ?? 'it'} to be ${issue.expected ?? issue.message}, found ${issue.received}`,
  )
}

function versionOf(recipe: unknown): number {
  const version = typeof recipe === 'object' && recipe !== null && 'version' in recipe ? recipe.version : undefined
  if (typeof version !== 'number') throw new FormatError('recipe', 0, 'a version number')
  return version
}
