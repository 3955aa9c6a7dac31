import { parseRecipe } from '@satchel/core/brush/migrate-recipe'
import type { Recipe } from '@satchel/core/brush/recipe'
import { FormatError } from '@satchel/core/errors'
import { parseJson } from '@satchel/core/formats/json'
import { parseText } from './files.ts'
import { UsageError } from './problems.ts'

/** A recipe out of a file. @throws {FileProblem} If it is none. */
export async function loadRecipe(file: string): Promise<Recipe> {
  return parseText(file, (value) => parseRecipe(value))
}

/**
 * A recipe with fields set by their paths, as in `mark.sizePx=90`. Values are JSON, or plain words.
 * @throws {UsageError} If there is no such field, or the recipe would not allow the value.
 */
export function setFields(recipe: Recipe, settings: readonly string[]): Recipe {
  if (settings.length === 0) return recipe
  const changed = structuredClone(recipe) as unknown as Record<string, unknown>
  for (const setting of settings) {
    const at = setting.indexOf('=')
    if (at < 1) throw new UsageError(`--set takes FIELD=VALUE, for example mark.sizePx=90, not "${setting}".`)
    setField(changed, setting.slice(0, at).split('.'), parseValue(setting.slice(at + 1)))
  }
  try {
    return parseRecipe(changed)
  } catch (error) {
    if (error instanceof FormatError)
      throw new UsageError(`--set ${settings.join(' --set ')}: expected ${error.expected}.`)
    throw error
  }
}

function setField(target: Record<string, unknown>, [key = '', ...rest]: string[], value: unknown): void {
  if (rest.length === 0) {
    target[key] = value
    return
  }
  const inner = target[key]
  if (typeof inner !== 'object' || inner === null) target[key] = {}
  setField(target[key] as Record<string, unknown>, rest, value)
}

function parseValue(text: string): unknown {
  try {
    return parseJson(text, 'value')
  } catch (error) {
    if (!(error instanceof FormatError)) throw error
    // A word that is no JSON is meant as it stands.
    return text
  }
}
