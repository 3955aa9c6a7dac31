import * as v from 'valibot'
import { describe, expect, it } from 'vitest'
import { defaultRecipe, Recipe } from '../brush/recipe.ts'
import { createPixels, type Pixels } from '../raster/pixels.ts'
import { createRandom } from '../stroke/path/random.ts'
import { FIRST_STROKE_NAMES, FIRST_STROKES, measureMark, proposeStroke } from './first-stroke.ts'

/** A tip that paints where it is dark; `paint` from 0 to 1 at a place from -1 to 1 in the longer side. */
function tip(width: number, height: number, paint: (x: number, y: number) => number): Pixels {
  const pixels = createPixels(width, height, 1)
  const half = Math.max(width, height) / 2
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++)
      pixels.data[i] = Math.round(255 * (1 - paint((x + 0.5 - width / 2) / half, (y + 0.5 - height / 2) / half)))
  return pixels
}
const disc = tip(211, 211, (x, y) => (Math.hypot(x, y) < 0.97 ? 1 : 0))
const soft = tip(190, 190, (x, y) => Math.max(0, 1 - Math.hypot(x, y)))
const bar = tip(307, 77, () => 1)
const rings = tip(230, 230, (x, y) => {
  const r = Math.hypot(x, y)
  return r > 0.97 ? 0 : Math.sin(40 * r) > 0 ? 1 : 0.35
})
const specks = (() => {
  const random = createRandom(7)
  const dots = Array.from({ length: 70 }, () => [1.8 * random() - 0.9, 1.8 * random() - 0.9])
  return tip(240, 240, (x, y) => (dots.some(([dx, dy]) => Math.hypot(x - dx, y - dy) < 0.025) ? 1 : 0))
})()
const weave = tip(261, 243, (x, y) => (Math.sin(33 * x) * Math.sin(29 * y) > 0 ? 1 : 0.1))
const proposed = (pixels: Pixels) => proposeStroke(measureMark(pixels, 'dark'))

describe('what a mark is like', () => {
  it('a disc is round, has one edge, and fills what a circle fills of its box', () => {
    const { full, long, edges, pieces, colours } = measureMark(disc, 'dark')
    expect(full).toBeCloseTo((Math.PI / 4) * 0.97 ** 2, 1)
    expect(long).toBeCloseTo(1, 2)
    expect(edges).toBeCloseTo(1, 1)
    expect([pieces, colours]).toEqual([1, 0])
  })

  it('a bar is as long as its sides say, by the second moments of a box', () => {
    expect(measureMark(bar, 'dark').long).toBeCloseTo(307 / 77, 1)
  })

  it('what is drawn inside is edges, and finer than what is seen from afar', () => {
    const [plain, drawn] = [measureMark(disc, 'dark'), measureMark(rings, 'dark')]
    expect(drawn.edges).toBeGreaterThan(3 * plain.edges)
    expect(drawn.fine).toBeGreaterThan(plain.fine + 0.4)
  })

  it('specks are as many pieces as they are', () => {
    expect(measureMark(specks, 'dark').pieces).toBeGreaterThan(40)
    expect(measureMark(specks, 'dark').pieces).toBeLessThanOrEqual(70)
  })

  it('what paints nothing has no size, and divides by nothing', () => {
    expect(
      Object.values(
        measureMark(
          tip(30, 20, () => 0),
          'dark',
        ),
      ).every(Number.isFinite),
    ).toBe(true)
  })

  it('colours count where they are painted, and only of what has its own', () => {
    const data = new Uint8Array(64 * 64 * 4).fill(255)
    for (let i = 0; i < data.length; i += 4) data.set(i % 8 ? [200, 30, 30] : [30, 30, 200], i)
    const flag: Pixels = { width: 64, height: 64, channels: 4, data }
    expect(measureMark(flag, 'own').colours).toBeGreaterThan(0.3)
    expect(measureMark(flag, 'alpha').colours).toBe(0)
  })
})

describe('how a mark strokes at first', () => {
  it.each([
    ['line', disc],
    ['line', soft],
    ['follow', bar],
    ['apart', rings],
    ['texture', specks],
    ['texture', weave],
  ] as const)('%s', (wanted, pixels) => {
    expect(proposed(pixels)).toBe(wanted)
  })

  it('is the same at any size that it is made at', () => {
    const large = tip(922, 231, () => 1)
    expect([proposed(large), proposed(tip(61, 61, (x, y) => (Math.hypot(x, y) < 0.97 ? 1 : 0)))]).toEqual([
      'follow',
      'line',
    ])
  })

  it('gives recipes that are recipes, each another one, and keeps size, reading and frames', () => {
    const plain = defaultRecipe({ sizePx: 91, reading: 'own', frames: 5 })
    const all = FIRST_STROKE_NAMES.map((name) => v.parse(Recipe, FIRST_STROKES[name].recipe(plain)))
    expect(new Set(all.map((recipe) => JSON.stringify(recipe))).size).toBe(FIRST_STROKE_NAMES.length)
    for (const { mark, path, colour } of all)
      expect([mark.sizePx, colour.reading, path.nextFrame]).toEqual([91, 'own', plain.path.nextFrame])
  })
})
