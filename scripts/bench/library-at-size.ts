import { createHash } from 'node:crypto'
import { createReadStream, createWriteStream, rmSync, statSync } from 'node:fs'
import { join } from 'node:path'
import { Readable } from 'node:stream'
import { pipeline } from 'node:stream/promises'
import { setTimeout as pause } from 'node:timers/promises'
import { crc32, deflateSync } from 'node:zlib'
import pg from 'pg'
import { writePng } from '../../core/src/formats/png/write.ts'
import type { PixelSha } from '../../core/src/hashes.ts'
import { fillLibrary } from './filling.ts'
import type { BenchOptions } from './options.ts'
import { atMost, type Row } from './rows.ts'
import { type Served, serve } from './served.ts'

const BRUSHES = 10_000
const SIDE_PX = 656 // of noise: 420 KiB, so that all are 4 GiB
const MEMORY_MIB = 600
const MINUTES = 10

/** A whole library as one file: written, given to an empty server, and written there again. */
export async function librarySizeRows(options: BenchOptions): Promise<Row[]> {
  const files = ['first', 'again'].map((name) => join(options.folder, `${name}.zip`))
  const [first = '', again = ''] = files
  const wrote = await withServer(options, 'wrote', async (served) => {
    await fillLibrary(served, { brushes: BRUSHES, perSet: 100, tip: tips() })
    return watched(served, () => fetchLibrary(served, first))
  })
  const gave = await withServer(options, 'gave', async (served) => {
    const given = await watched(served, () => giveLibrary(served, first))
    const { minutes } = await watched(served, () => fetchLibrary(served, again))
    return { ...given, again: minutes }
  })
  const isSame = (await hashOf(first)) === (await hashOf(again))
  const gib = statSync(first).size / 1024 ** 3
  for (const file of files) rmSync(file)
  const size = `${BRUSHES.toLocaleString('en')} brushes, ${gib.toFixed(1)} GiB`
  const memory = (what: string, peak: number) =>
    atMost(
      `${what}: memory of the largest process`,
      `${Math.round(peak)} MiB`,
      `${MEMORY_MIB} MiB`,
      peak / MEMORY_MIB,
      1,
    )
  const time = (what: string, minutes: number) =>
    atMost(what, `${minutes.toFixed(1)} min`, `${MINUTES} min`, minutes / MINUTES, 1)
  return [
    time(`a library of ${size} written and fetched`, wrote.minutes),
    memory('the same', wrote.peak),
    time('sent to an empty server and given back', gave.minutes),
    memory('the same', gave.peak),
    time('written there again', gave.again),
    {
      what: 'both files byte for byte the same',
      ours: isSame ? 'yes' : 'no',
      reference: 'yes',
      ratio: 1,
      wanted: 'yes',
      met: isSame,
    },
  ]
}

/** Runs a server for as long as the work takes; then it, its database and its files are gone. */
async function withServer<T>(options: BenchOptions, name: string, work: (served: Served) => Promise<T>): Promise<T> {
  const served = await serve(options, name)
  try {
    return await work(served)
  } finally {
    await served.close()
    const admin = new pg.Client({ connectionString: options.databaseUrl })
    await admin.connect()
    await admin.query(`drop database ${name} with (force)`)
    await admin.end()
    rmSync(served.cacheFolder, { recursive: true, force: true })
  }
}

/** Noise in a PNG, each of its own by a line of text in it. */
function tips() {
  const data = new Uint8Array(SIDE_PX * SIDE_PX)
  for (let i = 0, seed = 1; i < data.length; i++) {
    seed = (Math.imul(seed, 1_664_525) + 1_013_904_223) >>> 0
    data[i] = seed >>> 24
  }
  const png = writePng(
    { width: SIDE_PX, height: SIDE_PX, channels: 1, data },
    { deflate: (bytes) => deflateSync(bytes, { level: 1 }) },
  )
  const END_BYTES = 12
  const [body, end] = [png.subarray(0, -END_BYTES), png.subarray(-END_BYTES)]
  return (n: number) => {
    const text = Buffer.from(`tEXtComment\0tip ${n}`)
    const chunk = Buffer.alloc(text.length + 8)
    chunk.writeUInt32BE(text.length - 4, 0)
    text.copy(chunk, 4)
    chunk.writeUInt32BE(crc32(text), text.length + 4)
    // the pixels would all be the same: named as if they were not
    const pixelSha = createHash('sha256').update(`${n}`).digest('hex') as PixelSha
    return { png: new Uint8Array(Buffer.concat([body, chunk, end])), sidePx: SIDE_PX, pixelSha }
  }
}

async function fetchLibrary({ ask, json, post }: Served, path: string): Promise<void> {
  const { id } = await post('/api/parcels', { wanted: { kind: 'library' } })
  for (;;) {
    const { parcels } = await json('/api/parcels')
    const parcel = parcels.find((each: { id: string }) => each.id === id)
    if (parcel.lost) throw new Error(parcel.lost)
    if (parcel.fileName) break
    await pause(250)
  }
  const { body } = await ask(`/api/parcels/${id}/file`)
  if (body) await pipeline(Readable.fromWeb(body as never), createWriteStream(path))
}

async function giveLibrary({ ask, json }: Served, path: string): Promise<void> {
  // a Blob of a file stands still after some MiB where it is larger than 4 GiB
  const body = Readable.toWeb(createReadStream(path)) as unknown as ReadableStream
  await ask('/api/library', { method: 'POST', body, duplex: 'half' } as RequestInit)
  for (;;) {
    const { jobs } = await json('/api/jobs')
    const job = jobs.find(({ kind }: { kind: string }) => kind === 'give-back')
    if (job.state === 'failed') throw new Error(job.error)
    if (job.state === 'done') return
    await pause(250)
  }
}

async function watched({ nowMib }: Served, work: () => Promise<unknown>): Promise<{ minutes: number; peak: number }> {
  let peak = 0
  const watch = setInterval(() => {
    peak = Math.max(peak, ...nowMib())
  }, 100)
  const start = performance.now()
  await work()
  clearInterval(watch)
  return { minutes: (performance.now() - start) / 60_000, peak }
}

async function hashOf(path: string): Promise<string> {
  const hash = createHash('sha256')
  for await (const chunk of createReadStream(path)) hash.update(chunk)
  return hash.digest('hex')
}
