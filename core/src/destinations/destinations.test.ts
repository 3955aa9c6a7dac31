import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { defaultRecipe, type Recipe } from '../brush/recipe.ts'
import { FormatError } from '../errors.ts'
import { readPng } from '../formats/png/read.ts'
import { toByteSource } from '../formats/zip/layout.ts'
import { openPack } from '../pack/read.ts'
import { createPixels, type Pixels } from '../raster/pixels.ts'
import { anyRecipe, NO_PIXELS } from '../testing.ts'
import { BUILT_IN } from './built-in.ts'
import { CARRY_ROWS } from './carry-parts.ts'
import { checkDestination, type Destination, parseDestination, STAND_INS } from './destination.ts'
import { FitNames, fitName } from './fit-name.ts'
import type { FitBrush } from './fit-state.ts'
import { planFit } from './plan.ts'
import { FitWriter } from './write-files.ts'

/** A bar, dark on white, that touches all four borders. */
function bar(width: number, height: number): Pixels {
  const out = createPixels(width, height, 1)
  out.data.fill(40)
  return out
}
const brushOf = (frames: Pixels[], change: (recipe: Recipe) => Recipe = (recipe) => recipe): FitBrush => ({
  ...{ name: 'Bar', set: 'Bars', maker: '', licence: '', frames },
  recipe: change(defaultRecipe({ sizePx: 50, reading: 'dark', frames: frames.length })),
})
const like = (name: keyof typeof BUILT_IN, pictures: Partial<Destination['pictures']>): Destination => ({
  ...BUILT_IN[name],
  pictures: { ...BUILT_IN[name].pictures, ...pictures },
})
const sizesOf = (brush: FitBrush, destination: Destination) =>
  planFit(brush, destination).arrivals.flatMap(({ frames }) => frames.map(({ width, height }) => [width, height]))

/** A grain as a recipe names it, at its own size. */
const grainOn = (anchor: 'canvas' | 'stamp') => ({
  ...{ sha256: NO_PIXELS, anchor, scalePct: 100, strength: 1, brightness: 0, contrast: 0 },
  randomTurn: 'none' as const,
})

describe('a description', () => {
  it('that comes with the product fits together, and reads back as it is', () => {
    for (const name of STAND_INS) {
      expect(checkDestination(BUILT_IN[name]), name).toEqual([])
      expect(parseDestination(JSON.parse(JSON.stringify(BUILT_IN[name])))).toEqual(BUILT_IN[name])
    }
  })

  it.each([
    ['a folder above its own', { files: { ...BUILT_IN.dunlin.files, folder: '../{set}' } }, 'files.folder'],
    ['a drive', { files: { ...BUILT_IN.dunlin.files, folder: 'C:/x' } }, 'files.folder'],
    ['an unknown part', { knows: { ...BUILT_IN.dunlin.knows, 'mark.glow': true } }, 'knows'],
    ['a range the wrong way round', { knows: { 'path.spacingPct': { from: 9, to: 1 } } }, 'path.spacingPct'],
    ['an unknown kind', { knows: { 'path.nextFrame': ['sometimes'] } }, 'path.nextFrame'],
    ['a newer version', { version: 2 }, 'version'],
  ])('with %s is refused, and says where', (_, change, where) => {
    expect(() => parseDestination({ ...BUILT_IN.dunlin, ...change })).toThrow(FormatError)
    expect(() => parseDestination({ ...BUILT_IN.dunlin, ...change })).toThrow(where)
  })
})

describe('names', () => {
  const strict: Destination['names'] = { mostChars: 12, letters: 'plain', letterCase: 'lower', unique: 'everywhere' }

  it('keep the rules, whatever they were', () => {
    fc.assert(
      fc.property(fc.string({ maxLength: 60 }), (name) => {
        expect(fitName(name, strict)).toMatch(/^[a-z0-9 -]{1,12}$/)
      }),
    )
    expect(fitName('Écume à marée', strict)).toBe('ecume a mare')
    expect(fitName('海', strict)).toBe('brush')
  })

  it('are given once, also after they were shortened', () => {
    const names = new FitNames(strict)
    const given = Array.from({ length: 12 }, () => names.take('x', 'Samphire in the evening'))
    expect(new Set(given).size).toBe(12)
    for (const name of given) expect(name.length).toBeLessThanOrEqual(12)
    expect(names.take('another folder', given[0] ?? '')).not.toBe(given[0])
  })
})

describe('pictures', () => {
  it('become square, powers of two, a canvas, and are bounded; the mark stays as wide and as far apart', () => {
    expect(sizesOf(brushOf([bar(60, 25)]), like('shearwater', {}))).toEqual([[60, 60]])
    expect(sizesOf(brushOf([bar(60, 25)]), like('shearwater', { square: false, powersOfTwo: true }))).toEqual([
      [64, 32],
    ])
    expect(
      sizesOf(brushOf([bar(60, 25)]), like('shearwater', { square: false, canvas: { width: 100, height: 40 } })),
    ).toEqual([[100, 40]])
    expect(sizesOf(brushOf([bar(300, 100)]), like('shearwater', { square: false, mostPx: 150 }))).toEqual([[150, 50]])
    expect(sizesOf(brushOf([bar(6, 3)]), like('shearwater', { square: false, leastPx: 16 }))).toEqual([[16, 8]])
    // a mark 50 px high and 20 wide, a step of 25 % of 20 px
    const tall = planFit(brushOf([bar(40, 100)]), like('shearwater', {})).arrivals[0]
    expect(tall?.recipe.mark.sizePx).toBe(50)
    expect(((tall?.recipe.path.spacingPct ?? 0) / 100) * 50).toBeCloseTo(0.25 * 20, 9)
  })

  it('have a grain drawn in from their middle', () => {
    const tile = createPixels(16, 16, 1)
    tile.data.fill(255)
    tile.data[0] = 0 // one dark px, where the grain begins
    const brush = {
      ...brushOf([bar(80, 80)], (recipe) => ({
        ...recipe,
        mark: { ...recipe.mark, sizePx: 80 },
        ground: { grain: grainOn('stamp') },
      })),
      grain: { name: 'Dot', pixels: tile },
    }
    const [arrival] = planFit(brush, BUILT_IN.turnstone, { grain: 'intoTip', circle: 'cut' }).arrivals
    const [frame] = arrival?.frames ?? []
    if (!frame) throw new Error('no frame')
    const at = (x: number, y: number) => frame.data[y * frame.width + x]
    // light paints there: paint is gone where the grain is dark, in the middle and a tile away
    expect([at(40, 40), at(41, 40), at(56, 40), at(40, 24), at(39, 39)]).toEqual([0, 215, 0, 0, 215])
  })
})

describe('a plan', () => {
  it('is the same for the same brush, destination and answers, and brings every part within what is known', () => {
    fc.assert(
      fc.property(anyRecipe, fc.constantFrom(...STAND_INS), (recipe, name) => {
        const frames = recipe.path.nextFrame.reduce((all, each) => all * each.frames, 1)
        const pictures = Array.from({ length: frames }, (_, i) => bar(11 + i, 7))
        const brush: FitBrush = { ...brushOf(pictures), recipe }
        const plan = planFit(brush, BUILT_IN[name])
        expect(planFit(brush, BUILT_IN[name])).toEqual(plan)
        for (const arrival of plan.arrivals)
          for (const { name: part, group, key } of CARRY_ROWS) {
            const said = BUILT_IN[name].knows[part]
            const value = (arrival.recipe[group] as Record<string, unknown>)[key]
            if (typeof said === 'object' && 'from' in said && typeof value === 'number') {
              expect(value, `${part} to ${name}`).toBeGreaterThanOrEqual(said.from)
              expect(value, `${part} to ${name}`).toBeLessThanOrEqual(said.to)
            }
            if (Array.isArray(said) && typeof value === 'string') expect(said, `${part} to ${name}`).toContain(value)
          }
      }),
      { numRuns: 30 },
    )
  })
})

describe('files', () => {
  it('go round what is there, and a grain that two brushes use is written once', () => {
    const tile = bar(8, 8)
    const brush = {
      ...brushOf([bar(20, 20)], (recipe) => ({ ...recipe, ground: { grain: grainOn('canvas') } })),
      grain: { name: 'Weave', pixels: tile },
    }
    const writer = new FitWriter(BUILT_IN.sanderling, { library: 'Shore', avoid: ['Sanderling 5/Shore/Bars/Bar.png'] })
    const paths = [1, 2].map(() =>
      planFit(brush, BUILT_IN.sanderling)
        .arrivals.flatMap((arrival) => writer.write(arrival))
        .map(({ path }) => path),
    )
    expect(paths).toEqual([
      [
        'Sanderling 5/Shore/Bars/Bar 2.png',
        'Sanderling 5/Shore/Grains/Weave.png',
        'Sanderling 5/Shore/Bars/Bar 2.sand',
      ],
      ['Sanderling 5/Shore/Bars/Bar 3.png', 'Sanderling 5/Shore/Bars/Bar 3.sand'],
    ])
  })

  it('go round names of another case, settings, and, where it must be, names in any other folder', () => {
    const nameOf = (name: keyof typeof BUILT_IN, avoid: string[]) => {
      const [arrival] = planFit(brushOf([bar(20, 20)]), BUILT_IN[name]).arrivals
      return arrival && new FitWriter(BUILT_IN[name], { library: 'Shore', avoid }).write(arrival)[0]?.path
    }
    expect(nameOf('dunlin', ['BARS/bar.GBR'])).toBe('Bars/Bar 2.gbr')
    expect(nameOf('shearwater', ['Bars/Bar.tune'])).toBe('Bars/Bar 2.png')
    expect(nameOf('dunlin', ['Elsewhere/Bar.gbr'])).toBe('Bars/Bar.gbr')
    expect(nameOf('plover', ['Elsewhere/Bar.svg'])).toBe('Bars/Bar 2.svg')
  })

  it('never leave the folder of the app, whatever a set or a library is called', () => {
    fc.assert(
      fc.property(fc.string({ maxLength: 20 }), fc.string({ maxLength: 20 }), (set, library) => {
        const [arrival] = planFit({ ...brushOf([bar(9, 9)]), set }, BUILT_IN.sanderling).arrivals
        if (!arrival) throw new Error('nothing arrives')
        for (const { path } of new FitWriter(BUILT_IN.sanderling, { library }).write(arrival)) {
          const parts = path.split('/')
          expect(parts.slice(0, 1)).toEqual(['Sanderling 5'])
          for (const part of parts) expect(part).toMatch(/^[^.][^\\:*?"<>|]*$/)
        }
      }),
    )
  })
})

it('a drawing of lines keeps greys as tones, and a plain shape as one', () => {
  const drawn = (frame: Pixels) => {
    const [arrival] = planFit(
      brushOf([frame], (recipe) => ({ ...recipe, colour: { ...recipe.colour, reading: 'light' } })),
      BUILT_IN.plover,
    ).arrivals
    const [svg] = arrival ? new FitWriter(BUILT_IN.plover, { library: 'Shore' }).write(arrival) : []
    return new TextDecoder().decode(svg?.bytes).match(/<path/g)?.length
  }
  const soft = createPixels(60, 60, 1)
  soft.data.set(soft.data.map((_, i) => Math.max(0, 255 - 8 * Math.hypot((i % 60) - 30, Math.floor(i / 60) - 30))))
  const hard = createPixels(60, 60, 1)
  hard.data.set(hard.data.map((_, i) => (Math.hypot((i % 60) - 30, Math.floor(i / 60) - 30) < 25 ? 255 : 0)))
  expect([drawn(soft), drawn(hard)]).toEqual([4, 1])
})

it('a brush goes into a Satchel pack of its own with all that it is', async () => {
  const ownPack: Destination = {
    ...BUILT_IN.sanderling,
    files: {
      ...BUILT_IN.sanderling.files,
      single: 'satchel',
      several: 'satchel',
      settings: undefined,
      folder: '{set}',
    },
    ...{ grain: 'inside', standIn: undefined },
  }
  expect(checkDestination(ownPack)).toEqual([])
  await fc.assert(
    fc.asyncProperty(anyRecipe, async (recipe) => {
      const frames = recipe.path.nextFrame.reduce((all, each) => all * each.frames, 1)
      const pictures = Array.from({ length: frames }, (_, i) => bar(9 + i, 7))
      const grain = recipe.ground.grain && { name: 'Weave', pixels: bar(8, 8) }
      const brush: FitBrush = { ...brushOf(pictures), maker: 'Ida', licence: 'CC0-1.0', recipe, grain }
      const [arrival] = planFit(brush, ownPack).arrivals
      const files = arrival ? new FitWriter(ownPack, { library: 'Shore' }).write(arrival) : []
      expect(files.map(({ path }) => path)).toEqual(['Bars/Bar.satchel.zip'])
      const pack = await openPack(toByteSource(files[0]?.bytes ?? new Uint8Array()))
      const [read] = pack.manifest.brushes
      if (!read || !arrival) throw new Error('no brush')
      expect([read.name, read.maker, read.licence, pack.manifest.sets[0]?.name]).toEqual([
        'Bar',
        'Ida',
        'CC0-1.0',
        'Bars',
      ])
      const { ground, ...rest } = read.recipe
      expect({ ...rest }).toEqual(JSON.parse(JSON.stringify({ ...arrival.recipe, ground: undefined })))
      for (const [i, sha256] of read.frames.entries()) {
        const [frame] = readPng(await pack.readFrame(read, sha256)).frames
        expect(frame?.pixels).toEqual(arrival.frames[i])
      }
      if (ground.grain) expect(readPng(await pack.readGrain(ground.grain.sha256)).frames[0]?.pixels).toEqual(bar(8, 8))
      else expect(recipe.ground.grain).toBeUndefined()
    }),
    { numRuns: 25 },
  )
})
