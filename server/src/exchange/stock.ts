import { createHash } from 'node:crypto'
import { ZipWriter } from '@satchel/core/formats/zip/write'
import { hashPixels, type PixelSha } from '@satchel/core/hashes'
import { PACK_FORMAT, PACK_VERSION, type PackManifest } from '@satchel/core/pack/manifest'
import type { Signer } from '@satchel/core/pack/signature'
import { satchelPackEntries } from '@satchel/core/pack/write'
import type { Pixels } from '@satchel/core/raster/pixels'
import {
  bristles,
  down,
  feather,
  frond,
  nib,
  pad,
  ripples,
  rope,
  scallop,
  scatter,
  valve,
  whorl,
  wrack,
} from '@satchel/drawn/motifs'
import { alpha, mask, paper, times, tune } from '@satchel/drawn/tuning'
import { nodeHashBytes } from '@satchel/node/hash'
import { encodePng } from '@satchel/node/png'
import { createSigningKey, openSigner } from '@satchel/node/signature'
import type { Shed } from './shed.ts'

type Drawn = { name: string; tags: string[]; frames: Pixels[]; recipe: ReturnType<typeof tune> }
type Offer = {
  maker: string
  title: string
  licence: string
  about: string
  tags: string[]
  /** Its releases, the oldest first: how many of the brushes each has. */
  releases: { version: string; brushes: number; daysAgo: number; notes: string }[]
  brushes: () => Drawn[]
}
const one = (
  name: string,
  tags: string,
  reading: 'dark' | 'light' | 'alpha',
  frames: Pixels | Pixels[],
  how: Parameters<typeof tune>[2],
): Drawn => {
  const all = Array.isArray(frames) ? frames : [frames]
  return { name, tags: tags.split(' '), frames: all, recipe: tune(reading, all.length, how) }
}
const FIRST = { version: '1.0.0', daysAgo: 60, notes: 'First release.' }

/** What is on show at first: six makers who are made up, and what each of them shares. All of it is drawn here. */
const OFFERS: readonly Offer[] = [
  {
    ...{ maker: 'Brita Holm-Aas', title: 'Quiet Feathers', licence: 'CC-BY-4.0', tags: ['birds', 'soft'] },
    about: 'Down, barbs and one good quill, for birds that hold still.',
    releases: [{ ...FIRST, brushes: 3 }, { version: '1.1.0', brushes: 4, daysAgo: 12, notes: 'A quill that scratches.' }],
    brushes: () => [
      one('Breast down', 'soft birds', 'light', mask(down(811, { fibres: 120 })), { size: 80, spacing: 22, jitter: { angle: 1 }, flow: 0.6 }),
      one('Barred plume', 'stamp birds', 'dark', paper(feather(812, { tears: 3 })), { size: 150, spacing: 100, angle: 'following' }),
      one('Loose down', 'soft birds many', 'light', times(3, (k) => down(820 + k, { fibres: 50 })).map(mask), { size: 70, spacing: 48, rule: 'random', jitter: { angle: 1 } }),
      one('Old quill', 'line ink', 'dark', paper(nib(813, { rough: 0.7, flat: 0.12 })), { size: 30, spacing: 7, pressure: 'size' }),
    ],
  },
  {
    ...{ maker: 'Odde Brakwater', title: 'Kelp Forest', licence: 'CC0-1.0', tags: ['sea', 'plants'] },
    about: 'Fronds and bladders, to be drawn upwards.',
    releases: [{ ...FIRST, brushes: 4, daysAgo: 200 }],
    brushes: () => [
      one('Long frond', 'line sea', 'dark', paper(frond(831, { waves: 5 })), { size: 120, spacing: 60, angle: 'following' }),
      one('Ragged frond', 'line sea', 'dark', paper(frond(832, { waves: 9, rag: 0.8 })), { size: 110, spacing: 55, angle: 'following' }),
      one('Bladder wrack', 'stamp sea', 'dark', paper(wrack(833, { bladder: 9 })), { size: 180, spacing: 95, jitter: { angle: 0.4 } }),
      one('Wrack, dry', 'stamp sea', 'dark', paper(wrack(834, { bladder: 2, depth: 6 })), { size: 180, spacing: 95, jitter: { angle: 0.4, size: 0.3 } }),
    ],
  },
  {
    ...{ maker: 'Ilse Duinhof', title: 'Shell Cabinet', licence: 'CC-BY-SA-4.0', tags: ['stamps', 'shells'] },
    about: 'One shell a step. Nine drawers, more when the tide is out.',
    releases: [{ ...FIRST, brushes: 4, daysAgo: 90 }, { version: '2.0.0', brushes: 5, daysAgo: 5, notes: 'A drawer more, and the whorl turns the right way.' }],
    brushes: () => [
      one('Fan', 'stamp shells', 'dark', paper(scallop(841, { ribs: 17 })), { size: 130, spacing: 105, jitter: { angle: 0.2 } }),
      one('Small fans', 'stamp shells many', 'dark', times(4, (k) => scallop(850 + k, { ribs: 9 + k })).map(paper), { size: 70, spacing: 100, rule: 'inOrder' }),
      one('Turret', 'stamp shells', 'dark', paper(whorl(842, { turns: 4.5 })), { size: 120, spacing: 105 }),
      one('Half a mussel', 'stamp shells', 'dark', paper(valve(843, { rings: 14 })), { size: 120, spacing: 100, angle: 'following' }),
      one('Broken bits', 'scatter shells', 'dark', paper(scatter(844, { count: 60, from: 2, to: 9 })), { size: 150, spacing: 60, jitter: { angle: 1 } }),
    ],
  },
  {
    ...{ maker: 'Pell Rasmund', title: 'Cordage', licence: 'CC-BY-4.0', tags: ['ropes'] },
    about: 'Ropes that follow the hand, tarred and clean.',
    releases: [{ ...FIRST, brushes: 3, daysAgo: 40 }],
    brushes: () => [
      one('Three strands', 'line ropes', 'dark', paper(rope(861)), { size: 60, spacing: 48, angle: 'following' }),
      one('Hawser', 'line ropes', 'dark', paper(rope(862, { strands: 4, hairs: 30 })), { size: 96, spacing: 48, angle: 'following' }),
      one('Frayed end', 'stamp ropes', 'dark', paper(bristles(863, { count: 60, dry: 0.2 })), { size: 100, spacing: 90, angle: 'following' }),
    ],
  },
  {
    ...{ maker: 'Wanda Zoutman', title: 'Wet Grounds', licence: 'CC0-1.0', tags: ['washes', 'texture'] },
    about: 'Sand, ripples and worn pads to lay a ground with.',
    releases: [{ ...FIRST, brushes: 4, daysAgo: 25 }],
    brushes: () => [
      one('Ripple marks', 'texture', 'dark', paper(ripples(871)), { size: 160, spacing: 30, angle: 'following', flow: 0.4 }),
      one('Worn pad', 'soft fill', 'light', mask(pad(872, { wear: 0.7 })), { size: 120, spacing: 14, flow: 0.5, pressure: 'opacity' }),
      one('Grit', 'texture scatter', 'light', mask(scatter(873, { count: 700, from: 0.6, to: 2 })), { size: 140, spacing: 28, jitter: { angle: 1 } }),
      one('Dry bristles', 'line dry', 'alpha', alpha(bristles(874, { dry: 0.7 })), { size: 90, spacing: 6, angle: 'following' }),
    ],
  },
  {
    ...{ maker: 'Tove Griend', title: 'Study Sheets Only', licence: 'CC-BY-NC-ND-4.0', tags: ['study'] },
    about: 'For study at home. Not to be passed on changed, nor to be earned by.',
    releases: [{ ...FIRST, brushes: 2, daysAgo: 8 }],
    brushes: () => [
      one('Hard nib', 'line ink', 'dark', paper(nib(881, { flat: 0.4, rough: 0.1 })), { size: 22, spacing: 6, pressure: 'both' }),
      one('Soft round', 'soft', 'light', mask(pad(882, { hard: 0.1 })), { size: 100, spacing: 12, flow: 0.3 }),
    ],
  },
] // biome-ignore format: a table

const DAY_MS = 86_400_000

/** Puts what is on show at first onto the shelves, each signed by a key of its maker's own. */
export async function stock(shed: Shed): Promise<void> {
  for (const offer of OFFERS) {
    const signer = openSigner(createSigningKey().privatePem)
    for (const { version, brushes, daysAgo, notes } of offer.releases) {
      const bytes = await packOf(offer, offer.brushes().slice(0, brushes), version, signer)
      const at = new Date(Date.now() - daysAgo * DAY_MS)
      await shed.publish(bytes, { about: offer.about, tags: offer.tags, notes, at })
    }
  }
}

/** A name of its own that is the same however often it is asked for. */
function nameOf(text: string): string {
  const hex = createHash('sha256').update(text).digest('hex')
  return [hex.slice(0, 8), hex.slice(8, 12), `4${hex.slice(13, 16)}`, `8${hex.slice(17, 20)}`, hex.slice(20, 32)].join(
    '-',
  )
}

async function packOf(
  { maker, title, licence, about }: Offer,
  drawn: readonly Drawn[],
  release: string,
  signer: Signer,
): Promise<Uint8Array> {
  const pngs = new Map<PixelSha, Uint8Array>()
  const brushes = drawn.map(({ name, tags, frames, recipe }): PackManifest['brushes'][number] => ({
    ...{ id: nameOf(`${maker} ${title} ${name}`), name, maker, licence, tags, recipe },
    frames: frames.map((frame) => {
      const sha256 = hashPixels(frame, nodeHashBytes)
      pngs.set(sha256, encodePng(frame))
      return sha256
    }),
    ...{ frameNames: frames.map(() => ''), keys: [], thumbnail: { from: 'stroke' }, note: '' },
  }))
  const manifest: PackManifest = {
    ...{ format: PACK_FORMAT, version: PACK_VERSION, pack: nameOf(`${maker} ${title}`), title, maker, licence },
    ...{ help: about, release, brushes, grains: [], strips: [], single: [], pockets: [], destinations: [] },
    sets: [{ name: title, brushes: brushes.map(({ id }) => id) }],
  }
  const pictures = {
    loadPng: async (sha256: PixelSha) => pngs.get(sha256) ?? new Uint8Array(),
    // what stands for a brush is its first picture: nothing here has another one
    loadThumbnail: async (id: string) => pngs.get(brushes.find((brush) => brush.id === id)?.frames[0] as PixelSha) ?? new Uint8Array(), // biome-ignore format: one line
  }
  const texts = { readme: `${title} by ${maker}\n`, licence: `${licence}\n` }
  const zip = new ZipWriter()
  const parts: Uint8Array[] = []
  for await (const { path, bytes, packing } of satchelPackEntries(manifest, texts, pictures, nodeHashBytes, signer))
    parts.push(...zip.add(path, bytes, packing))
  return new Uint8Array(Buffer.concat([...parts, ...zip.finish()]))
}
