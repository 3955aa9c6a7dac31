import { describe, expect, it } from 'vitest'
import { readRecipe } from '../brush/migrate-recipe.ts'
import { defaultRecipe } from '../brush/recipe.ts'
import type { Thumbnail } from '../brush/thumbnail.ts'
import { joinBytes } from '../formats/bytes.ts'
import { readPng } from '../formats/png/read.ts'
import { writePng } from '../formats/png/write.ts'
import { toUtf8 } from '../formats/text.ts'
import { toByteSource } from '../formats/zip/layout.ts'
import { ZipWriter } from '../formats/zip/write.ts'
import { hashPixels, sha256Hex } from '../hashes.ts'
import type { Pixels } from '../raster/pixels.ts'
import { roundTip } from '../testing.ts'
import { toFileName, UniqueNames } from './file-name.ts'
import { type PackManifest, parseManifest } from './manifest.ts'
import { openPack } from './read.ts'
import { formatSums, parseSums } from './sums.ts'
import { type PackEntry, placeOpenFiles, satchelPackEntries } from './write.ts'

const tips = [roundTip(8), roundTip(12), roundTip(20), roundTip(5), roundTip(30)]
const tipOf = new Map<string, Pixels>(tips.map((tip) => [hashPixels(tip), tip]))
const [one, two, three, sand, rope] = [...tipOf.keys()]
const brush = (id: string, name: string, frames: string[]) => ({
  id,
  name,
  maker: 'Tidewrack Studio',
  licence: 'CC-BY-4.0',
  tags: ['soft'],
  recipe: defaultRecipe({ sizePx: 20, reading: 'light', frames: frames.length }),
  frames,
  thumbnail: { from: 'stroke' } as Thumbnail,
})
const grained = brush('b4', 'Sand', [one])
grained.recipe.ground.grain = {
  ...{ sha256: sand, anchor: 'canvas', scalePct: 40, strength: 0.8, brightness: 0, contrast: 0.2, randomTurn: 'none' },
} as const // biome-ignore format: one grain
const ribbon = brush('b5', 'Rope', [rope])
const kelp = brush('b3', 'Kelp/edge', [one, three])
kelp.thumbnail = { from: 'frame', frame: 1 }
const worded = brush('b2', 'Down', [two])
worded.thumbnail = { from: 'text', text: 'Down' }
ribbon.recipe.path.ribbon = { lay: 'repeated', leadInPx: 4, leadOutPx: 6 }
const manifest: PackManifest = {
  format: 'satchel-pack',
  version: 3,
  title: 'Saltmarsh',
  maker: 'Tidewrack Studio',
  licence: 'CC-BY-4.0',
  help: 'Press lightly.',
  release: '1.0.0',
  brushes: [brush('b1', 'Down', [one]), worded, kelp, grained, ribbon],
  grains: [{ sha256: sand, name: 'Wet sand' }],
  strips: [{ sha256: rope, name: 'Three-strand' }],
  pockets: [{ name: 'Evening', entries: [{ brush: 'b4', sizePx: 24, label: 'sand, small' }, { brush: 'b4', sizePx: 90, label: '' }] }], // biome-ignore format: one pocket
  sets: [
    { name: 'Kelp & Wrack', brushes: ['b3', 'b1'] },
    { name: 'Feather', brushes: ['b1', 'b2'] },
  ],
}
const pictures = {
  loadPng: async (sha256: string) => writePng(tipOf.get(sha256)!),
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
    const zip = zipOf(await collect(satchelPackEntries(manifest, texts, pictures, sha256Hex)))
    const opened = await openPack(toByteSource(zip))
    expect(opened.manifest).toEqual(manifest)
    const pixelsOf = async (png: Promise<Uint8Array>) => readPng(await png).frames[0].pixels
    for (const each of manifest.brushes)
      for (const sha256 of each.frames)
        expect(await pixelsOf(opened.readFrame(each, sha256))).toEqual(tipOf.get(sha256))
    expect(await pixelsOf(opened.readGrain(sand))).toEqual(tipOf.get(sand))
    for (const place of tips.keys()) expect(await pixelsOf(opened.readThumbnail(place))).toEqual(tips[place])
    const files = (await collect(satchelPackEntries(manifest, texts, pictures, sha256Hex))).map(({ path }) => path)
    expect(files).toContain(`grains/${sand}.png`)
    expect(files).toContain(`strips/${rope}.png`)
    expect(files).not.toContain(`tips/${rope}.png`)
  })

  it('of the first version is read as it was: no grains, no strips, every thumbnail the stroke', () => {
    const { grains, strips, pockets, ...rest } = manifest
    const bare =
      (recipeVersion: number) =>
      ({ thumbnail: _, recipe, ...each }: (typeof manifest.brushes)[number]) => ({
        ...each,
        recipe: { ...recipe, version: recipeVersion },
      })
    const first = { ...rest, version: 1, brushes: manifest.brushes.slice(0, 3).map(bare(1)) }
    const second = { ...manifest, version: 2, brushes: manifest.brushes.map(bare(2)) }
    const strokes = manifest.brushes.map((each) => ({ ...each, thumbnail: { from: 'stroke' } }))
    expect(parseManifest(JSON.stringify(first))).toEqual({ ...manifest, brushes: strokes.slice(0, 3), grains: [], strips: [], pockets: [] }) // biome-ignore format: one manifest
    expect(parseManifest(JSON.stringify(second))).toEqual({ ...manifest, brushes: strokes })
    expect([grains.length, strips.length, pockets.length]).toEqual([1, 1, 1])
  })

  it('lists a checksum for every other file', async () => {
    const entries = await collect(satchelPackEntries(manifest, texts, pictures, sha256Hex))
    const sums = parseSums(new TextDecoder().decode(entries.at(-1)!.bytes))
    expect(sums).toEqual(entries.slice(0, -1).map(({ path, bytes }) => ({ path, sha256: sha256Hex(bytes) })))
    expect(parseSums(formatSums(sums))).toEqual(sums)
  })

  it('is refused when a picture is missing, a reference leads nowhere, or it is newer', async () => {
    const entries = await collect(satchelPackEntries(manifest, texts, pictures, sha256Hex))
    const cut = entries.filter(({ path }) => path !== `tips/${three}.png`)
    await expect(openPack(toByteSource(zipOf(cut)))).rejects.toThrow('expected the picture of "Kelp/edge" in it')
    const change = (edit: object) => () => parseManifest(JSON.stringify({ ...manifest, ...edit }))
    expect(change({ version: 7 })).toThrow('version 3 or older, found 7')
    expect(change({ sets: [{ name: 'S', brushes: ['gone'] }] })).toThrow('the brush "gone" of set "S" in the pack')
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
    expect(() => parseManifest('{')).toThrow('a pack.json that is JSON')
    await expect(openPack(toByteSource(zipOf([{ path: 'x', bytes: toUtf8('x'), packing: 'store' }])))).rejects.toThrow(
      'the file pack.json in it',
    )
  })

  it('keeps recipes within bounds: one wrong part is named', () => {
    const recipe = defaultRecipe({ sizePx: 10 })
    expect(readRecipe(JSON.parse(JSON.stringify(recipe)))).toEqual(recipe)
    expect(() => readRecipe({ ...recipe, mark: { ...recipe.mark, sizePx: 0 } })).toThrow(
      'mark.sizePx to be >=1, found 0',
    )
    expect(() => readRecipe({ ...recipe, version: 99 })).toThrow('version 2 or older, found 99')
    expect(() => readRecipe(null)).toThrow('a version number')
  })
})

describe('open files of a hand-out', () => {
  it('lie in a folder per set, in the order of the sets, names unique and safe', () => {
    expect(placeOpenFiles(manifest).map(({ brush: { id }, base }) => `${id} ${base}`)).toEqual([
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
  })
})
