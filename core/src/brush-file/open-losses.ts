import { type PartName, usedParts } from '../brush/parts.ts'
import type { Recipe } from '../brush/recipe.ts'

/** What the open brush files (GBR, GIH) hold of a recipe; their size is the pictures' own. */
const HELD: readonly PartName[] = ['mark.sizePx', 'path.spacingPct', 'path.nextFrame']

/** What of a brush an open brush file leaves behind, in the interface's own words. */
export const openFileLosses = (recipe: Recipe): string[] =>
  usedParts(recipe)
    .filter(({ name }) => !HELD.includes(name))
    .map(({ called }) => called)
