import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { setTimeout as sleep } from 'node:timers/promises'
import { serve } from '@hono/node-server'
import { afterAll, beforeAll, expect, it } from 'vitest'
import { exchangePages } from '../exchange/pages.ts'
import { Shed } from '../exchange/shed.ts'
import { until } from '../testing/test-server.ts'
import { blotPng, zipOf } from '../testing/tips.ts'
import { startWholeServer, type WholeServer } from '../testing/whole-server.ts'

/** What changes many at once, and what publishes, is killed at so many moments of it. */
const BRUSHES = 1000
const MOMENTS = 10
const PATIENCE_MS = 240_000

let server: WholeServer
let shed: Shed
let host = ''
let stopExchange = () => undefined as unknown
const folder = mkdtempSync(join(tmpdir(), 'satchel-killed-'))

beforeAll(async () => {
  shed = new Shed(folder, 'Barter Shed')
  const pages = exchangePages(shed, (asked) => asked === host)
  host = await new Promise<string>((done) => {
    const running = serve({ fetch: pages.fetch, hostname: '127.0.0.1', port: 0 }, ({ port }) =>
      done(`127.0.0.1:${port}`),
    )
    stopExchange = () => running.close()
  })
  server = await startWholeServer()
  await again()
  const { id } = await server.post<{ id: string }>('/api/gathers')
  const tips = Object.fromEntries(Array.from({ length: BRUSHES }, (_, n) => [`Shore/t${n}.png`, blotPng(n, 40)]))
  await server.request(`/api/gathers/${id}/files?path=tips.zip`, {
    method: 'PUT',
    body: new Uint8Array(zipOf(tips)),
  })
  await until(async () => {
    const { reading, files } = await server.json<{ reading: unknown; files: { read: number; total: number } }>(
      `/api/gathers/${id}`,
    )
    return !reading && files.read === files.total && files.total > 0
  }, PATIENCE_MS)
  await server.post(`/api/gathers/${id}/take`)
})
afterAll(async () => {
  await server.close()
  stopExchange()
  rmSync(folder, { recursive: true, force: true })
})

/** Ends the server as by a power cut, and starts it. */
async function again(): Promise<void> {
  await server.end('SIGKILL')
  await server.start({ SATCHEL_EXCHANGES: `http://${host}` })
}

type Acts = { acts: { id: string }[] }
const countActs = async () => (await server.json<Acts>('/api/acts')).acts.length
const makersOf = async (ids: readonly string[]) => {
  const makers = new Set<string>()
  for (let from = 0; from < ids.length; from += 100) {
    const { brushes } = await server.json<{ brushes: { maker: string }[] }>(`/api/brushes?sort=name&from=${from}`)
    for (const { maker } of brushes) makers.add(maker)
  }
  return [...makers]
}

it('a change of a thousand brushes that is killed at any moment is done whole, with its act, or not at all', async () => {
  const { ids } = await server.json<{ ids: string[] }>('/api/brushes/ids')
  expect(ids.length).toBeGreaterThanOrEqual(BRUSHES)
  const change = (maker: string) => server.post('/api/many', { ids, change: { kind: 'maker', maker } })
  await change('Maker 0')
  const began = performance.now()
  await change('Maker 1')
  const takes = performance.now() - began
  let [was, done] = ['Maker 1', 0]
  for (let n = 0; n < MOMENTS; n++) {
    const acts = await countActs()
    const maker = `Maker ${n + 2}`
    const asked = change(maker).catch(() => undefined)
    await sleep((takes * (n + 0.5)) / MOMENTS)
    await again()
    await asked
    const found = await makersOf(ids)
    expect(found).toHaveLength(1)
    const isDone = found[0] === maker
    expect(found[0]).toBe(isDone ? maker : was)
    expect((await countActs()) - acts).toBe(isDone ? 1 : 0)
    if (isDone) {
      was = maker
      done++
    }
  }
  console.log(`${takes.toFixed(0)} ms; of ${MOMENTS} that were killed ${done} were done`)
  // the newest act is taken back as if nothing had been
  const [newest] = (await server.json<Acts>('/api/acts')).acts
  await server.post(`/api/acts/${newest?.id}/undo`)
  expect(await makersOf(ids)).toHaveLength(1)
}, 600_000)

it('a release whose publishing is killed at any moment is at the exchange once, and known to be there', async () => {
  const { sets } = await server.json<{ sets: { id: string; starter: boolean }[] }>('/api/sets')
  const setIds = sets.filter(({ starter }) => !starter).map(({ id }) => id)
  const pack = await server.post<{ id: string }>('/api/packs', {
    title: 'Reed Beds',
    maker: 'Wren',
    licence: 'CC0-1.0',
  })
  await server.request(`/api/packs/${pack.id}/sets`, {
    method: 'PUT',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ setIds }),
  })
  const release = async (version: string) => {
    const { id } = await server.post<{ id: string }>(`/api/packs/${pack.id}/releases`, {
      version,
      notes: 'More reeds.',
    })
    await until(async () => {
      const { releases } = await server.json<{ releases: { id: string; state: string }[] }>(`/api/packs/${pack.id}`)
      return releases.find((each) => each.id === id)?.state === 'ready'
    }, PATIENCE_MS)
    return id
  }
  const publish = (releaseId: string) =>
    server.post<{ jobId: string }>('/api/exchanges/publish', { releaseId, host, about: 'Reeds.', notes: '', tags: [] })
  const settled = (jobId: string) =>
    until(async () => {
      const { jobs } = await server.json<{ jobs: { id: string; state: string }[] }>('/api/jobs')
      const state = jobs.find(({ id }) => id === jobId)?.state
      return state !== 'queued' && state !== 'running' && state
    }, PATIENCE_MS)
  const began = performance.now()
  expect(await settled((await publish(await release('1.0.0'))).jobId)).toBe('done')
  const takes = performance.now() - began
  for (let n = 0; n < MOMENTS / 2; n++) {
    const version = `1.${n + 1}.0`
    const { jobId } = await publish(await release(version))
    await sleep((takes * n) / MOMENTS)
    await again()
    expect(await settled(jobId)).toBe('done')
    const items = shed.items.filter(({ title }) => title === 'Reed Beds')
    expect(items).toHaveLength(1)
    expect(items[0]?.releases.filter((each) => each.version === version)).toHaveLength(1)
    const { published } = await server.json<{ published: { version: string }[] }>(
      `/api/exchanges/published-of/${pack.id}`,
    )
    expect(published).toMatchObject([{ version }])
  }
}, 600_000)
