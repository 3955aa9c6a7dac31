import { spawn } from 'node:child_process'
import { randomUUID } from 'node:crypto'
import { text } from 'node:stream/consumers'
import { setTimeout as pause } from 'node:timers/promises'
import { deflateSync } from 'node:zlib'
import { writePng } from '../../core/src/formats/png/write.ts'
import { createNoise } from '../../drawn/src/ink.ts'
import type { BenchOptions } from './options.ts'
import { median, percentile } from './rounds.ts'
import { atMost, ms, type Row } from './rows.ts'
import { gather, type Served, serve } from './served.ts'
import { tipPixels } from './tip-pixels.ts'

const DOWNLOADS = 200
const HAND_OUTS = 500
/** How long 500 hand-outs may take beside one of them: they are sealed and stored alike. */
const HAND_OUTS_MAX_MS = 5000
const LINES = 50_000
const FOLDERS = 40
const SILENCE_MAX_MS = 500
const ASKS = 300
const WARM_UP_MS = 2000

/** A whole server beside others' work: many downloads, and a ledger as long as it may get. */
export async function loadRows(options: BenchOptions): Promise<Row[]> {
  const served = await serve(options, 'load')
  try {
    return [...(await downloadRows(served, options.downloadAll)), ...(await ledgerRows(served))]
  } finally {
    await served.close()
  }
}

/** What a curator's page asks for. @returns How long each of many such answers took, ms. */
async function work({ ask }: Served): Promise<number[]> {
  const times: number[] = []
  for (let n = 0; n < ASKS; n++) {
    const start = performance.now()
    await (await ask(n % 2 ? '/api/sets' : '/api/brushes?sort=name')).text()
    times.push(performance.now() - start)
  }
  return times
}

async function downloadRows(served: Served, downloadAll: string): Promise<Row[]> {
  const { origin, json, post } = served
  const tips = Array.from({ length: 8 }, (_, n) => {
    const grain = createNoise(n, 1)
    const data = Uint8Array.from({ length: 2048 * 2048 }, (_, i) => grain(i & 2047, i >> 11) * 255)
    return writePng({ width: 2048, height: 2048, channels: 1, data }, { deflate: (bytes) => deflateSync(bytes) })
  })
  const id = await gather(served, Object.fromEntries(tips.map((png, n) => [`Grain/${n}.png`, png])))
  const { lines } = await json(`/api/gathers/${id}/lines`)
  await post(`/api/gathers/${id}/decide`, {
    of: { ids: lines.map(({ id }: { id: string }) => id) },
    use: 'tip',
    outcome: 'take',
  })
  await gather(served, {})
  await post(`/api/gathers/${id}/take`)
  const { sets } = await json('/api/sets')
  const pack = await post('/api/packs', { title: 'Grain', licence: 'CC0-1.0' })
  await post(
    `/api/packs/${pack.id}/sets`,
    { setIds: [sets.find(({ name }: { name: string }) => name === 'Grain').id] },
    'PUT',
  )
  const release = await post(`/api/packs/${pack.id}/releases`, { version: '1.0.0', notes: '' })
  while ((await json(`/api/packs/${pack.id}`)).releases[0].state !== 'ready') await pause(100)
  // each has a copy of their own
  const people = Array.from({ length: HAND_OUTS }, (_, n) => ({
    name: `Person ${n}`,
    email: `p${n}@class.example`,
    note: '',
  }))
  const given = performance.now()
  const { ids } = await post(`/api/packs/${pack.id}/hand-outs/many`, {
    releaseId: release.id,
    batchId: randomUUID(),
    people,
  })
  const giving = performance.now() - given
  const told = await post('/api/packs/hand-outs/links', { ids: ids.slice(0, DOWNLOADS) })
  const links: string[] = told.links.map(
    ({ link }: { link: string }) => `${origin}/api/h/${link.split('/').at(-1)}/download`,
  )

  await work(served)
  const idle = await work(served)
  const start = performance.now()
  const downloads = spawn(process.execPath, [downloadAll, String(DOWNLOADS), ...links], {
    stdio: ['pipe', 'pipe', 'inherit'],
  })
  await pause(WARM_UP_MS)
  const beside = await work(served)
  downloads.stdin.end()
  const bytes = Number(await text(downloads.stdout))
  const seconds = (performance.now() - start) / 1000
  const [own, other] = [percentile(beside, 0.95), percentile(idle, 0.95)]
  const rate = `${Math.round(bytes / 1024 / 1024 / seconds)} MiB/s`
  return [
    atMost(`${HAND_OUTS} hand-outs made in one act`, ms(giving), ms(HAND_OUTS_MAX_MS), giving / HAND_OUTS_MAX_MS, 1),
    atMost(
      `a curator's request beside ${DOWNLOADS} people who fetch their copies (${rate} in all): p95 against idle`,
      ms(own),
      ms(other),
      own / other,
      5,
    ),
  ]
}

async function ledgerRows(served: Served): Promise<Row[]> {
  const { ask, json, post, database } = served
  const id = await gather(served, { 'Shore/leaf.png': writePng(tipPixels(256)) })
  // Marks of their own for all lines, so that each is compared with each: reading so many pictures takes minutes.
  await database.query(
    `insert into gather_line (workspace_id, gather_id, file_id, ordinal, folder, path, name, kind, outcome, frames, brush,
       set_name, use, pixel_key, alike_key, alike_mark, width, height)
     select workspace_id, gather_id, file_id, n, 'Folder ' || n % ${FOLDERS}, n || '.png', 'Mark ' || n, kind, 'take', frames,
       brush, set_name, use, md5(n::text), own.key, alike_mark, width, height
     from gather_line cross join generate_series(1, ${LINES - 1}) n
     cross join lateral (
       select string_agg(substring(decode(md5(n || ' ' || k), 'hex') for 1), '') as key
       from generate_series(1, length(alike_key)) k
     ) own
     where gather_id = '${id}'`,
  )
  await database.query('vacuum analyze gather_line')
  const before = served.peakMib()
  const times: { what: string; took: number }[] = []
  const timed = async (what: string, asked: Promise<Response>) => {
    const start = performance.now()
    await (await asked).text()
    times.push({ what, took: performance.now() - start })
  }
  const decide = (n: number) =>
    ask(`/api/gathers/${id}/decide`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ of: { folder: `Folder ${n % FOLDERS}` }, outcome: n % 2 ? 'skip' : 'take' }),
    })
  await post(`/api/gathers/${id}/read`)
  const start = performance.now()
  for (let n = 0; (await json(`/api/gathers/${id}`)).reading; n++) {
    await timed('what it comes to', ask(`/api/gathers/${id}`))
    await timed('a page of it', ask(`/api/gathers/${id}/lines?from=${(n * 7919) % LINES}`))
    await timed('the sets', ask('/api/sets'))
    if (n % 10 === 0) await timed('a decision on a folder', decide(n / 10))
  }
  const seconds = (performance.now() - start) / 1000
  const [longest] = times.sort((a, b) => b.took - a.took)
  if (!longest) throw new Error('the comparing was over before anything was asked')
  const told = (what: string, ours: string): Row => ({
    what: `the same: ${what} (told)`,
    ours,
    reference: '',
    ratio: 0,
    wanted: 'none',
    met: true,
  })
  return [
    atMost(
      `${LINES.toLocaleString('en')} lines compared in ${seconds.toFixed(0)} s: the longest of ${times.length} answers meanwhile, ${longest.what}`,
      ms(longest.took),
      ms(SILENCE_MAX_MS),
      longest.took / SILENCE_MAX_MS,
      1,
    ),
    told('half of the answers', ms(median(times.map(({ took }) => took)))),
    told('growth of the server’s memory', `${Math.round(served.peakMib() - before)} MiB`),
  ]
}
