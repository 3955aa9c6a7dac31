import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { defaultRecipe, type PaintReading } from '../brush/recipe.ts'
import { readGbr } from '../formats/gbr/read.ts'
import { readGih } from '../formats/gih/read.ts'
import { readPng } from '../formats/png/read.ts'
import type { Pixels } from '../raster/pixels.ts'
import { anyPixels, roundTip } from '../testing.ts'
import {
  fromGbr,
  fromGih,
  type OpenBrush,
  toGbrFile,
  toGihFile,
  toOneCanvas,
  toOpenBrushFile,
  toPaperPicture,
  toPngFile,
} from './open-brush.ts'
import { openFileLosses } from './open-losses.ts'

const brush = (frames: Pixels[], reading: PaintReading = 'light'): OpenBrush => ({
  name: 'Down',
  frames,
  recipe: defaultRecipe({ sizePx: 20, reading, frames: frames.length }),
})

describe('brushes in the open files', () => {
  it('come back from GBR as they paint: mask or colours, name and spacing', () => {
    fc.assert(
      fc.property(anyPixels(), fc.constantFrom<PaintReading>('dark', 'light', 'alpha', 'own'), (pixels, reading) => {
        const back = fromGbr(readGbr(toGbrFile(brush([pixels], reading))))
        expect(back.name).toBe('Down')
        expect(back.recipe.path.spacingPct).toBe(25)
        expect(back.recipe.colour.reading).toBe(reading === 'own' ? 'own' : 'light')
        // written again, nothing changes any more
        expect(toGbrFile(back)).toEqual(toGbrFile(brush([pixels], reading)))
      }),
    )
  })

  it('come back from GIH with frames of their own sizes and their rules', () => {
    const made = brush([roundTip(5), roundTip(9), roundTip(3), roundTip(7)])
    made.recipe.path.nextFrame = [
      { rule: 'pressure', frames: 2 },
      { rule: 'random', frames: 2 },
    ]
    const back = fromGih(readGih(toGihFile(made)).brush)
    expect(back.frames).toEqual(made.frames)
    expect(back.recipe.path.nextFrame).toEqual(made.recipe.path.nextFrame)
  })

  it('fall back to one row where the rules do not make the frames', () => {
    const made = brush([roundTip(5), roundTip(6), roundTip(7)])
    made.recipe.path.nextFrame = [{ rule: 'random', frames: 2 }]
    expect(readGih(toGihFile(made)).brush.dimensions).toEqual([{ rank: 3, rule: 'random' }])
  })

  it('choose GIH for several frames and GBR for one', () => {
    expect(toOpenBrushFile(brush([roundTip(4)])).extension).toBe('gbr')
    expect(toOpenBrushFile(brush([roundTip(4), roundTip(4)])).extension).toBe('gih')
  })

  it('mix masks and colours in one animated brush by giving the masks black ink', () => {
    const colour: Pixels = { width: 1, height: 1, channels: 4, data: Uint8Array.of(200, 10, 10, 255) }
    const gbr = (picture: Pixels) => ({ version: 2 as const, name: 'f', spacingPct: 10, ...picture })
    const back = fromGih({
      name: 'm',
      spacingPct: 10,
      dimensions: [{ rank: 2, rule: 'inOrder' }],
      extra: [],
      frames: [gbr(colour), gbr({ width: 1, height: 1, channels: 1, data: Uint8Array.of(130) })],
    })
    expect(back.recipe.colour.reading).toBe('own')
    expect([...back.frames[1].data]).toEqual([0, 0, 0, 130])
  })
})

describe('the picture a PNG shows', () => {
  it('is black paint on white paper for dark and light, black with alpha for alpha, and itself for own colours', () => {
    const mask: Pixels = { width: 3, height: 1, channels: 1, data: Uint8Array.of(0, 100, 255) }
    expect([...toPaperPicture(mask, 'light').data]).toEqual([255, 155, 0])
    expect([...toPaperPicture(mask, 'dark').data]).toEqual([0, 100, 255])
    const colour: Pixels = { width: 1, height: 1, channels: 4, data: Uint8Array.of(200, 10, 10, 77) }
    expect([...toPaperPicture(colour, 'alpha').data]).toEqual([0, 0, 0, 77])
    expect(toPaperPicture(colour, 'own')).toBe(colour)
  })

  it('centres frames of different sizes on one canvas of paper', () => {
    const small: Pixels = { width: 1, height: 1, channels: 1, data: Uint8Array.of(9) }
    const large: Pixels = { width: 3, height: 3, channels: 1, data: new Uint8Array(9).fill(5) }
    expect(toOneCanvas([small, large]).map(({ data }) => [...data])).toEqual([
      [255, 255, 255, 255, 9, 255, 255, 255, 255],
      [5, 5, 5, 5, 5, 5, 5, 5, 5],
    ])
    const { frames, text } = readPng(toPngFile(brush([small, large], 'dark')))
    expect(frames.length).toBe(2)
    expect(text.Title).toBe('Down')
  })

  it('puts colour and grey frames on a transparent canvas together', () => {
    const grey: Pixels = { width: 1, height: 1, channels: 1, data: Uint8Array.of(9) }
    const colour: Pixels = { width: 2, height: 1, channels: 4, data: Uint8Array.of(1, 2, 3, 4, 5, 6, 7, 8) }
    expect([...toOneCanvas([grey, colour])[0].data]).toEqual([9, 9, 9, 255, 0, 0, 0, 0])
  })
})

describe('what the open files leave behind', () => {
  it('is nothing for stamps in a row, and is named for everything else', () => {
    const recipe = defaultRecipe()
    expect(openFileLosses(recipe)).toEqual([])
    recipe.variation.size = { from: 1, to: 1 }
    expect(openFileLosses(recipe)).toEqual([])
    recipe.variation.value = { from: -13, to: 0 }
    recipe.path.count = 3
    recipe.hand.pressure = { size: [[0, 0], [1, 1]] } // biome-ignore format: points
    recipe.colour.behaviour = 'smear'
    recipe.ground.grain = { sha256: 'a'.repeat(64), anchor: 'canvas', scalePct: 50, strength: 1, brightness: 0, contrast: 0, randomTurn: 'none' } // biome-ignore format: one grain
    expect(openFileLosses(recipe)).toEqual([
      'the grain',
      'scatter and count',
      'the variation',
      'the curves of the hand',
      'that it smears',
    ])
  })
})
