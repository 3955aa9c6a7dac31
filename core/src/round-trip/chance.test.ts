import { describe, expect, it } from 'vitest'
import { defaultRecipe, type Recipe } from '../brush/recipe.ts'
import { readSigns, spreadOf } from '../compare/signs.ts'
import type { FitBrush } from '../destinations/fit-state.ts'
import { createPixels, type Pixels } from '../raster/pixels.ts'
import { GAUGE_SEED } from '../render/render.ts'
import { createRandom } from '../stroke/path/random.ts'
import { FIT_PAPER, likenessTo, paintFitGauge, readyOriginal } from './round-trip.ts'

/** A tip of 61 x 61 px that paints as far as `paint` says, at places from -1 to 1. */
function tip(paint: (x: number, y: number) => number): Pixels {
  const pixels = createPixels(61, 61, 1)
  for (let y = 0, i = 0; y < 61; y++)
    for (let x = 0; x < 61; x++, i++) pixels.data[i] = Math.round(255 * (1 - paint((x - 30) / 30, (y - 30) / 30)))
  return pixels
}
const FRAMES = [
  tip((x, y) => (Math.abs(x) < 0.9 && Math.abs(y) < 0.16 ? 1 : 0)),
  tip((x, y) => (Math.hypot(x, y) < 0.45 ? 1 : 0)),
  tip((x, y) => (Math.abs(Math.hypot(x, y) - 0.7) < 0.12 ? 0.8 : 0)),
]
const grain = (() => {
  const tile = createPixels(48, 48, 1)
  const random = createRandom(3)
  for (let i = 0; i < tile.data.length; i++) tile.data[i] = random() < 0.5 ? 40 : 250
  return tile
})()

const GRAIN: NonNullable<Recipe['ground']['grain']> = {
  sha256: '0'.repeat(64) as never,
  anchor: 'canvas',
  scalePct: 60,
  strength: 0.9,
  brightness: 0,
  contrast: 0,
  randomTurn: 'none',
}

const SPACING_PCT = 38

/** Marks thrown about: three pictures at random, turned a little, smaller and larger, through a grain. */
function thrown(change: (recipe: Recipe) => Recipe = (recipe) => recipe, frames = FRAMES, hasGrain = true): FitBrush {
  const plain = defaultRecipe({ sizePx: 26, frames: 3 })
  const recipe: Recipe = {
    ...plain,
    path: {
      ...plain.path,
      spacingPct: SPACING_PCT,
      scatter: { acrossPct: 90, alongPct: 20 },
      nextFrame: [{ rule: 'random', frames: frames.length }],
    },
    variation: { ...plain.variation, angle: { from: -14, to: 14 }, size: { from: 0.85, to: 1 } },
    ground: hasGrain ? { grain: GRAIN } : {},
  }
  return {
    name: 'Thrown',
    set: 'Tried',
    maker: '',
    licence: '',
    frames,
    recipe: change(recipe),
    grain: hasGrain ? { name: 'salt', pixels: grain } : undefined,
  }
}
const painted = (brush: FitBrush, seed: number, { layout }: ReturnType<typeof readyOriginal>) =>
  paintFitGauge({ ...brush, grain: brush.grain?.pixels }, layout, seed)
/** Seeds that no original is painted with. */
const SEEDS = Array.from({ length: 12 }, (_, i) => GAUGE_SEED + 77_000 + 1000 * i)

describe('a brush that paints by chance', () => {
  const ready = readyOriginal(thrown())
  const figure = (brush: FitBrush, seed: number) => likenessTo(ready, painted(brush, seed, ready)).score
  const others = SEEDS.map((seed) => figure(thrown(), seed))
  const least = Math.min(...others)

  it('is as like itself as it ever is, whatever the seed', () => {
    expect(others.filter((score) => score === 100).length).toBeGreaterThanOrEqual(6)
    expect(least).toBeGreaterThan(99)
    expect(figure(thrown(), GAUGE_SEED)).toBe(100)
  })

  const path = (change: Partial<Recipe['path']>) => (recipe: Recipe) => ({
    ...recipe,
    path: { ...recipe.path, ...change },
  })
  it.each([
    ['a picture of three lost', thrown(undefined, FRAMES.slice(0, 2))],
    ['another rule for the angle', thrown((recipe) => ({ ...recipe, variation: { ...recipe.variation, angle: 1 } }))],
    ['spacing a tenth off', thrown(path({ spacingPct: SPACING_PCT * 1.1 }))],
    ['the grain gone', thrown(undefined, FRAMES, false)],
    ['scatter halved', thrown(path({ scatter: { acrossPct: 45, alongPct: 10 } }))],
  ])('%s lowers the figure by more than any seed does', (_, wrong) => {
    for (const seed of [GAUGE_SEED, ...SEEDS.slice(0, 3)]) expect(figure(wrong, seed)).toBeLessThan(least)
  })

  it('a colour 5 off does, too', () => {
    for (const seed of SEEDS.slice(0, 3)) {
      const off = painted(thrown(), seed, ready)
      // b* lower by about 5 (CIE 1976), where something is painted
      for (let p = 0; p < off.data.length; p += 4)
        if (off.data[p] < 240) off.data[p + 2] = Math.min(255, off.data[p + 2] + (9 * (247 - off.data[p])) / 195)
      expect(likenessTo(ready, off).score).toBeLessThan(least)
    }
  })

  it('the more is wrong, the lower the figure', () => {
    const bySpacing = [1, 1.15, 1.5, 2.5].map((times) =>
      figure(thrown(path({ spacingPct: SPACING_PCT * times })), SEEDS[0] ?? 0),
    )
    for (const [i, score] of bySpacing.slice(1).entries()) expect(score).toBeLessThan((bySpacing[i] ?? 0) - 1)
  })
})

it('a brush without chance is compared place by place alone', () => {
  const still = thrown((recipe) => ({
    ...recipe,
    path: { ...recipe.path, scatter: { acrossPct: 0, alongPct: 0 }, nextFrame: [{ rule: 'inOrder', frames: 3 }] },
    variation: { ...recipe.variation, angle: 0, size: 0 },
  }))
  const ready = readyOriginal(still)
  expect(ready.chance).toBeUndefined()
  expect(likenessTo(ready, painted(still, SEEDS[0] ?? 0, ready)).score).toBe(100)
})

it('what paints nothing has signs, and strays by nothing', () => {
  const clear = readSigns({ width: 48, height: 40, data: new Uint8ClampedArray(48 * 40 * 4).fill(247) }, FIT_PAPER)
  const { strays } = spreadOf([clear, clear, clear])
  expect(Object.values(strays)).toEqual([0, 0, 0, 0, 0, 0, 0])
})
