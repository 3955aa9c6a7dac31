import * as v from 'valibot'
import { expect, it } from 'vitest'
import { defaultRecipe, Recipe } from '../brush/recipe.ts'
import { STARTING_POINTS, spreadStamps } from '../brush/starting-points.ts'
import { prepareBrush } from '../stroke/prepare-brush.ts'
import { NO_PIXELS, roundTip } from '../testing.ts'
import { renderListStroke } from './render.ts'

const INK = { r: 0, g: 0, b: 0 }

it('are whole recipes that keep size, frames, reading and grain, and each paints a stroke of its own', () => {
  const recipe = defaultRecipe({ sizePx: 31, reading: 'light', frames: 1 })
  recipe.ground.grain = {
    sha256: NO_PIXELS,
    anchor: 'canvas',
    scalePct: 50,
    strength: 0.5,
    brightness: 0,
    contrast: 0,
    randomTurn: 'none',
  }
  const pictures = STARTING_POINTS.map(({ apply }) => {
    const started = apply(recipe)
    expect(v.safeParse(Recipe, started).issues).toBeUndefined()
    expect([started.mark.sizePx, started.ground, started.colour.reading, started.path.nextFrame]).toEqual([
      31,
      recipe.ground,
      'light',
      recipe.path.nextFrame,
    ])
    const brush = prepareBrush({ frames: [roundTip(32)] }, started, INK)
    const { data } = renderListStroke(brush, started, { width: 300, height: 60 })
    expect(data.filter((value, i) => i % 4 === 3 && value > 12).length).toBeGreaterThan(60)
    return Buffer.from(data.buffer).toString('base64')
  })
  expect(new Set(pictures).size).toBe(STARTING_POINTS.length)
})

it('have figures of their own, and the trade’s own figures lie within the bounds of a recipe (common practice, no source)', () => {
  const recipe = defaultRecipe({ reading: 'light' })
  recipe.path = { ...recipe.path, spacingPct: 200, scatter: { acrossPct: 1000, alongPct: 1000 }, count: 3 }
  recipe.variation = { ...recipe.variation, size: 1, angle: 1, opacity: 1 }
  expect(v.safeParse(Recipe, recipe).issues).toBeUndefined()
  recipe.variation = { ...recipe.variation, size: { from: 0.7, to: 1 }, squash: { from: 0.7, to: 0.8 }, value: { from: -13, to: 0 } } // biome-ignore format: one row
  expect(v.safeParse(Recipe, recipe).issues).toBeUndefined()
  for (const { apply } of STARTING_POINTS) {
    const { path, variation } = apply(defaultRecipe())
    expect([200, 1000].includes(path.spacingPct) || path.scatter.acrossPct === 1000).toBe(false)
    expect(variation.size).not.toEqual({ from: 0.7, to: 1 })
    expect(variation.squash).not.toEqual({ from: 0.7, to: 0.8 })
  }
})

it('spread apart, stamps leave a gap, and nothing else changes', () => {
  const recipe = defaultRecipe()
  expect(spreadStamps(recipe)).toEqual({ ...recipe, path: { ...recipe.path, spacingPct: 130 } })
  recipe.path.spacingPct = 400
  expect(spreadStamps(recipe)).toEqual(recipe)
})
