import { existsSync, readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { setTimeout as pause } from 'node:timers/promises'
import sharp from 'sharp'
import { encodePng } from '../../node/src/png.ts'
import { zipOf } from '../../server/src/testing/tips.ts'
import type { BenchOptions } from './options.ts'
import { atMost, type Row } from './rows.ts'
import { gather, type Served, serve } from './served.ts'

const SMALL = 20_000
const SIDE_PX = 24
const WANTED_S = 30
/** Where Debian's package openclipart-png lies; it is no part of the product. */
const CLIP_ART = '/usr/share/openclipart/png'
/** An archive has so many entries at most. */
const ARCHIVE_MOST = 2_100
/** What comes with the product is painted when a workspace begins. */
const STARTERS_MS = 15_000

/** Many small files out of archives: read, measured and compared with each other. */
export async function smallFileRows(options: BenchOptions): Promise<Row[]> {
  const server = await serve(options, 'bench_small_files')
  try {
    await pause(STARTERS_MS)
    const { read, all } = await timed(server, { 'small.zip': smallTips() })
    const rows = [
      atMost(
        `a zip of ${SMALL.toLocaleString('en')} different pictures of ${SIDE_PX} px: read, named, marked and compared (read in ${read.toFixed(1)} s)`,
        `${all.toFixed(1)} s`,
        `${WANTED_S} s`,
        all / WANTED_S,
        1,
      ),
    ]
    return existsSync(CLIP_ART) ? [...rows, await clipArt(server)] : rows
  } finally {
    await server.close()
  }
}

async function clipArt(server: Served): Promise<Row> {
  const files = listPngs(CLIP_ART)
  const began = performance.now()
  let at = 0
  // as many at once as there are cores, as the server does
  const decode = async () => {
    while (at < files.length) {
      const path = join(CLIP_ART, files[at++] ?? '')
      // what is larger than a picture may be is refused on both sides, by its header
      await sharp(readFileSync(path))
        .raw()
        .toBuffer()
        .catch(() => undefined)
    }
  }
  await Promise.all([decode(), decode()])
  const reference = (performance.now() - began) / 1000
  const zips: Record<string, Uint8Array> = {}
  for (let from = 0; from < files.length; from += ARCHIVE_MOST) {
    const some = files.slice(from, from + ARCHIVE_MOST)
    zips[`clips${from}.zip`] = zipOf(Object.fromEntries(some.map((name) => [name, new Uint8Array(readFileSync(join(CLIP_ART, name)))]))) // biome-ignore format: one line
  }
  const { read, all } = await timed(server, zips)
  return atMost(
    `${files.length.toLocaleString('en')} pieces of clip art out of zips: read, named, marked and compared (read in ${read.toFixed(1)} s), against decoding them by sharp on both cores`,
    `${all.toFixed(1)} s`,
    `${reference.toFixed(1)} s`,
    all / reference,
    1.8,
  )
}

/** Seconds until all of some archives stands in a ledger, and until it is compared, too. */
async function timed(server: Served, zips: Record<string, Uint8Array>): Promise<{ read: number; all: number }> {
  const began = performance.now()
  let read = 0
  const id = await gather(server, zips, 500, (files) => {
    if (files.read === files.total) read ||= (performance.now() - began) / 1000
  })
  const all = (performance.now() - began) / 1000
  await server.post(`/api/gathers/${id}/cancel`)
  return { read, all }
}

function listPngs(folder: string): string[] {
  return readdirSync(folder, { recursive: true, encoding: 'utf8' })
    .filter((name) => name.endsWith('.png'))
    .sort()
}

/** Pictures of eight by eight patches, black or white by lot, with a little noise on all: no two are alike. */
function smallTips(): Uint8Array {
  let state = 1
  const lot = () => {
    state = (Math.imul(state ^ (state >>> 15), 2246822519) + 3266489917) >>> 0
    return state / 2 ** 32
  }
  const patch = SIDE_PX / 8
  const tip = () => {
    const patches = Array.from({ length: 64 }, () => (lot() < 0.5 ? 0 : 200))
    const data = Uint8Array.from({ length: SIDE_PX * SIDE_PX }, (_, i) => {
      const [x, y] = [Math.floor((i % SIDE_PX) / patch), Math.floor(i / SIDE_PX / patch)]
      return (patches[y * 8 + x] ?? 0) + lot() * 50
    })
    return encodePng({ width: SIDE_PX, height: SIDE_PX, channels: 1, data })
  }
  return zipOf(Object.fromEntries(Array.from({ length: SMALL }, (_, n) => [`Set ${n % 20}/tip ${n}.png`, tip()])))
}
