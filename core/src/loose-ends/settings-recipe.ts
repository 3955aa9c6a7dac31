import * as v from 'valibot'
import { defaultRecipe, Recipe } from '../brush/recipe.ts'
import { CARRY_ROWS } from '../destinations/carry-parts.ts'
import type { PixelSha } from '../hashes.ts'

type Pictures = {
  /** How many pictures there are. */
  frames: number
  /** Names the grain's pixels, where there is one. */
  grain: PixelSha | undefined
}

/**
 * The recipe that settings tell of: every part that they say and that can be understood; the others are the usual ones.
 * A rule of the next frame holds only for the pictures that there are.
 * @param said What the settings say, by the names of the parts.
 * @returns Also the names of parts that could not be understood.
 */
export function recipeOfSettings(
  said: Readonly<Record<string, unknown>>,
  { frames, grain }: Pictures,
): { recipe: Recipe; ignored: string[] } {
  let recipe = defaultRecipe({ frames })
  const ignored: string[] = []
  for (const { name, group, key } of CARRY_ROWS) {
    const own = said[name]
    if (own === undefined || own === null) continue
    const isGrain = name === 'ground.grain'
    if (isGrain && grain === undefined) continue
    const value = isGrain && typeof own === 'object' ? { ...own, sha256: grain } : own
    const tried = v.safeParse(Recipe, { ...recipe, [group]: { ...(recipe[group] as object), [key]: value } })
    if (tried.success && (name !== 'path.nextFrame' || countFrames(tried.output) === frames)) recipe = tried.output
    else ignored.push(name)
  }
  return { recipe, ignored }
}

const countFrames = ({ path }: Recipe) => path.nextFrame.reduce((all, rule) => all * rule.frames, 1)
