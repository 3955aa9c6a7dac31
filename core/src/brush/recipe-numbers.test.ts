import * as v from 'valibot'
import { describe, expect, it } from 'vitest'
import { defaultRecipe, Recipe } from './recipe.ts'
import { NUMBER_NAMES, numberOf, RECIPE_NUMBERS, USUAL_GRAIN, usualNumber, withNumber } from './recipe-numbers.ts'

const recipe = v.parse(Recipe, {
  ...defaultRecipe({ frames: 3 }),
  ground: { grain: { ...USUAL_GRAIN, sha256: 'a'.repeat(64) } },
})

describe('every number of a recipe', () => {
  it.each(NUMBER_NAMES)('%s is a recipe at both of its ends and where it usually is', (name) => {
    const { from, to } = RECIPE_NUMBERS[name]
    for (const value of [from, to, usualNumber(name)]) {
      const changed = withNumber(recipe, name, value)
      expect(numberOf(changed, name)).toBe(value)
      expect(v.safeParse(Recipe, changed).success).toBe(true)
    }
    expect(usualNumber(name)).toBeGreaterThanOrEqual(from)
    expect(usualNumber(name)).toBeLessThanOrEqual(to)
  })

  it.each(NUMBER_NAMES)('%s is held within its bounds, and changes nothing else', (name) => {
    const { from, to } = RECIPE_NUMBERS[name]
    expect(numberOf(withNumber(recipe, name, to + 1e6), name)).toBe(to)
    expect(numberOf(withNumber(recipe, name, from - 1e6), name)).toBe(from)
    const there = numberOf(recipe, name) ?? 0
    expect(withNumber(withNumber(recipe, name, to), name, there)).toEqual(recipe)
  })

  it('are those of a plain recipe where nothing was set; several frames stand farther apart', () => {
    expect([usualNumber('mark.squash'), usualNumber('ground.grain.scalePct')]).toEqual([1, 100])
    expect(usualNumber('path.spacingPct', 3)).toBeGreaterThan(usualNumber('path.spacingPct'))
  })

  it('of a grain are none where there is none', () => {
    const without = { ...recipe, ground: {} }
    expect(numberOf(without, 'ground.grain.strength')).toBeUndefined()
    expect(withNumber(without, 'ground.grain.strength', 0.5)).toBe(without)
  })
})
