import { beforeAll, describe, expect, it } from 'vitest'
import { defaultRecipe } from '../brush/recipe.ts'
import { fittingKind, writeBrushFile } from '../brush-file/write.ts'
import { joinBytes } from '../formats/bytes.ts'
import { readGih } from '../formats/gih/read.ts'
import { writeGih } from '../formats/gih/write.ts'
import { readPng } from '../formats/png/read.ts'
import { writePng } from '../formats/png/write.ts'
import { fromUtf8, toUtf8 } from '../formats/text.ts'
import { type ByteSource, toByteSource } from '../formats/zip/layout.ts'
import { ZipWriter } from '../formats/zip/write.ts'
import { hashBytes, hashPixels, type PixelSha } from '../hashes.ts'
import type { Pixels } from '../raster/pixels.ts'
import { roundTip } from '../testing.ts'
import { type CheckTools, checkDownload } from './check.ts'
import type { PackBrush, PackManifest } from './manifest.ts'
import { formatSums, SUMS_PATH } from './sums.ts'
import { listOpenFiles, satchelPackEntries } from './write.ts'

type Files = Map<string, Uint8Array>

const tools: CheckTools = {
  codecs: {},
  decoders: { png: readPng },
  hash: hashBytes,
  checkSignature: () => undefined,
  hashSource: async (source: ByteSource) => hashBytes(await source.read(0, source.size)),
}

function zipOf(files: Files): Uint8Array {
  const zip = new ZipWriter()
  return joinBytes([...[...files].flatMap(([path, bytes]) => zip.add(path, bytes, 'store')), ...zip.finish()])
}

/** The files with their checksums made anew. */
function summed(files: Files): Files {
  const others = [...files].filter(([path]) => path !== SUMS_PATH)
  const sums = toUtf8(formatSums(others.map(([path, bytes]) => ({ path, sha256: hashBytes(bytes) }))))
  return new Map([...others, [SUMS_PATH, sums]])
}

async function problemsOf(bytes: Uint8Array): Promise<string[]> {
  const problems: string[] = []
  for await (const step of checkDownload(toByteSource(bytes), tools)) problems.push(...step.problems)
  return problems
}

const tips = [roundTip(8), roundTip(12), roundTip(13), roundTip(14)]
const byName = new Map<PixelSha, Pixels>(tips.map((tip) => [hashPixels(tip), tip]))
const [one, two, three, sand] = [...byName.keys()]
const brush = (id: string, name: string, frames: PixelSha[]): PackBrush => ({
  id,
  name,
  maker: '',
  licence: 'CC0-1.0',
  tags: [],
  frames,
  frameNames: [],
  keys: [],
  recipe: defaultRecipe({ reading: 'light', frames: frames.length }),
  thumbnail: { from: 'stroke' },
  note: '',
})
const grained = brush('b2', 'Sand', [one])
grained.recipe.ground.grain = {
  sha256: sand,
  anchor: 'canvas',
  scalePct: 40,
  strength: 1,
  brightness: 0,
  contrast: 0,
  randomTurn: 'none',
}
const manifest: PackManifest = {
  format: 'satchel-pack',
  version: 7,
  title: 'Saltmarsh',
  maker: '',
  licence: 'CC0-1.0',
  help: '',
  release: '1.0.0',
  brushes: [brush('b1', 'Kelp', [one, two, three]), grained],
  grains: [{ sha256: sand, name: 'Wet sand' }],
  strips: [],
  pockets: [],
  single: [],
  destinations: [],
  sets: [{ name: 'Shore', brushes: ['b1', 'b2'] }],
}

const thumbnail = (): Pixels => ({
  width: 360,
  height: 180,
  channels: 4,
  data: Uint8Array.from({ length: 360 * 180 * 4 }, (_, i) => (i % 4 === 3 ? 255 : i % 251)),
})

describe('the check of a download', () => {
  let pack: Files
  let outer: Files
  const PACK_NAME = 'Saltmarsh.satchel.zip'

  beforeAll(async () => {
    const pictures = {
      loadPng: async (sha256: PixelSha) => writePng(byName.get(sha256) ?? roundTip(1)),
      loadThumbnail: async () => writePng(thumbnail()),
    }
    pack = new Map()
    for await (const { path, bytes } of satchelPackEntries(
      manifest,
      { readme: 'r', licence: 'l' },
      pictures,
      hashBytes,
    ))
      pack.set(path, bytes)
    outer = new Map([['README.txt', toUtf8('r')]])
    for (const { brush, base } of listOpenFiles(manifest)) {
      const frames = brush.frames.map((sha256) => byName.get(sha256) ?? roundTip(1))
      const open = { name: brush.name, frames, recipe: brush.recipe }
      outer.set(`${base}.png`, writeBrushFile('png', open).bytes)
      const kind = fittingKind(frames.length)
      outer.set(`${base}.${kind}`, writeBrushFile(kind, open).bytes)
    }
  })

  /** A download with changes to its own files and to those of the pack inside, all checksums made to fit. */
  const download = (edit: { outer?: (files: Files) => void; pack?: (files: Files) => void } = {}) => {
    const [inside, outside] = [new Map(pack), new Map(outer)]
    edit.pack?.(inside)
    outside.set(PACK_NAME, zipOf(summed(inside)))
    edit.outer?.(outside)
    return zipOf(summed(outside))
  }

  it('finds a sound one sound, and the pack alone too', async () => {
    expect(await problemsOf(download())).toEqual([])
    expect(await problemsOf(zipOf(pack))).toEqual([])
  })

  const swap = (files: Files, path: string, change: (bytes: Uint8Array) => Uint8Array) => {
    const bytes = files.get(path)
    if (!bytes) throw new Error(`${path} is not there`)
    files.set(path, change(bytes))
  }
  const inManifest = (change: (manifest: PackManifest) => void) => (files: Files) =>
    swap(files, 'pack.json', (bytes) => {
      const changed = JSON.parse(fromUtf8(bytes, 'test', 0))
      change(changed)
      return toUtf8(JSON.stringify(changed))
    })

  it.each<[string, Parameters<typeof download>[0], string]>([
    ['a tip swapped for another picture', { pack: (files) => swap(files, `tips/${one}.png`, () => writePng(roundTip(9))) }, `tips/${one}.png: it holds another picture than the one it is named after`],
    ['a grain swapped', { pack: (files) => swap(files, `grains/${sand}.png`, () => writePng(roundTip(9))) }, 'it holds another picture'],
    ['a file that nothing uses', { pack: (files) => files.set('tips/stray.png', writePng(roundTip(5))) }, 'tips/stray.png: nothing in the pack uses it'],
    ['a missing thumbnail', { pack: (files) => files.delete('thumbnails/0001.png') && undefined }, 'thumbnails/0001.png: it is missing'],
    ['a blank thumbnail', { pack: (files) => swap(files, 'thumbnails/0001.png', () => writePng({ ...thumbnail(), data: new Uint8Array(360 * 180 * 4).fill(255) })) }, 'the thumbnail is blank'],
    ['a thumbnail of another size', { pack: (files) => swap(files, 'thumbnails/0002.png', () => writePng(roundTip(9))) }, 'a thumbnail is 360 × 180 px, this is 9 × 9'],
    ['an open file that is missing', { outer: (files) => files.delete('Shore/Kelp.gih') && undefined }, 'Shore/Kelp.gih: it is missing'],
    ['an open brush swapped', { outer: (files) => swap(files, 'Shore/Sand.gbr', () => writeBrushFile('gbr', { name: 'Sand', frames: [roundTip(9)], recipe: grained.recipe }).bytes) }, 'Shore/Sand.gbr: its frame 1 is another picture than in the pack'],
    ['an open picture swapped', { outer: (files) => swap(files, 'Shore/Sand.png', () => writePng(roundTip(8))) }, 'Shore/Sand.png: its frame 1 is another picture'],
    ['a removed frame', { outer: (files) => swap(files, 'Shore/Kelp.gih', withoutLastFrame) }, 'Shore/Kelp.gih: it holds 2 frames, but the brush in the pack 3'],
    ['a count that the frames do not reach', { outer: (files) => swap(files, 'Shore/Kelp.gih', (bytes) => toUtf8Bytes(bytes, 'ncells:3', 'ncells:9')) }, 'The file says ncells:9 but holds 3 frames'],
    ['bytes behind a picture', { outer: (files) => swap(files, 'Shore/Sand.png', (bytes) => joinBytes([bytes, Uint8Array.of(1, 2)])) }, "2 bytes after the picture's end were passed over"],
    ['a brush under a picture’s name', { outer: (files) => swap(files, 'Shore/Sand.png', () => outer.get('Shore/Sand.gbr') ?? new Uint8Array(0)) }, 'Shore/Sand.png: it is gbr inside'],
    ['an archive beside the pack', { outer: (files) => files.set('more.zip', zipOf(new Map([['a', toUtf8('x')]]))) && undefined }, 'more.zip: it is an archive'],
  ])('tells %s', async (_what, edit, sentence) => {
    const problems = await problemsOf(download(edit))
    expect(problems.join('\n')).toContain(sentence)
  }) // biome-ignore format: one tampering a row

  it('refuses rules for more frames than there are, names that hide something, and packs inside packs without end', async () => {
    await expect(
      problemsOf(download({ pack: inManifest((m) => (m.brushes[0].recipe.path.nextFrame[0].frames = 7)) })),
    ).rejects.toThrow('rules for the 3 frames of "Kelp", found rules for 7')
    await expect(problemsOf(download({ pack: inManifest((m) => (m.brushes[0].frames.length = 2)) }))).rejects.toThrow(
      'rules for the 2 frames',
    )
    await expect(problemsOf(download({ pack: inManifest((m) => (m.brushes[0].name = 'Ke\u0000lp')) }))).rejects.toThrow(
      'characters that can be seen',
    )
    let nested = zipOf(pack)
    for (let depth = 0; depth < 3; depth++) nested = zipOf(summed(new Map([['p.satchel.zip', nested]])))
    await expect(problemsOf(nested)).rejects.toThrow('the depth of archives inside archives is 4, at most 3 is taken')
  })

  it('compares every checksum, and says which files have none or are gone', async () => {
    const files = summed(
      new Map([
        ['a.txt', toUtf8('a')],
        ['b.txt', toUtf8('b')],
        ['c.txt', toUtf8('c')],
      ]),
    )
    files.set('a.txt', toUtf8('z'))
    files.delete('b.txt')
    files.set('d.txt', toUtf8('d'))
    expect((await problemsOf(zipOf(files))).sort()).toEqual([
      'a.txt: its checksum differs.',
      'b.txt: it is missing.',
      'd.txt: it has no checksum.',
    ])
    const starred = new Map([
      ['a.txt', toUtf8('a')],
      [SUMS_PATH, toUtf8(`${hashBytes(toUtf8('a'))} *a.txt\n`)],
    ])
    expect(await problemsOf(zipOf(starred))).toEqual([])
    await expect(problemsOf(zipOf(new Map([['a.txt', toUtf8('a')]])))).rejects.toThrow('the file SHA256SUMS in it')
  })
})

/** An animated brush with its last frame cut off, and counts that fit what is left. */
function withoutLastFrame(bytes: Uint8Array): Uint8Array {
  const { brush } = readGih(bytes)
  const frames = brush.frames.slice(0, -1)
  return writeGih({ ...brush, frames, dimensions: [{ rank: frames.length, rule: 'inOrder' }] })
}

function toUtf8Bytes(bytes: Uint8Array, from: string, to: string): Uint8Array {
  const head = String.fromCharCode(...bytes.subarray(0, 400))
  const at = head.indexOf(from)
  return joinBytes([bytes.subarray(0, at), toUtf8(to), bytes.subarray(at + from.length)])
}
