import { type ChildProcess, fork } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { setTimeout as sleep } from 'node:timers/promises'
import { fileURLToPath } from 'node:url'
import { LISTED_BRUSHES } from '@satchel/core/exchange/protocol'
import { afterAll, beforeAll, expect, it } from 'vitest'
import { until } from '../testing/test-server.ts'
import { startWholeServer, type WholeServer } from '../testing/whole-server.ts'
import { takeTips } from './take-tips.ts'

/** Publishing is killed at so many moments of it. */
const MOMENTS = 6
const PATIENCE_MS = 240_000
const EXCHANGE = fileURLToPath(new URL('../../dist/exchange.mjs', import.meta.url))

let server: WholeServer
let exchange: ChildProcess
let page = ''
const folder = mkdtempSync(join(tmpdir(), 'satchel-published-'))

beforeAll(async () => {
  exchange = fork(EXCHANGE, {
    stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
    env: { ...process.env, SATCHEL_EXCHANGE_FOLDER: folder },
  })
  page = await new Promise<string>((done) => exchange.once('message', (told: { page: string }) => done(told.page)))
  server = await startWholeServer()
  await again()
  await takeTips(server, LISTED_BRUSHES)
})
afterAll(async () => {
  await server.close()
  exchange.kill()
  rmSync(folder, { recursive: true, force: true })
})

/** Ends the server as by a power cut, and starts it. */
async function again(): Promise<void> {
  await server.end('SIGKILL')
  await server.start({ SATCHEL_EXCHANGES: page })
}

type Listed = { items: { title: string; _satchel: { more: string } }[] }
type Told = { _satchel: { brushes: number; releases: { version: string }[] } }
const there = async <Body>(path: string) => (await (await fetch(`${page}${path}`)).json()) as Body

it('a release as large as is listed, whose publishing is killed at any moment, is at the exchange once, and known to be there', async () => {
  const { sets } = await server.json<{ sets: { id: string; starter: boolean }[] }>('/api/sets')
  const setIds = sets.filter(({ starter }) => !starter).map(({ id }) => id)
  const about = { title: 'Reed Beds', maker: 'Wren', licence: 'CC0-1.0' }
  const pack = await server.post<{ id: string }>('/api/packs', about)
  await server.request(`/api/packs/${pack.id}/sets`, {
    method: 'PUT',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ setIds }),
  })
  const release = async (version: string) => {
    const { id } = await server.post<{ id: string }>(`/api/packs/${pack.id}/releases`, { version, notes: 'Reeds.' })
    await until(async () => {
      const { releases } = await server.json<{ releases: { id: string; state: string }[] }>(`/api/packs/${pack.id}`)
      return releases.find((each) => each.id === id)?.state === 'ready'
    }, PATIENCE_MS)
    return id
  }
  const host = new URL(page).host
  const publish = (releaseId: string) =>
    server.post<{ jobId: string }>('/api/exchanges/publish', { releaseId, host, about: 'Reeds.', notes: '', tags: [] })
  const settled = (jobId: string) =>
    until(async () => {
      const { jobs } = await server.json<{ jobs: { id: string; state: string; error: string | null }[] }>('/api/jobs')
      const job = jobs.find(({ id }) => id === jobId)
      return job && job.state !== 'queued' && job.state !== 'running' && job
    }, PATIENCE_MS)

  const first = await release('1.0.0')
  const began = performance.now()
  expect(await settled((await publish(first)).jobId)).toMatchObject({ state: 'done' })
  const takes = performance.now() - began
  let killed = 0
  for (let n = 0; n < MOMENTS; n++) {
    const version = `1.${n + 1}.0`
    const releaseId = await release(version)
    const { jobId } = await publish(releaseId)
    await sleep((takes * (n + 0.5)) / MOMENTS)
    const { jobs } = await server.json<{ jobs: { id: string; state: string }[] }>('/api/jobs')
    if (jobs.find(({ id }) => id === jobId)?.state === 'running') killed++
    await again()
    expect(await settled(jobId)).toMatchObject({ state: 'done' })
    const { items } = await there<Listed>('/feed.json?q=reed')
    expect(items).toHaveLength(1)
    const { _satchel } = await there<Told>(items[0]?._satchel.more ?? '')
    expect(_satchel.brushes).toBe(LISTED_BRUSHES)
    expect(_satchel.releases.filter((each) => each.version === version)).toHaveLength(1)
    const { published } = await server.json<{ published: { version: string }[] }>(`/api/exchanges/published-of/${pack.id}`) // biome-ignore format: one request
    expect(published).toMatchObject([{ version }])
  }
  console.log(`${takes.toFixed(0)} ms to publish; of ${MOMENTS} that were killed ${killed} were in the middle of it`)
  expect(killed).toBeGreaterThan(0)
}, 900_000)
