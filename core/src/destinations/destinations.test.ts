import { sha256 as hashSha256 } from '@noble/hashes/sha2.js'
import { bytesToHex } from '@noble/hashes/utils.js'
import fc from 'fast-check'
import * as v from 'valibot'
import { describe, expect, it } from 'vitest'
import { defaultRecipe, type Recipe } from '../brush/recipe.ts'
import { FormatError, LimitError } from '../errors.ts'
import { readPng } from '../formats/png/read.ts'
import { toNameKey } from '../formats/text.ts'
import { toByteSource } from '../formats/zip/layout.ts'
import { ANIMATION_PIXELS_MAX, NAME_MAX_CHARS } from '../limits.ts'
import { openPack } from '../pack/read.ts'
import { createPixels, type Pixels } from '../raster/pixels.ts'
import { anyRecipe, NO_PIXELS } from '../testing.ts'
import { BUILT_IN } from './built-in.ts'
import { CARRY_ROWS } from './carry-parts.ts'
import { checkDestination, Destination, parseDestination, problemsOf, STAND_INS } from './destination.ts'
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
  name: 'Bar',
  set: 'Bars',
  maker: '',
  licence: '',
  frames,
  recipe: change(defaultRecipe({ sizePx: 50, reading: 'dark', frames: frames.length })),
})
const like = (name: keyof typeof BUILT_IN, pictures: Partial<Destination['pictures']>): Destination => ({
  ...BUILT_IN[name],
  pictures: { ...BUILT_IN[name].pictures, ...pictures },
})
/** A value with its samples told by their hash: one by one, two million of them take a quarter of a minute. */
const hashed = (value: unknown): string =>
  JSON.stringify(value, (_, each) => (each instanceof Uint8Array ? bytesToHex(hashSha256(each)) : each))
const sizesOf = (brush: FitBrush, destination: Destination) =>
  planFit(brush, destination).arrivals.flatMap(({ frames }) => frames.map(({ width, height }) => [width, height]))

/** A grain as a recipe names it, at its own size. */
const grainOn = (anchor: 'canvas' | 'stamp') => ({
  sha256: NO_PIXELS,
  anchor,
  scalePct: 100,
  strength: 1,
  brightness: 0,
  contrast: 0,
  randomTurn: 'none' as const,
})

it('leaves out steps after copying that say nothing, and trims the others: what is typed line by line has such', () => {
  const { afterCopying } = parseDestination({ ...BUILT_IN.dunlin, afterCopying: ['', '  Open it. ', ' '] })
  expect(afterCopying).toEqual(['Open it.'])
})

describe('a description', () => {
  it('that comes with the product fits together, and reads back as it is', () => {
    for (const name of STAND_INS) {
      expect(checkDestination(BUILT_IN[name]), name).toEqual([])
      expect(parseDestination(JSON.parse(JSON.stringify(BUILT_IN[name])))).toEqual(BUILT_IN[name])
    }
  })

  // biome-ignore format: one row a fault
  it.each([
    ['a folder above its own', { files: { ...BUILT_IN.dunlin.files, folder: '../{set}' } }, 'files.folder'],
    ['a folder above its own behind a space', { files: { ...BUILT_IN.dunlin.files, folder: '.. /x' } }, 'files.folder'],
    ['a word that is kept for a device', { files: { ...BUILT_IN.dunlin.files, folder: 'a/CON/{set}' } }, 'files.folder'],
    ['a line break', { files: { ...BUILT_IN.dunlin.files, grainFolder: 'a\nb' } }, 'files.grainFolder'],
    ['a backslash', { files: { ...BUILT_IN.dunlin.files, folder: 'a\\b' } }, 'files.folder'],
    ['a canvas of more pixels than a picture may have', { pictures: { ...BUILT_IN.dunlin.pictures, canvas: { width: 16_384, height: 16_384 } } }, 'pictures'],
    ['squares of more pixels than a picture may have', { pictures: { ...BUILT_IN.shearwater.pictures, leastPx: 16_384, mostPx: 16_384 } }, 'pictures'],
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
    // a picture has no letters
    expect(fitName('🖌', strict)).toBe('brush')
  })

  it('of other scripts are written in plain letters as is usual, and those that become one are kept apart', () => {
    const plain: Destination['names'] = { mostChars: 40, letters: 'plain', letterCase: 'any', unique: 'folder' }
    expect(['Кисть № 7', 'Βούρτσα', '海浪', 'Đường', 'Œuvre à l’eau'].map((name) => fitName(name, plain))).toEqual([
      'Kist no 7', 'Voyrtsa', 'Hai Lang', 'Duong', 'OEuvre a l-eau',
    ]) // biome-ignore format: names beside names
    const names = new FitNames(plain)
    expect(['Кисть', 'Kist', 'Kiст'].map((name) => names.take('x', name))).toEqual(['Kist', 'Kist 2', 'Kist 3'])
    const brush = { ...brushOf([bar(9, 9)]), name: 'Кисть № 7' }
    expect(planFit(brush, { ...BUILT_IN.turnstone, names: plain }).approximated).toContainEqual({
      thing: 'name',
      called: 'its name',
      how: '"Kist no 7"',
    })
  })

  it('are given once, also after they were shortened', () => {
    const names = new FitNames(strict)
    const given = Array.from({ length: 12 }, () => names.take('x', 'Samphire in the evening'))
    expect(new Set(given).size).toBe(12)
    for (const name of given) expect(name.length).toBeLessThanOrEqual(12)
    expect(names.take('another folder', given[0] ?? '')).not.toBe(given[0])
  })

  it('are given once, within every rule, whatever they are: also where many brushes have one long name', () => {
    const rules = fc.record({
      mostChars: fc.integer({ min: 4, max: NAME_MAX_CHARS }),
      letters: fc.constantFrom<'any' | 'plain'>('any', 'plain'),
      letterCase: fc.constantFrom<'any' | 'lower'>('any', 'lower'),
      unique: fc.constantFrom<'folder' | 'everywhere'>('folder', 'everywhere'),
    })
    const words = fc.oneof(
      fc.string({ unit: 'grapheme', maxLength: 140 }),
      fc.constantFrom(
        '海の鳥'.repeat(40),
        'ﬀ'.repeat(120),
        'é̂'.repeat(70),
        'CON',
        '. . .',
        'A'.repeat(120),
        '👩‍👩‍👧'.repeat(20),
        'İ'.repeat(50),
      ),
    )
    fc.assert(
      fc.property(rules, fc.array(words, { minLength: 1, maxLength: 4 }), fc.nat(3), (names, some, before) => {
        const given = new FitNames(names)
        const there = new Set(some.slice(0, before).map((name) => toNameKey(fitName(name, names))))
        const all = Array.from({ length: 120 }, (_, i) =>
          given.take('x', some[i % some.length] ?? '', (tried) => there.has(toNameKey(tried))),
        )
        expect(new Set(all.map(toNameKey)).size).toBe(all.length)
        for (const name of all) {
          expect([...name].length).toBeLessThanOrEqual(names.mostChars)
          expect(there.has(toNameKey(name))).toBe(false)
          expect(name).toBe(name.trim())
          expect(name).not.toBe('')
          if (names.letters === 'plain') expect(name).toMatch(/^[A-Za-z0-9 -]*$/)
          if (names.letterCase === 'lower') expect(name).toBe(name.toLowerCase())
        }
      }),
      { numRuns: 200 },
    )
  })

  it('of which there are more than can be told apart are refused, in an instant', () => {
    const names = new FitNames({ ...strict, mostChars: 4 })
    const take = () => names.take('x', 'Kelp')
    for (let n = 0; n < 9999; n++) take()
    expect(take).toThrow(LimitError)
    expect(() => new FitNames(strict).take('x', 'Kelp', () => true)).toThrow(LimitError)
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
        expect(hashed(planFit(brush, BUILT_IN[name]))).toBe(hashed(plan))
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
    grain: 'inside',
    standIn: undefined,
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

describe('a description that wants too much', () => {
  const many = Array.from({ length: 16 }, () => bar(60, 25))
  it.each([
    ['a large canvas for many pictures', { square: false, canvas: { width: 8000, height: 8000 }, mostPx: 8000 }],
    ['large pictures, many of them', { square: false, leastPx: 16_000, mostPx: 16_384 }],
    ['large squares', { square: true, leastPx: 8000, mostPx: 8000 }],
    ['powers of two', { square: false, powersOfTwo: true, leastPx: 7000, mostPx: 16_384 }],
  ])('is refused before memory is taken: %s', (_what, pictures) => {
    const wide = like('shearwater', pictures)
    const animated = { ...wide, files: { ...wide.files, several: 'apng' as const, mostFrames: 256 } }
    expect(() => planFit(brushOf(many), animated)).toThrow(LimitError)
  })

  it('of its numbers, each at its ends, makes no more pixels than are taken, and samples no grain without end', () => {
    const tile = createPixels(64, 64, 1)
    const sides = [1, 1000, 16_384]
    const brush = {
      ...brushOf(many.slice(0, 3), (recipe) => ({
        ...recipe,
        mark: { ...recipe.mark, sizePx: 1000 },
        ground: { grain: { ...grainOn('stamp'), scalePct: 1 } },
      })),
      grain: { name: 'Grain', pixels: tile },
    }
    const tried = { planned: 0, refused: 0 }
    for (const leastPx of sides)
      for (const mostPx of sides)
        for (const square of [true, false])
          for (const isOwnSize of [true, false])
            for (const canvas of [undefined, { width: 16_384, height: 1 }, { width: 900, height: 7000 }]) {
              const pictures = { ...BUILT_IN.dunlin.pictures, leastPx, mostPx, square, isOwnSize, canvas }
              const wanted = { ...BUILT_IN.dunlin, pictures, grain: 'none' as const }
              if (!v.safeParse(Destination, wanted).success) continue
              try {
                const { arrivals } = planFit(brush, wanted)
                const frames = arrivals.flatMap((arrival) => arrival.frames)
                const pixels = frames.reduce((sum, { width, height }) => sum + width * height, 0)
                expect(pixels).toBeLessThanOrEqual(ANIMATION_PIXELS_MAX)
                tried.planned++
              } catch (error) {
                expect(error).toBeInstanceOf(LimitError)
                tried.refused++
              }
            }
    expect(Math.min(tried.planned, tried.refused)).toBeGreaterThan(0)
  })
})

it('says what is wrong with each part of a description, where it stands', () => {
  expect(problemsOf(BUILT_IN.dunlin).size).toBe(0)
  const { files, ...rest } = BUILT_IN.dunlin
  const said = problemsOf({ ...rest, name: ' ', files: { ...files, folder: '../out' } })
  expect([...said.keys()].sort()).toEqual(['files.folder', 'name'])
  expect(said.get('name')).toBe('a text is needed')
})
