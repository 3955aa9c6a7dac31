import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { defaultRecipe, type PaintReading } from '../brush/recipe.ts'
import { readGbr } from '../formats/gbr/read.ts'
import { writeGbr } from '../formats/gbr/write.ts'
import { readGih } from '../formats/gih/read.ts'
import { writeGih } from '../formats/gih/write.ts'
import { readPng } from '../formats/png/read.ts'
import { toUtf8 } from '../formats/text.ts'
import type { Pixels } from '../raster/pixels.ts'
import { anyPixels, NO_PIXELS, roundTip } from '../testing.ts'
import { readBrushFile, sniffKind } from './kinds.ts'
import { type OpenBrush, toOneCanvas, toOpenBrush, toPaperPicture } from './open-brush.ts'
import { openFileLosses } from './open-losses.ts'
import { fittingKind, TARGETS, type TargetKind, writeBrushFile } from './write.ts'

const brush = (frames: Pixels[], reading: PaintReading = 'light'): OpenBrush => ({
  name: 'Down',
  frames,
  recipe: defaultRecipe({ sizePx: 20, reading, frames: frames.length }),
})
const read = async (bytes: Uint8Array) =>
  toOpenBrush(await readBrushFile(bytes, { png: readPng }), { name: 'unnamed', guess: () => 'dark' })
const write = (kind: TargetKind, of: OpenBrush) => writeBrushFile(kind, of).bytes

describe('brushes in the open files', () => {
  it('come back from GBR as they paint: mask or colours, name and spacing', async () => {
    await fc.assert(
      fc.asyncProperty(
        anyPixels(),
        fc.constantFrom<PaintReading>('dark', 'light', 'alpha', 'own'),
        async (pixels, reading) => {
          const { brush: back, warnings } = await read(write('gbr', brush([pixels], reading)))
          expect([back.name, back.recipe.path.spacingPct, warnings]).toEqual(['Down', 25, []])
          expect(back.recipe.colour.reading).toBe(reading === 'own' ? 'own' : 'light')
          // written again, nothing changes any more
          expect(write('gbr', back)).toEqual(write('gbr', brush([pixels], reading)))
        },
      ),
    )
  })

  it('come back from GIH with frames of their own sizes and names, their rules, and keys that nobody knows', async () => {
    const made = brush([roundTip(5), roundTip(9), roundTip(3), roundTip(7)])
    made.recipe.path.nextFrame = [
      { rule: 'pressure', frames: 2 },
      { rule: 'random', frames: 2 },
    ]
    made.details = { frameNames: ['one', 'two', 'three', 'four'], keys: [['mood', 'wet'], ['placement', 'random']] } // biome-ignore format: one row
    const { brush: back } = await read(write('gih', made))
    expect(back.frames).toEqual(made.frames)
    expect(back.recipe.path.nextFrame).toEqual(made.recipe.path.nextFrame)
    expect(back.details).toMatchObject(made.details)
    expect(write('gih', back)).toEqual(write('gih', made))
  })

  it('fall back to one row where the rules do not make the frames', () => {
    const made = brush([roundTip(5), roundTip(6), roundTip(7)])
    made.recipe.path.nextFrame = [{ rule: 'random', frames: 2 }]
    expect(readGih(write('gih', made)).brush.dimensions).toEqual([{ rank: 3, rule: 'random' }])
  })

  it('fit into GIH with several frames and into GBR with one', () => {
    expect([fittingKind(1), fittingKind(2)]).toEqual(['gbr', 'gih'])
  })

  it('mix masks and colours in one animated brush by giving the masks black ink', async () => {
    const colour: Pixels = { width: 1, height: 1, channels: 4, data: Uint8Array.of(200, 10, 10, 255) }
    const gbr = (picture: Pixels) => ({ version: 2 as const, name: 'f', spacingPct: 10, ...picture })
    const bytes = writeGih({
      name: 'm',
      spacingPct: 10,
      dimensions: [{ rank: 2, rule: 'inOrder' }],
      extra: [],
      frames: [gbr(colour), gbr({ width: 1, height: 1, channels: 1, data: Uint8Array.of(130) })],
    })
    const { brush: back } = await read(bytes)
    expect(back.recipe.colour.reading).toBe('own')
    expect([...back.frames[1].data]).toEqual([0, 0, 0, 130])
  })

  it('tell a spacing that no recipe may have, and bring it within bounds', async () => {
    const odd = writeGbr({ version: 2, name: 'x', spacingPct: 9000, ...roundTip(3) })
    const { brush: back, warnings } = await read(odd)
    expect(back.recipe.path.spacingPct).toBe(1200)
    expect(warnings).toEqual(['Its spacing of 9000 % was brought to 1200 %.'])
  })
})

describe('what a file leaves behind or changes is told', () => {
  const frames = [roundTip(4), roundTip(5), roundTip(6)]
  const full: OpenBrush = {
    ...brush(frames, 'dark'),
    name: 'x'.repeat(130),
    details: {
      maker: 'Ida',
      licence: 'CC0-1.0',
      texts: { Description: 'a dot' },
      pixelsPerMetre: 11_811,
      frameNames: ['a', '', ''],
      delaysMs: [40, 80, 40],
      keys: [['mood', 'wet']],
      saysSpacing: true,
      saysRules: true,
    },
  }
  full.recipe.path.spacingPct = 12.5

  it.each([
    ['gbr', ['2 of 3 frames', 'the names of its frames', 'the rules for the next frame', 'what it says of "mood"', 'its maker, Ida', 'its licence, CC0-1.0', 'its texts (Description)', 'its 300 dpi', 'how long each frame stays']],
    ['gih', ['its maker, Ida', 'its licence, CC0-1.0', 'its texts (Description)', 'its 300 dpi', 'how long each frame stays']],
    ['png', ['the names of its frames', 'the rules for the next frame', 'the spacing of 12.5 %', 'what it says of "mood"']],
  ] as const)('by %s', (kind, left) => {
    const written = writeBrushFile(kind, full)
    expect(written.left).toEqual(left)
    expect(written.changes[0]).toBe(`Its name was written as "${'x'.repeat(120)}".`)
    if (kind !== 'png') expect(written.changes[1]).toBe('Its spacing of 12.5 % was rounded to 13 %.')
  }) // biome-ignore format: rows

  it('and nothing where nothing is lost: everything that a kind holds comes back from it', async () => {
    for (const kind of Object.keys(TARGETS) as TargetKind[])
      expect(writeBrushFile(kind, brush([roundTip(3)], 'dark'))).toMatchObject({ left: [], changes: [] })
    const { texts, maker, licence, pixelsPerMetre, delaysMs } = full.details ?? {}
    const { brush: back } = await read(
      writeBrushFile('png', { ...full, frames: [4, 4, 4].map(roundTip), name: 'Dot' }).bytes,
    )
    expect(back.details).toMatchObject({ texts, maker, licence, pixelsPerMetre, delaysMs })
    expect(back.frames.length).toBe(3)
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
    const { frames, text } = readPng(write('png', brush([small, large], 'dark')))
    expect(frames.length).toBe(2)
    expect(text.Title).toBe('Down')
  })

  it('puts colour and grey frames on a transparent canvas together', () => {
    const grey: Pixels = { width: 1, height: 1, channels: 1, data: Uint8Array.of(9) }
    const colour: Pixels = { width: 2, height: 1, channels: 4, data: Uint8Array.of(1, 2, 3, 4, 5, 6, 7, 8) }
    expect([...toOneCanvas([grey, colour])[0].data]).toEqual([9, 9, 9, 255, 0, 0, 0, 0])
  })
})

describe('what the open files leave behind of a recipe', () => {
  it('is nothing for stamps in a row, and is named for everything else', () => {
    const recipe = defaultRecipe()
    expect(openFileLosses(recipe)).toEqual([])
    recipe.variation.size = { from: 1, to: 1 }
    recipe.path.taper = { startPx: 40, endPx: 0, size: 0, opacity: 0 }
    expect(openFileLosses(recipe)).toEqual([])
    recipe.variation.value = { from: -13, to: 0 }
    recipe.path.count = 3
    recipe.path.scatter.alongPct = 10
    recipe.path.taper = { startPx: 0, endPx: 40, size: 0, opacity: 0.5 }
    recipe.hand.pressure = { size: [[0, 0], [1, 1]] } // biome-ignore format: points
    recipe.colour.behaviour = 'smear'
    recipe.ground.grain = {
      sha256: NO_PIXELS,
      anchor: 'canvas',
      scalePct: 50,
      strength: 1,
      brightness: 0,
      contrast: 0,
      randomTurn: 'none',
    }
    expect(openFileLosses(recipe)).toEqual([
      'the scatter',
      'several stamps a step',
      'the taper',
      'the variation of value',
      'what pressure does',
      'the grain',
      'that it smears',
    ])
    const tone = defaultRecipe({ reading: 'tone' })
    tone.mark.angle.mode = 'following'
    tone.colour.behaviour = 'erase'
    expect(openFileLosses(tone)).toEqual(['the angle', 'the shading by tone', 'that it erases'])
  })
})

describe('the kind of a file', () => {
  it('is told by its content, however little there is', () => {
    expect(sniffKind(Uint8Array.of(0xff, 0xd8, 0xff, 0xe0))).toBe('jpeg')
    expect(sniffKind(toUtf8('RIFF....WEBPVP8 '))).toBe('webp')
    expect(sniffKind(Uint8Array.of(0x50, 0x4b, 5, 6))).toBe('zip')
    expect(sniffKind(toUtf8('%PDF-1.7'))).toBe('foreign')
    expect(readGbr(write('gbr', brush([roundTip(3)]))).name).toBe('Down')
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 60 }), (bytes) => {
        expect(typeof sniffKind(new Uint8Array(bytes))).toBe('string')
      }),
    )
  })

  it('without a decoder for photographs is refused in words, as is what is no brush at all', async () => {
    const refuse = (bytes: Uint8Array) => readBrushFile(bytes, { png: readPng })
    await expect(refuse(Uint8Array.of(0xff, 0xd8, 0xff, 0xe0))).rejects.toThrow('here photographs are not read')
    await expect(refuse(toUtf8('%PDF-1.7'))).rejects.toThrow(
      'PNG, JPEG, TIFF, WebP, open brush, open animated brush, SVG, OpenRaster, OBJ, STL or a Satchel pack',
    )
  })
})
