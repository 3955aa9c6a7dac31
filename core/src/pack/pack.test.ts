import { describe, expect, it } from 'vitest'
import { parseRecipe } from '../brush/migrate-recipe.ts'
import { defaultRecipe, RECIPE_VERSION } from '../brush/recipe.ts'
import type { Thumbnail } from '../brush/thumbnail.ts'
import { joinBytes } from '../formats/bytes.ts'
import { readPng } from '../formats/png/read.ts'
import { writePng } from '../formats/png/write.ts'
import { toUtf8 } from '../formats/text.ts'
import { toByteSource } from '../formats/zip/layout.ts'
import { ZipWriter } from '../formats/zip/write.ts'
import { hashBytes, hashPixels, type PixelSha } from '../hashes.ts'
import type { Pixels } from '../raster/pixels.ts'
import { roundTip } from '../testing.ts'
import { toFileName, UniqueNames } from './file-name.ts'
import type { PackBrush, PackManifest } from './manifest.ts'
import { openPack } from './read.ts'
import { parseManifest } from './read-manifest.ts'
import { formatSums, parseSums } from './sums.ts'
import { listOpenFiles, type PackEntry, satchelPackEntries } from './write.ts'

const tips = [roundTip(8), roundTip(12), roundTip(20), roundTip(5), roundTip(30)]
const tipOf = new Map<PixelSha, Pixels>(tips.map((tip) => [hashPixels(tip), tip]))
const [one, two, three, sand, rope] = [...tipOf.keys()]
const brush = (id: string, name: string, frames: PixelSha[]) => ({
  id,
  name,
  maker: 'Tidewrack Studio',
  licence: 'CC-BY-4.0',
  tags: ['soft'],
  recipe: defaultRecipe({ sizePx: 20, reading: 'light', frames: frames.length }),
  frames,
  frameNames: [] as string[],
  keys: [] as [string, string][],
  thumbnail: { from: 'stroke' } as Thumbnail,
  note: 'hold the pen flat',
})
const grained = brush('b4', 'Sand', [one])
grained.recipe.ground.grain = {
  sha256: sand,
  anchor: 'canvas',
  scalePct: 40,
  strength: 0.8,
  brightness: 0,
  contrast: 0.2,
  randomTurn: 'none',
} as const
const ribbon = brush('b5', 'Rope', [rope])
const kelp = brush('b3', 'Kelp/edge', [one, three])
kelp.thumbnail = { from: 'frame', frame: 1 }
const worded = brush('b2', 'Down', [two])
worded.thumbnail = { from: 'text', text: 'Down' }
ribbon.recipe.path.ribbon = { lay: 'repeated', leadInPx: 4, leadOutPx: 6 }
const manifest: PackManifest = {
  format: 'satchel-pack',
  version: 7,
  title: 'Saltmarsh',
  maker: 'Tidewrack Studio',
  licence: 'CC-BY-4.0',
  help: 'Press lightly.',
  release: '1.0.0',
  brushes: [brush('b1', 'Down', [one]), worded, kelp, grained, ribbon],
  grains: [{ sha256: sand, name: 'Wet sand' }],
  strips: [{ sha256: rope, name: 'Three-strand' }],
  pockets: [
    {
      name: 'Evening',
      entries: [
        { brush: 'b4', sizePx: 24, label: 'sand, small' },
        { brush: 'b4', sizePx: 90, label: '' },
      ],
    },
  ],
  single: ['b4'],
  destinations: ['Dunlin'],
  sets: [
    { name: 'Kelp & Wrack', brushes: ['b3', 'b1'] },
    { name: 'Feather', brushes: ['b1', 'b2'] },
  ],
}
const pictures = {
  loadPng: async (sha256: PixelSha) => writePng(tipOf.get(sha256)!),
  loadThumbnail: async (id: string) => writePng(tips[Number(id[1]) - 1]),
}
const texts = { readme: 'Read me', licence: 'Free' }

async function collect(entries: AsyncIterable<PackEntry>): Promise<PackEntry[]> {
  const all: PackEntry[] = []
  for await (const entry of entries) all.push(entry)
  return all
}
function zipOf(entries: readonly PackEntry[]): Uint8Array {
  const zip = new ZipWriter()
  return joinBytes([...entries.flatMap(({ path, bytes, packing }) => zip.add(path, bytes, packing)), ...zip.finish()])
}

describe('a Satchel pack', () => {
  it('gives back the same sets, order, recipes and pixels', async () => {
    const zip = zipOf(await collect(satchelPackEntries(manifest, texts, pictures, hashBytes)))
    const opened = await openPack(toByteSource(zip))
    expect(opened.manifest).toEqual(manifest)
    const pixelsOf = async (png: Promise<Uint8Array>) => readPng(await png).frames[0].pixels
    for (const each of manifest.brushes)
      for (const sha256 of each.frames)
        expect(await pixelsOf(opened.readFrame(each, sha256))).toEqual(tipOf.get(sha256))
    expect(await pixelsOf(opened.readGrain(sand))).toEqual(tipOf.get(sand))
    for (const place of tips.keys()) expect(await pixelsOf(opened.readThumbnail(place))).toEqual(tips[place])
    const files = (await collect(satchelPackEntries(manifest, texts, pictures, hashBytes))).map(({ path }) => path)
    expect(files).toContain(`grains/${sand}.png`)
    expect(files).toContain(`strips/${rope}.png`)
    expect(files).not.toContain(`tips/${rope}.png`)
  })

  it('of every older version is read as it was, and what they allowed more loosely is put right', () => {
    const { grains, strips, pockets, single: _single, destinations: _destinations, ...rest } = manifest
    const old = (recipeVersion: 1 | 2) => (each: PackBrush) => {
      const { thumbnail: _thumbnail, frameNames: _names, keys: _keys, note: _note, recipe, ...kept } = each
      const { scatter: _scatter, ...path } = recipe.path
      const before = { ...recipe, version: recipeVersion, path: { ...path, scatterPct: 0, scatterAxis: 'both' } }
      return { ...kept, recipe: before }
    }
    const first = { ...rest, version: 1, brushes: manifest.brushes.slice(0, 3).map(old(1)) }
    const second = { ...rest, grains, strips, pockets, version: 2, brushes: manifest.brushes.map(old(2)) }
    const strokes = manifest.brushes.map((each) => ({ ...each, thumbnail: { from: 'stroke' }, note: '' }))
    const before = { ...manifest, single: [], destinations: [] }
    expect(parseManifest(JSON.stringify(first))).toEqual({
      ...before,
      brushes: strokes.slice(0, 3),
      grains: [],
      strips: [],
      pockets: [],
    })
    expect(parseManifest(JSON.stringify(second))).toEqual({ ...before, brushes: strokes })
    expect([grains.length, strips.length, pockets.length]).toEqual([1, 1, 1])

    const third = {
      ...rest,
      ...{ grains, strips, pockets },
      version: 3,
      brushes: manifest.brushes.map((each) => ({ ...old(2)(each), thumbnail: each.thumbnail })),
    }
    const loose = structuredClone(third)
    loose.brushes[0].name = 'Do\u0007wn\u202e'
    Object.assign(loose.brushes[2].recipe.path, { nextFrame: [{ rule: 'random', frames: 7 }] })
    const mended = parseManifest(JSON.stringify(loose))
    expect(mended.brushes[0].name).toBe('Do wn')
    expect(mended.brushes[2].recipe.path.nextFrame).toEqual([{ rule: 'random', frames: 2 }])
  })

  it('keeps what one amount of scatter meant: to the sides, along the path, or both', () => {
    const amounts = (scatterAxis: string) => {
      const { scatter: _, ...path } = defaultRecipe().path
      const old = { ...defaultRecipe(), version: 2, path: { ...path, scatterPct: 40, scatterAxis } }
      return parseRecipe(old).path.scatter
    }
    expect(amounts('across')).toEqual({ acrossPct: 40, alongPct: 0 })
    expect(amounts('along')).toEqual({ acrossPct: 0, alongPct: 40 })
    expect(amounts('both')).toEqual({ acrossPct: 40, alongPct: 40 })
  })

  it('is refused when its counts do not fit one another, or a name holds what nobody sees', () => {
    const change = (i: number, edit: (brush: PackBrush) => void) => () => {
      const changed = structuredClone(manifest)
      edit(changed.brushes[i])
      parseManifest(JSON.stringify(changed))
    }
    expect(change(2, (brush) => (brush.recipe.path.nextFrame[0].frames = 3))).toThrow(
      'rules for the 2 frames of "Kelp/edge", found rules for 3',
    )
    expect(change(2, (brush) => (brush.frameNames = ['one']))).toThrow('a name for each of the 2 frames')
    expect(change(2, (brush) => (brush.frameNames = ['one', 'two']))).not.toThrow()
    expect(change(0, (brush) => (brush.name = 'a\u200bb'))).toThrow('characters that can be seen')
    expect(change(0, (brush) => (brush.name = '🪶'.repeat(121)))).toThrow('at most 120 characters')
    expect(change(0, (brush) => (brush.name = '🪶'.repeat(120)))).not.toThrow()
    expect(change(0, (brush) => (brush.keys = [['a b', 'c']]))).toThrow('keys')
  })

  it('lists a checksum for every other file', async () => {
    const entries = await collect(satchelPackEntries(manifest, texts, pictures, hashBytes))
    const sums = parseSums(new TextDecoder().decode(entries.at(-1)!.bytes))
    expect(sums).toEqual(entries.slice(0, -1).map(({ path, bytes }) => ({ path, sha256: hashBytes(bytes) })))
    expect(parseSums(formatSums(sums))).toEqual(sums)
  })

  it('is refused when a picture is missing, a reference leads nowhere, or it is newer', async () => {
    const entries = await collect(satchelPackEntries(manifest, texts, pictures, hashBytes))
    const cut = entries.filter(({ path }) => path !== `tips/${three}.png`)
    await expect(openPack(toByteSource(zipOf(cut)))).rejects.toThrow('expected the picture of "Kelp/edge" in it')
    const change = (edit: object) => () => parseManifest(JSON.stringify({ ...manifest, ...edit }))
    expect(change({ version: 8 })).toThrow('version 7 or older, found 8')
    const setup = { hidden: [], hidesOthers: true }
    expect(change({ setup: { ...setup, until: '2031-02-01T00:00:00.000Z' } })).not.toThrow()
    expect(change({ setup: { ...setup, until: 'next week' } })).toThrow('setup.until')
    expect(change({ sets: [{ name: 'S', brushes: ['gone'] }] })).toThrow('the brush "gone" of set "S" in the pack')
    expect(change({ single: ['gone'] })).toThrow('the single brush "gone" in the pack')
    expect(change({ grains: [] })).toThrow(`the grain or strip ${sand} of "Sand" in the pack`)
    const noWords = entries.filter(({ path }) => path !== 'thumbnails/0002.png')
    await expect(openPack(toByteSource(zipOf(noWords)))).rejects.toThrow('expected the picture of "Down" in it')
    const strokeGone = entries.filter(({ path }) => path !== 'thumbnails/0001.png')
    expect((await openPack(toByteSource(zipOf(strokeGone)))).manifest).toEqual(manifest)
    const noFrame = { ...kelp, thumbnail: { from: 'frame', frame: 2 } }
    expect(change({ brushes: manifest.brushes.with(2, noFrame as typeof kelp) })).toThrow(
      'frame 3, the thumbnail of "Kelp/edge"',
    )
    const noGrain = entries.filter(({ path }) => path !== `grains/${sand}.png`)
    await expect(openPack(toByteSource(zipOf(noGrain)))).rejects.toThrow('expected the picture of "Sand" in it')
    expect(change({ pockets: [{ name: 'P', entries: [{ brush: 'gone', sizePx: 9, label: '' }] }] })).toThrow(
      'the brush "gone" of pocket "P"',
    )
    expect(change({ title: '' })).toThrow('title to be')
    expect(() => parseManifest('{')).toThrow('Not a readable Satchel pack (pack.json): expected JSON')
    await expect(openPack(toByteSource(zipOf([{ path: 'x', bytes: toUtf8('x'), packing: 'store' }])))).rejects.toThrow(
      'the file pack.json in it',
    )
  })

  it('keeps recipes within bounds: one wrong part is named', () => {
    const recipe = defaultRecipe({ sizePx: 10 })
    expect(parseRecipe(JSON.parse(JSON.stringify(recipe)))).toEqual(recipe)
    expect(() => parseRecipe({ ...recipe, mark: { ...recipe.mark, sizePx: 0 } })).toThrow(
      'mark.sizePx to be >=1, found 0',
    )
    expect(() => parseRecipe({ ...recipe, version: 99 })).toThrow(`version ${RECIPE_VERSION} or older, found 99`)
    expect(() => parseRecipe(null)).toThrow('a version number')
  })
})

describe('open files of a hand-out', () => {
  it('lie beside folders, or in one per set, in the order of the sets, names unique and safe', () => {
    expect(listOpenFiles(manifest).map(({ brush: { id }, base }) => `${id} ${base}`)).toEqual([
      'b4 Sand',
      'b3 Kelp & Wrack/Kelp-edge',
      'b1 Kelp & Wrack/Down',
      'b1 Feather/Down',
      'b2 Feather/Down 2',
    ])
  })

  it('have file names that every system takes', () => {
    expect(['a/b:c', '..', 'con', 'Con.txt', '  x. ', 'é✓'].map(toFileName)).toEqual([
      'a-b-c',
      'Unnamed',
      'con-',
      'Con.txt-',
      'x',
      'é✓',
    ])
    const names = new UniqueNames()
    expect(['Dot', 'dot', 'DOT'].map((name) => names.take(name))).toEqual(['Dot', 'dot 2', 'DOT 3'])
    expect(['\u00e9', 'e\u0301'].map((name) => names.take(name))).toEqual(['é', 'é 2'])
    expect(Buffer.byteLength(toFileName('🪶'.repeat(100)))).toBeLessThanOrEqual(200)
  })
})
