import * as v from 'valibot'
import { describe, expect, it } from 'vitest'
import { COUNT_MAX, defaultRecipe, Recipe, SCATTER_MAX_PCT, SIZE_MAX_PX, SIZE_MIN_PX } from '../brush/recipe.ts'
import { createPixels } from '../raster/pixels.ts'
import { prepareBrush } from '../stroke/prepare-brush.ts'
import { STAMP_WORK_PX } from '../stroke/stroke.ts'
import { atEnds, NO_PIXELS } from '../testing.ts'
import { renderGauge } from './render.ts'

/** The same, of values that are only then looked at. */
const AnyRecipe = Recipe as unknown as v.GenericSchema
const PICTURE = { width: 200, height: 130 }
/** Far less than a picture may take, so that the test does not take what it watches over. */
const WORK_MAX_PX = 500_000
/** A stamp that is begun is ended: it may pass the bound by the whole picture. */
const LAST_PX = PICTURE.width * PICTURE.height + STAMP_WORK_PX

const pattern = (width: number, height: number, channels: 1 | 4) => {
  const pixels = createPixels(width, height, channels)
  pixels.data.forEach((_, i, data) => {
    data[i] = channels === 4 && i % 4 === 3 ? 255 : (i * 37) % 256
  })
  return pixels
}
const grain = pattern(61, 67, 1)
const tips = { own: pattern(61, 43, 4), dark: pattern(61, 43, 1) }

/** A brush that uses everything, stamps as close as may be. */
function everything(reading: keyof typeof tips, more: { behaviour?: 'smear'; lay?: 'repeated' | 'stretched' } = {}) {
  const recipe: Recipe = defaultRecipe({ sizePx: 64, reading })
  recipe.path.spacingPct = 1
  recipe.path.scatter = { acrossPct: 100, alongPct: 100 }
  recipe.path.taper = { startPx: 10, endPx: 10, size: 0.2, opacity: 0.2 }
  recipe.variation.size = { from: 0.5, to: 2 }
  recipe.variation.angle = { from: -10, to: 10 }
  recipe.variation.hue = { from: -5, to: 5 }
  recipe.variation.value = 0.1
  recipe.hand.pressure.size = [
    [0, 0.2],
    [1, 1],
  ]
  recipe.ground.grain = {
    sha256: NO_PIXELS,
    anchor: 'stamp',
    scalePct: 100,
    strength: 1,
    brightness: 0,
    contrast: 0,
    randomTurn: 'stamp',
  }
  if (more.behaviour) recipe.colour.behaviour = more.behaviour
  if (more.lay) recipe.path.ribbon = { lay: more.lay, leadInPx: 4, leadOutPx: 4 }
  return recipe
}
const KINDS: Record<string, Recipe> = {
  'a mask': everything('dark'),
  'a tip in its own colours': everything('own'),
  'what smears': everything('own', { behaviour: 'smear' }),
  'a repeated ribbon': everything('dark', { lay: 'repeated' }),
  'a stretched ribbon': everything('dark', { lay: 'stretched' }),
}

function* dearest(recipe: Recipe): Generator<{ where: string; value: unknown }> {
  for (const sizePx of [SIZE_MIN_PX, 17, SIZE_MAX_PX])
    for (const pct of [0, 300, SCATTER_MAX_PCT]) {
      const { mark, path } = recipe
      const scatter = { acrossPct: pct, alongPct: pct }
      const value = { ...recipe, mark: { ...mark, sizePx }, path: { ...path, scatter, count: COUNT_MAX } }
      yield { where: `${COUNT_MAX} of ${sizePx} px, thrown by ${pct} %`, value }
    }
}

describe('each number of a recipe, at either end of what it may be, and the dearest together', () => {
  it.each(Object.entries(KINDS))('a picture of %s takes no more work than it may, and says so', (_, base) => {
    let [taken, cut] = [0, 0]
    for (const { where, value } of [...dearest(base), ...atEnds(AnyRecipe, base)]) {
      const parsed = v.safeParse(Recipe, value)
      if (!parsed.success) continue
      const recipe = parsed.output
      const frames = [recipe.colour.reading === 'own' ? tips.own : tips.dark]
      const brush = prepareBrush({ frames, grain }, recipe, { r: 10, g: 20, b: 30 })
      const { workPx, isCutShort } = renderGauge(brush, recipe, { ...PICTURE, workMaxPx: WORK_MAX_PX })
      expect(workPx, where).toBeLessThan(WORK_MAX_PX + LAST_PX)
      expect(isCutShort, where).toBe(workPx >= WORK_MAX_PX)
      taken++
      if (isCutShort) cut++
    }
    expect([taken > 60, cut > 0]).toEqual([true, true])
  })
})
