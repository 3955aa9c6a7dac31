import fc from 'fast-check'
import * as v from 'valibot'
import { describe, expect, it } from 'vitest'
import type { Pixels } from '../raster/pixels.ts'
import { anyPixels, roundTip } from '../testing.ts'
import { guessReading, toCoverage } from './coverage.ts'
import { parseRecipe } from './migrate-recipe.ts'
import { defaultRecipe, PAINT_READINGS, pointsRange, RECIPE_VERSION, Recipe, spreadRange, turnRange } from './recipe.ts'

const rgba = (...pixels: [number, number, number, number][]): Pixels => ({
  width: pixels.length,
  height: 1,
  channels: 4,
  data: Uint8Array.from(pixels.flat()),
})
const grey = (...levels: number[]): Pixels => ({
  width: levels.length,
  height: 1,
  channels: 1,
  data: Uint8Array.from(levels),
})

describe('paint readings', () => {
  it('read dark, light and alpha as their names say, and weigh by alpha', () => {
    expect([...toCoverage(grey(0, 64, 255), 'dark').data]).toEqual([255, 191, 0])
    expect([...toCoverage(grey(0, 64, 255), 'light').data]).toEqual([0, 64, 255])
    const mixed = rgba([0, 0, 0, 255], [0, 0, 0, 128], [255, 255, 255, 255], [255, 255, 255, 0])
    expect([...toCoverage(mixed, 'dark').data]).toEqual([255, 128, 0, 0])
    expect([...toCoverage(mixed, 'light').data]).toEqual([0, 0, 255, 0])
    expect([...toCoverage(mixed, 'alpha').data]).toEqual([255, 128, 255, 0])
  })

  it('keep own colours as they are, and give one channel for everything that takes the chosen colour', () => {
    fc.assert(
      fc.property(anyPixels(), (pixels) => {
        expect(toCoverage(pixels, 'own').channels).toBe(4)
        for (const reading of ['dark', 'light', 'alpha'] as const) {
          const covered = toCoverage(pixels, reading)
          expect([covered.width, covered.height, covered.channels]).toEqual([pixels.width, pixels.height, 1])
        }
        if (pixels.channels === 4) expect(toCoverage(pixels, 'own')).toEqual(pixels)
      }),
    )
  })

  it('dark and light of an opaque grey add up to full paint', () => {
    fc.assert(
      fc.property(fc.uint8Array({ minLength: 1, maxLength: 40 }), (levels) => {
        const picture = grey(...levels)
        const [dark, light] = [toCoverage(picture, 'dark').data, toCoverage(picture, 'light').data]
        dark.forEach((value, i) => {
          expect(value + light[i]).toBe(255)
        })
      }),
    )
  })

  it('are guessed from the picture: colour, transparency, or what the border shows', () => {
    expect(guessReading(roundTip(20))).toBe('light')
    expect(guessReading({ ...roundTip(20), data: roundTip(20).data.map((level) => 255 - level) })).toBe('dark')
    expect(guessReading(rgba([0, 0, 0, 255], [0, 0, 0, 0], [9, 9, 9, 255], [0, 0, 0, 0]))).toBe('alpha')
    expect(guessReading(rgba([200, 30, 30, 255], [20, 200, 30, 255]))).toBe('own')
    expect(guessReading(rgba([250, 250, 250, 255], [10, 10, 10, 255], [250, 250, 250, 255]))).toBe('dark')
  })
})

describe('recipes', () => {
  it('are valid as they start, for every reading and any number of frames, and come back from JSON the same', () => {
    for (const reading of PAINT_READINGS) {
      for (const frames of [1, 7, 256]) {
        const recipe = defaultRecipe({ sizePx: 33, reading, frames })
        expect(v.is(Recipe, recipe)).toBe(true)
        expect(parseRecipe(JSON.parse(JSON.stringify(recipe)))).toEqual(recipe)
      }
    }
    expect(defaultRecipe({ sizePx: 16_000 }).mark.sizePx).toBe(4096)
    expect(defaultRecipe({ sizePx: 0 }).mark.sizePx).toBe(1)
  })

  it.each([
    ['mark.sizePx', Number.NaN],
    ['mark.sizePx', Number.POSITIVE_INFINITY],
    ['mark.squash', 0],
    ['path.spacingPct', 0],
    ['path.spacingPct', 1201],
    ['path.scatter', { acrossPct: 1201, alongPct: 0 }],
    ['path.count', 1.5],
    ['path.count', 200],
    ['path.nextFrame', []],
    ['variation.size', 1.2],
    ['variation.size', { from: 0.7 }],
    [
      'hand.pressure',
      {
        size: [
          [0.5, 0],
          [0.2, 1],
        ],
      },
    ],
    ['hand.pressure', { size: [[0, 0]] }],
    ['ground.grain', { sha256: 'somewhere else' }],
    ['colour.reading', 'loud'],
    ['colour.blend', 'glow'],
  ])('refuse %s of %j, and name the part', (path, value) => {
    const recipe = structuredClone(defaultRecipe()) as unknown as Record<string, Record<string, unknown>>
    const [group, part] = path.split('.') as [string, string]
    recipe[group][part] = value
    expect(() => parseRecipe(recipe)).toThrow(new RegExp(`expected ${path.replace('.', '\\.')}`))
  })

  it('refuse parts that nobody knows, so that nothing is lost in silence', () => {
    expect(() => parseRecipe({ ...defaultRecipe(), extra: 1 })).toThrow('extra')
  })

  it('of version 1 are read as they were meant', () => {
    const { variation, path, ...rest } = defaultRecipe({ sizePx: 40, frames: 3 })
    const { scatter, ...kept } = path
    const first = {
      ...rest,
      version: 1,
      path: { ...kept, scatterPct: 0, scatterAxis: 'across' },
      variation: { ...variation, angle: 0.25, saturation: { from: -5, to: 5 }, value: { from: 0, to: 0 } },
    }
    expect(parseRecipe(first)).toEqual({ ...first, path: { ...kept, scatter }, version: RECIPE_VERSION })
    expect(turnRange(0.25)).toEqual({ from: -45, to: 45 })
    expect(pointsRange({ from: -13, to: 0 })).toEqual({ from: -13, to: 0 })
    expect(pointsRange(0.2)).toEqual({ from: -20, to: 20 })
  })

  it('draw from [1 - v, 1] by an amount, and from what is said by a range', () => {
    expect(spreadRange(0.3)).toEqual({ from: 0.7, to: 1 })
    expect(spreadRange({ from: 0.7, to: 0.8 })).toEqual({ from: 0.7, to: 0.8 })
  })
})
