import { createHash } from 'node:crypto'
import { join } from 'node:path'
import { setTimeout as pause } from 'node:timers/promises'
import { deflateSync } from 'node:zlib'
import { writePng } from '../../core/src/formats/png/write.ts'
import type { PixelSha } from '../../core/src/hashes.ts'
import { LOOK_RULES } from '../../server/src/db/stroke-looks.ts'
import { startStore } from '../../server/src/testing/store.ts'
import { type Filled, fillLibrary } from './filling.ts'
import type { BenchOptions } from './options.ts'
import { median, percentile } from './rounds.ts'
import { atMost, ms, type Row } from './rows.ts'
import { type Served, serve, startServer } from './served.ts'

const BRUSHES = 100_000
/** Tips that they share: each of noise, so that it is large enough to rest in a store. */
const TIPS = 100
const SIDE_PX = 160
const CURATORS = 10
const FOLLOWERS = 50
const SECONDS = 40
/** How long a curator looks at what they have, before they ask for the next thing. */
const LOOK_MS = [200, 1200] as const
const TIMES_IDLE = 10
const HEARD_MS = 2000

/** What a curator does, over and over; the share of each is common practice, with no source. */
const ACTS = ['page', 'page', 'search', 'search', 'brush', 'picture', 'sets', 'save'] as const
type Act = (typeof ACTS)[number]
type Times = Record<Act, number[]>

/** Ten curators and fifty followers of events, on two servers of one database and one store, with 100,000 brushes. */
export async function studioRows(options: BenchOptions): Promise<Row[]> {
  const store = await startStore()
  const settings = { SATCHEL_STORE: store.text }
  const served = await serve(options, 'studio', settings)
  try {
    const filled = await fillLibrary(served, { brushes: BRUSHES, perSet: 200, tip: tips() })
    // what is measured behind all else is not what is measured here
    await served.database.query(
      'update stroke_look set rules = $1, version = b.version from brush b where b.id = brush_id',
      [LOOK_RULES],
    )
    await served.database.query('vacuum analyze')
    while ((await inStore(served)) < TIPS) await pause(500)
    const cacheFolder = join(options.folder, 'studio-second')
    const second = await startServer(options.root, { url: served.url, cacheFolder, more: settings })
    try {
      return await measured(served, [served.origin, second.origin], filled)
    } finally {
      second.child.kill()
    }
  } finally {
    await served.close()
    await store.close()
  }
}

async function measured(served: Served, origins: readonly string[], filled: Filled): Promise<Row[]> {
  const { cookie } = served
  // both servers have answered all of it before
  for (const origin of origins) await curator({ origin, cookie: cookie(), filled, seed: 7, isQuick: true })
  const idle = await curator({ origin: origins[0] ?? '', cookie: cookie(), filled, seed: 7, isQuick: true })
  const ended = new AbortController()
  const followers = await Promise.all(
    Array.from({ length: FOLLOWERS }, (_, n) => follow(origins[n % origins.length] ?? '', cookie(), ended.signal)),
  )
  const all = await Promise.all(
    Array.from({ length: CURATORS }, (_, seed) =>
      curator({ origin: origins[seed % origins.length] ?? '', cookie: cookie(), filled, seed }),
    ),
  )
  const saves = all.flatMap(({ saved }) => saved)
  await pause(HEARD_MS)
  ended.abort()
  const waits = followers.flatMap(({ heard }) =>
    saves.map(({ id, at }) => (heard.get(id) ?? Number.POSITIVE_INFINITY) - at),
  )
  const asked = all.reduce((sum, { times }) => sum + Object.values(times).flat().length, 0)
  const rows = [...new Set(ACTS)].map((act) => {
    const [loaded, alone] = [
      percentile(
        all.flatMap(({ times }) => times[act]),
        0.95,
      ),
      percentile(idle.times[act], 0.95),
    ]
    return atMost(
      `${CURATORS} curators and ${FOLLOWERS} followers on two servers, ${BRUSHES.toLocaleString('en')} brushes: ${act}, p95 against one curator alone`,
      ms(loaded),
      ms(alone),
      loaded / alone,
      TIMES_IDLE,
    )
  })
  const slowest = percentile(waits, 0.99)
  return [
    ...rows,
    atMost(
      `the same: ${saves.length} saves, each heard by all ${FOLLOWERS} (${waits.length.toLocaleString('en')} in all; half within ${ms(median(waits))}), p99`,
      ms(slowest),
      ms(HEARD_MS),
      slowest / HEARD_MS,
      1,
    ),
    {
      what: `the same: requests answered (told)`,
      ours: `${(asked / SECONDS).toFixed(1)} a second`,
      reference: '',
      ratio: 0,
      wanted: 'none',
      met: true,
    },
    {
      what: 'the same: memory of the server that answers half of them (told)',
      ours: `${Math.round(served.peakMib())} MiB`,
      reference: '',
      ratio: 0,
      wanted: 'none',
      met: true,
    },
  ]
}

type Who = { origin: string; cookie: string; filled: Filled; seed: number; isQuick?: boolean }

/** Works for a while. @returns How long each answer took, and what was saved when. */
async function curator({ origin, cookie, filled, seed, isQuick = false }: Who) {
  const times: Times = { page: [], search: [], brush: [], picture: [], sets: [], save: [] }
  const saved: { id: string; at: number }[] = []
  const ask = async (path: string, init: RequestInit = {}) => {
    const answer = await fetch(`${origin}${path}`, { ...init, headers: { origin, cookie, ...init.headers } })
    if (!answer.ok) throw new Error(`${path} answered ${answer.status}: ${await answer.text()}`)
    return answer
  }
  let at = seed * 1009
  const next = (most: number) => {
    at = (Math.imul(at, 1_664_525) + 1_013_904_223) >>> 0
    return at % most
  }
  // each has brushes of their own to save: who would save the same one is another matter
  const own = () => filled.brushIds[next(BRUSHES / 20) * 20 + seed] ?? ''
  const acts: Record<Act, () => Promise<unknown>> = {
    page: async () => (await ask(`/api/brushes?sort=name&from=${next(BRUSHES - 100)}`)).text(),
    search: async () => (await ask(`/api/brushes?q=brush%20${next(99_999)}`)).text(),
    brush: async () => (await ask(`/api/brushes/${own()}`)).text(),
    picture: async () => (await ask(`/api/brushes/${own()}/tip.png`)).arrayBuffer(),
    sets: async () => (await ask('/api/sets')).text(),
    save: async () => {
      const id = own()
      const { name, maker, licence, tags, recipe, version } = await (await ask(`/api/brushes/${id}`)).json()
      const start = performance.now()
      await ask(`/api/brushes/${id}`, {
        method: 'PUT',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify({
          ...{ name, maker, licence, tags },
          recipe: { ...recipe, mark: { ...recipe.mark, sizePx: 10 + next(90) } },
          from: version,
        }),
      })
      saved.push({ id, at: start })
      times.save.push(performance.now() - start)
    },
  }
  const end = performance.now() + SECONDS * 1000
  for (let n = 0; performance.now() < end; n++) {
    const act = ACTS[(n + seed) % ACTS.length] ?? 'page'
    const start = performance.now()
    await acts[act]()
    if (act !== 'save') times[act].push(performance.now() - start)
    const [least, most] = LOOK_MS
    await pause(isQuick ? least : least + next(most - least))
  }
  return { times, saved }
}

/** Hears events. @returns When each brush was told to have changed, last. */
async function follow(origin: string, cookie: string, signal: AbortSignal): Promise<{ heard: Map<string, number> }> {
  const heard = new Map<string, number>()
  const { ok, body } = await fetch(`${origin}/api/workspace/events`, { headers: { origin, cookie }, signal })
  if (!ok || !body) throw new Error('no events came')
  const listen = async () => {
    let rest = ''
    for await (const chunk of body.pipeThrough(new TextDecoderStream())) {
      const now = performance.now()
      const lines = (rest + chunk).split('\n')
      rest = lines.pop() ?? ''
      for (const line of lines) {
        const [, id] = /^data: \{"id":"([^"]+)"/.exec(line) ?? []
        if (id) heard.set(id, now)
      }
    }
  }
  void listen().catch(() => undefined)
  return { heard }
}

async function inStore({ database }: Served): Promise<number> {
  const { rows } = await database.query<{ n: number }>(
    'select count(*)::int as n from blob where object_name is not null',
  )
  return rows[0]?.n ?? 0
}

function noise(seed: number): Uint8Array {
  let at = seed + 1
  return Uint8Array.from({ length: SIDE_PX ** 2 }, () => {
    at = (Math.imul(at, 1_664_525) + 1_013_904_223) >>> 0
    return at >>> 24
  })
}

function tips() {
  const all = Array.from({ length: TIPS }, (_, n) => {
    const data = noise(n)
    const png = writePng(
      { width: SIDE_PX, height: SIDE_PX, channels: 1, data },
      { deflate: (bytes) => deflateSync(bytes) },
    )
    const pixelSha = createHash('sha256').update(`${n}`).digest('hex') as PixelSha
    return { png, sidePx: SIDE_PX, pixelSha }
  })
  return (n: number) => all[n % TIPS] ?? { png: new Uint8Array(), sidePx: 0, pixelSha: '' as PixelSha }
}
