import { execFileSync } from 'node:child_process'
import { createReadStream, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { createServer, type Server } from 'node:http'
import { availableParallelism, cpus } from 'node:os'
import { join } from 'node:path'
import { pipeline } from 'node:stream/promises'
import { chromium } from '@playwright/test'
import pg from 'pg'
import pino from 'pino'
import sharp from 'sharp'
import { defaultRecipe } from '../../core/src/brush/recipe.ts'
import { readGbr } from '../../core/src/formats/gbr/read.ts'
import { writeGbr } from '../../core/src/formats/gbr/write.ts'
import { readGih } from '../../core/src/formats/gih/read.ts'
import { writeGih } from '../../core/src/formats/gih/write.ts'
import { insertBrushes } from '../../server/src/db/brushes.ts'
import { listBrushes } from '../../server/src/db/list-brushes.ts'
import { createWorkspace } from '../../server/src/db/members.ts'
import { createNoise } from '../../server/src/demo/ink.ts'
import { sendFile } from '../../server/src/hand-outs/send-file.ts'
import { openZipFile } from '../../server/src/jobs/zip-file.ts'
import { assembleServer } from '../../server/src/server.ts'
import { decodePng, encodePng } from '../../server/src/workers/codec.ts'
import { createWorkerPool } from '../../server/src/workers/pool.ts'
import { compare, median, percentile } from './rounds.ts'

type Options = { root: string; folder: string; databaseUrl: string; stampsPage: string }
type Row = { what: string; ours: string; reference: string; ratio: number; wanted: string; met: boolean }

const ms = (value: number) => `${value < 10 ? value.toFixed(2) : value.toFixed(0)} ms`
const atMost = (what: string, ours: string, reference: string, ratio: number, limit: number): Row => ({
  what,
  ours,
  reference,
  ratio,
  wanted: `≤ ${limit}`,
  met: ratio <= limit,
})
const atLeast = (what: string, ours: string, reference: string, ratio: number, limit: number): Row => ({
  what,
  ours,
  reference,
  ratio,
  wanted: `≥ ${limit}`,
  met: ratio >= limit,
})

/** A tip as curators have them: a soft shape with paper-like grain, grey. */
function tipPixels(side: number, seed = 1) {
  const coarse = createNoise(seed, side / 6)
  const fine = createNoise(seed + 1, 3)
  const data = new Uint8Array(side * side)
  for (let y = 0, i = 0; y < side; y++) {
    for (let x = 0; x < side; x++, i++) {
      const inside = Math.max(0, 1 - Math.hypot(x / side - 0.5, y / side - 0.5) * 2.1)
      data[i] = Math.round(255 - 235 * inside * (0.5 + 0.5 * coarse(x, y)) * (0.8 + 0.2 * fine(x, y)))
    }
  }
  return { width: side, height: side, channels: 1 as const, data }
}

async function pngRows(): Promise<Row[]> {
  const pixels = tipPixels(4096)
  const raw = { width: 4096, height: 4096, channels: 1 as const }
  const byOurs = encodePng(pixels)
  const bySharp = () =>
    sharp(pixels.data, { raw }).toColourspace('b-w').png({ compressionLevel: 6, adaptiveFiltering: true }).toBuffer()
  const theirs = await bySharp()
  const decode = await compare(
    () => decodePng(byOurs),
    () => sharp(byOurs).toColourspace('b-w').raw().toBuffer(),
  )
  const encode = await compare(() => encodePng(pixels), bySharp, 5)
  const kib = (bytes: number) => `${Math.round(bytes / 1024).toLocaleString('en')} KiB`
  return [
    atMost('PNG decode, 4096² grey, against sharp', ms(decode.ours), ms(decode.reference), decode.ratio, 1.1),
    atMost(
      'PNG encode, 4096² grey, against sharp level 6 adaptive',
      ms(encode.ours),
      ms(encode.reference),
      encode.ratio,
      0.6,
    ),
    atMost('its file size', kib(byOurs.length), kib(theirs.length), byOurs.length / theirs.length, 1.1),
  ]
}

async function brushFileRows(): Promise<Row[]> {
  const frame = { version: 2 as const, name: 'b', spacingPct: 20, ...tipPixels(1024) }
  const gbr = writeGbr(frame)
  const gih = writeGih({
    name: 'a',
    spacingPct: 20,
    dimensions: [{ rank: 8, rule: 'random' }],
    frames: Array.from({ length: 8 }, () => frame),
    extra: [],
  })
  const many = (work: () => unknown) => () => {
    for (let n = 0; n < 20; n++) work()
  }
  const one = await compare(
    many(() => readGbr(gbr)),
    many(() => gbr.slice()),
  )
  const eight = await compare(
    many(() => readGih(gih)),
    many(() => gih.slice()),
  )
  return [
    atMost('GBR read, 1024², against a copy of its bytes', ms(one.ours / 20), ms(one.reference / 20), one.ratio, 2),
    atMost(
      'GIH read, 8 frames of 1024², against a copy',
      ms(eight.ours / 20),
      ms(eight.reference / 20),
      eight.ratio,
      2,
    ),
  ]
}

async function stampRows(page: string): Promise<Row[]> {
  const browser = await chromium.launch({
    executablePath: '/usr/bin/chromium',
    args: [
      '--no-sandbox',
      '--disable-gpu',
      '--disable-background-networking',
      '--disable-component-update',
      '--disable-sync',
      '--no-first-run',
    ],
  })
  try {
    const tab = await browser.newPage()
    await tab.addScriptTag({ content: readFileSync(page, 'utf8') })
    const { simd, plain, canvas } = await tab.evaluate(() =>
      (globalThis as unknown as { runStamps: () => { simd: number; plain: number; canvas: number } }).runStamps(),
    )
    const rate = (value: number) => `${Math.round(value).toLocaleString('en')} stamps/s`
    return [
      atMost(
        '256 px rotated stamps on 2048 × 1024 in Chromium: time of SIMD against drawImage',
        rate(simd),
        rate(canvas),
        canvas / simd,
        0.5,
      ),
      atMost(
        'the readable twin against drawImage (told for comparison)',
        rate(plain),
        rate(canvas),
        canvas / plain,
        Number.POSITIVE_INFINITY,
      ),
    ]
  } finally {
    await browser.close()
  }
}

async function libraryRows({ databaseUrl, folder, root }: Options): Promise<Row[]> {
  const parts = await assembleServer({
    databaseUrl,
    cacheFolder: join(folder, 'cache'),
    migrationsFolder: join(root, 'server/drizzle'),
    workerFile: join(root, 'server/dist/worker.mjs'),
    origin: 'http://127.0.0.1:1',
    secret: 'bench-secret-0123456789abcdef0123456789',
    log: pino({ level: 'silent' }),
  })
  const { db, auth, pool } = parts.deps
  try {
    const { user } = await auth.api.signUpEmail({
      body: { name: 'Bench', email: 'bench@test.example', password: 'bench-bench-bench' },
    })
    const workspaceId = await createWorkspace(db, 'Bench', user.id)
    const words = ['kelp', 'down', 'rope', 'sand', 'ink', 'foam', 'reed', 'shell', 'moss', 'rain']
    const frames = [{ blobSha: 'b'.repeat(64), pixelSha: 'p'.repeat(64), width: 256, height: 256 }]
    await insertBrushes(
      db,
      workspaceId,
      Array.from({ length: 10_000 }, (_, n) => ({
        name: `${words[n % 10]} ${words[(n * 7) % 9]} ${n}`,
        maker: `Maker ${n % 40}`,
        licence: '',
        tags: [words[(n * 3) % 10] ?? ''],
        recipe: defaultRecipe({ sizePx: 8 + (n % 200) }),
        frames,
        pixelKey: String(n),
        nearBits: null,
        nearSignature: null,
      })),
    )
    await pool.query('vacuum analyze') // what the database does by itself within a minute
    const client = new pg.Client({ connectionString: databaseUrl })
    await client.connect()
    // as one types: a word that a tenth of the library has, two words, a whole name, a maker
    const queries = words.flatMap((word, n) => [
      `${word} ${words[(n * 7) % 9]}`,
      `${word} ${words[(n * 7) % 9]} ${n + 4230}`,
      `maker ${n + 10} ${word}`,
      word,
    ])
    const times = { one: [] as number[], search: [] as number[], page: [] as number[] }
    let cursor: { value: string; id: string } | undefined
    const timed = async (into: number[], work: () => Promise<unknown>) => {
      const start = performance.now()
      await work()
      into.push(performance.now() - start)
    }
    for (let n = 0; n < 330; n++) {
      const warm = n < 30
      await timed(warm ? [] : times.one, () => pool.query('select 1'))
      await timed(warm ? [] : times.search, () =>
        listBrushes(pool, workspaceId, { q: queries[n % queries.length] ?? '' }, { sort: 'name', limit: 100 }),
      )
      await timed(warm ? [] : times.page, async () => {
        const page = await listBrushes(pool, workspaceId, {}, { sort: 'name', cursor, limit: 100 })
        cursor = page.next
      })
    }
    await client.end()
    const base = median(times.one)
    const row = (what: string, values: number[]) =>
      atMost(what, ms(percentile(values, 0.95)), ms(base), percentile(values, 0.95) / base, 6)
    return [
      row('search in 10,000 brushes, p95 against the median of `select 1`', times.search),
      row('a page of 100 of 10,000 brushes, anywhere, likewise', times.page),
    ]
  } finally {
    await parts.close()
  }
}

async function download(url: string): Promise<number> {
  const response = await fetch(url)
  let bytes = 0
  if (response.body) for await (const chunk of response.body) bytes += chunk.length
  return bytes
}

async function handOutRows(folder: string): Promise<Row[]> {
  const path = join(folder, 'large.bin')
  const sizeBytes = 300 * 1024 * 1024
  writeFileSync(path, Buffer.alloc(sizeBytes, 7))
  let peak = 0
  const watch = setInterval(() => {
    peak = Math.max(peak, process.memoryUsage().rss)
  }, 20)
  const start = (
    answer: (...args: Parameters<Parameters<typeof createServer>[1] & object>) => void,
  ): Promise<{ url: string; server: Server }> =>
    new Promise((done) => {
      const server = createServer(answer)
      server.listen(0, '127.0.0.1', () => {
        const address = server.address()
        done({ server, url: `http://127.0.0.1:${typeof address === 'object' ? address?.port : ''}/` })
      })
    })
  const ours = await start(
    (request, response) =>
      void sendFile(request, response, {
        path,
        sizeBytes,
        etag: '"x"',
        headers: { 'content-type': 'application/zip' },
      }),
  )
  const bare = await start((_request, response) => void pipeline(createReadStream(path), response))
  const before = process.memoryUsage().rss
  const result = await compare(
    () => download(ours.url),
    () => download(bare.url),
    5,
  )
  clearInterval(watch)
  ours.server.close()
  bare.server.close()
  rmSync(path)
  const rate = (time: number) => `${Math.round(300 / (time / 1000))} MiB/s`
  const grownMib = Math.max(0, peak - before) / 1024 / 1024
  return [
    atLeast(
      'a 300 MB hand-out against a bare Node file stream (rate)',
      rate(result.ours),
      rate(result.reference),
      result.reference / result.ours,
      0.8,
    ),
    {
      what: 'memory while it streams: growth at most',
      ours: `${Math.round(grownMib)} MiB`,
      reference: '300 MiB file',
      ratio: grownMib / 300,
      wanted: '≤ 0.4',
      met: grownMib / 300 <= 0.4,
    },
  ]
}

async function zipRows(folder: string): Promise<Row[]> {
  const tips = join(folder, 'tips')
  mkdirSync(tips)
  const png = encodePng(tipPixels(1400, 5))
  const count = Math.ceil((300 * 1024 * 1024) / png.length)
  for (let n = 0; n < count; n++) writeFileSync(join(tips, `${n}.png`), png)
  const ours = async () => {
    const zip = await openZipFile(join(folder, 'ours.zip'))
    for (let n = 0; n < count; n++)
      await zip.add({
        path: `tips/${n}.png`,
        bytes: new Uint8Array(readFileSync(join(tips, `${n}.png`))),
        packing: 'store',
      })
    await zip.sums()
    await zip.finish()
  }
  const reference = () => {
    rmSync(join(folder, 'theirs.zip'), { force: true })
    execFileSync('zip', ['-0', '-q', '-r', join(folder, 'theirs.zip'), 'tips'], { cwd: folder })
  }
  const result = await compare(ours, reference, 5)
  rmSync(tips, { recursive: true })
  return [
    atMost(
      `a zip of 300 MB of tips (${count} files), with checksums, against zip -0`,
      ms(result.ours),
      ms(result.reference),
      result.ratio,
      1.5,
    ),
  ]
}

async function ledgerRows({ root }: Options): Promise<Row[]> {
  const pool = createWorkerPool(join(root, 'server/dist/worker.mjs'))
  const files = Array.from({ length: 48 }, (_, n) => encodePng(tipPixels(n % 12 === 0 ? 2048 : 512, n + 1)))
  const one = async () => {
    for (const bytes of files) await pool.run('readTip', { bytes })
  }
  const all = () => Promise.all(files.map((bytes) => pool.run('readTip', { bytes })))
  const result = await compare(all, one, 5)
  await pool.close()
  const rate = (time: number) => `${(files.length / (time / 1000)).toFixed(1)} tips/s`
  return [
    atMost(
      `reading tips for the ledger (512² and some 2048²), ${availableParallelism()} threads against one at a time: time`,
      rate(result.ours),
      rate(result.reference),
      result.ratio,
      0.7,
    ),
  ]
}

/** Runs everything and writes the table. */
export async function runBenchmarks(options: Options): Promise<void> {
  const rows: Row[] = []
  const steps: [string, () => Promise<Row[]>][] = [
    ['PNG', pngRows],
    ['GBR and GIH', brushFileRows],
    ['stamps in Chromium', () => stampRows(options.stampsPage)],
    ['library of 10,000', () => libraryRows(options)],
    ['hand-out of 300 MB', () => handOutRows(options.folder)],
    ['zip of 300 MB', () => zipRows(options.folder)],
    ['ledger', () => ledgerRows(options)],
  ]
  for (const [name, step] of steps) {
    console.log(`measuring ${name} ...`)
    const found = await step()
    for (const row of found)
      console.log(
        `  ${row.met ? 'met' : 'NOT MET'}  ${row.ratio.toFixed(2)} (wanted ${row.wanted})  ${row.what}: ${row.ours} against ${row.reference}`,
      )
    rows.push(...found)
  }
  writeFileSync(join(options.root, 'docs/benchmarks.md'), toMarkdown(rows))
}

function toMarkdown(rows: Row[]): string {
  const lines = rows.map(
    ({ what, ours, reference, ratio, wanted, met }) =>
      `| ${what} | ${ours} | ${reference} | ${ratio.toFixed(2)} | ${wanted.replace('≤ Infinity', 'none')} | ${met ? 'yes' : '**no**'} |`,
  )
  return `# Benchmarks

Written by \`npm run bench\`. Only the ratios hold: each is the median of interleaved rounds of both sides in one run, on a
machine of ${cpus().length} cores with Node ${process.versions.node}.

| what | ours | reference | ratio | wanted | met |
| --- | --- | --- | --- | --- | --- |
${lines.join('\n')}
`
}
