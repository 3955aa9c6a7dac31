import { setTimeout as sleep } from 'node:timers/promises'
import { usualSteps } from '@satchel/core/make/steps'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { until } from '../testing/test-server.ts'
import { blotPng, zipOf } from '../testing/tips.ts'
import { startWholeServer, type WholeServer } from '../testing/whole-server.ts'

/** The database is ended at so many moments of each job, so far apart. */
const MOMENTS = 10
const APART_MS = 60
const AWAY_MS = 1500
const PATIENCE_MS = 240_000

type Jobs = { jobs: { id: string; kind: string; state: string; subjectId: string; error: string | null }[] }

let server: WholeServer
let brushIds: string[] = []
let setIds: string[] = []
let n = 0
beforeAll(async () => {
  server = await startWholeServer()
  const { id } = await server.post<{ id: string }>('/api/gathers')
  await upload(id, tips(24))
  await settled()
  await server.post(`/api/gathers/${id}/take`)
  brushIds = (await server.json<{ ids: string[] }>('/api/brushes/ids')).ids
  const { sets } = await server.json<{ sets: { id: string; starter: boolean }[] }>('/api/sets')
  setIds = sets.filter(({ starter }) => !starter).map((set) => set.id)
})
afterAll(() => server.close())

const tips = (count: number) =>
  zipOf(
    Object.fromEntries(Array.from({ length: count }, (_, i) => [`Shore/t${++n}-${i}.png`, blotPng(n * 31 + i, 120)])),
  )
const upload = (id: string, bytes: Uint8Array) =>
  server.request(`/api/gathers/${id}/files?path=tips${n}.zip`, { method: 'PUT', body: new Uint8Array(bytes) })
const openJobs = async () =>
  (await server.json<Jobs>('/api/jobs')).jobs.filter(({ state }) => state === 'queued' || state === 'running')
/** No job is open any more. */
const settled = () => until(async () => (await openJobs().catch(() => [1])).length === 0, PATIENCE_MS)

/** What is begun, and what must hold once all has come to rest. */
const WORK: Record<string, { begin(): Promise<unknown>; holds(): Promise<void> }> = {
  'gather-read': {
    async begin() {
      const { id } = await server.post<{ id: string }>('/api/gathers')
      await upload(id, tips(30))
    },
    async holds() {
      const { id } = await server.json<{ id: string }>('/api/gathers/current')
      const ledger = await server.json<{ tally: { take: number }; files: { read: number; total: number } }>(
        `/api/gathers/${id}`,
      )
      expect(ledger.files.read).toBe(ledger.files.total)
      expect(ledger.tally.take).toBe(30)
      await server.post(`/api/gathers/${id}/cancel`)
    },
  },
  'make-source': {
    async begin() {
      const made = await server.request('/api/sources?name=mark.png', {
        method: 'POST',
        body: new Uint8Array(blotPng(++n, 900)),
      })
      const { id } = (await made.json()) as { id: string }
      await server.request(`/api/sources/${id}/plan`, {
        method: 'PUT',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify({ plan: { way: 'picture', steps: usualSteps() }, from: 1 }),
      })
      await server.post(`/api/sources/${id}/make`)
    },
    holds: async () => undefined,
  },
  'fit-all': { begin: () => server.post('/api/fit/measure'), holds: async () => undefined },
  'fit-install': {
    begin: () => server.post('/api/installs', { name: `Class ${++n}`, destinationId: 'dunlin', brushIds }),
    async holds() {
      const { installs } = await server.json<{ installs: { state: string; lost: string | null; files: number }[] }>(
        '/api/installs',
      )
      for (const { state, lost, files } of installs)
        expect([state, lost, files]).toEqual(['ready', null, brushIds.length])
    },
  },
  'build-release': {
    async begin() {
      const pack = await server.post<{ id: string }>('/api/packs', { title: `Pack ${++n}`, licence: 'CC0-1.0' })
      await server.request(`/api/packs/${pack.id}/sets`, {
        method: 'PUT',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify({ setIds }),
      })
      await server.post(`/api/packs/${pack.id}/releases`, { version: '1.0.0', notes: '' })
    },
    async holds() {
      const { packs } = await server.json<{ packs: { id: string }[] }>('/api/packs')
      for (const { id } of packs) {
        const { releases } = await server.json<{ releases: { state: string; lost: string | null }[] }>(
          `/api/packs/${id}`,
        )
        for (const { state, lost } of releases) expect([state, lost]).toEqual(['ready', null])
      }
    },
  },
}

/** Faults of ours, and promises that nobody heard. */
const faults = () =>
  server.lines.filter(({ level, msg }) => Number(level) >= 50 || String(msg).includes('nobody heard'))

describe.each(Object.keys(WORK))('the database ends while %s is under way', (kind) => {
  it.each(Array.from({ length: MOMENTS }, (_, moment) => moment))(
    'at moment %i: the server lives, and the work comes to its end',
    async (moment) => {
      const work = WORK[kind]
      await work?.begin()
      await sleep(moment * APART_MS)
      await (moment % 2 === 0 ? server.database.stop() : server.database.kill())
      await sleep(AWAY_MS)
      expect((await server.request('/healthz')).status).toBe(200)
      expect((await server.request('/api/brushes')).status).toBe(503)
      await server.database.start()
      await until(async () => (await server.request('/readyz')).ok, PATIENCE_MS)
      await settled()
      expect(server.isAlive()).toBe(true)
      const failed = (await server.json<Jobs>('/api/jobs')).jobs.filter(
        ({ state }) => state === 'failed' || state === 'stopped',
      )
      for (const { id } of failed) await server.post(`/api/jobs/${id}/resume`)
      await settled()
      await work?.holds()
      expect(faults()).toEqual([])
    },
  )
})

describe('a large file on its way', () => {
  it.each(Array.from({ length: MOMENTS }, (_, moment) => moment))(
    'goes on where it stopped when the database ended, at moment %i',
    async (moment) => {
      const { id } = await server.post<{ id: string }>('/api/gathers')
      const bytes = new Uint8Array(12 * 1024 * 1024).map((_, i) => (i * (n + 7)) >>> 8)
      const toCome = { path: `large${++n}.bin`, sizeBytes: bytes.length, modifiedMs: 1 }
      const piece = async (uploadId: string, at: number) => {
        const answer = await server.request(`/api/gathers/${id}/uploads/${uploadId}?at=${at}`, {
          method: 'PATCH',
          body: bytes.subarray(at, at + 4 * 1024 * 1024),
        })
        return answer.ok ? ((await answer.json()) as { receivedBytes: number; isWhole: boolean }) : undefined
      }
      const { id: uploadId } = await server.post<{ id: string }>(`/api/gathers/${id}/uploads`, toCome)
      const sent = piece(uploadId, 0).catch(() => undefined)
      await sleep(moment * 15)
      await (moment % 2 === 0 ? server.database.stop() : server.database.kill())
      await sent
      await server.database.start()
      await until(async () => (await server.request('/readyz')).ok, PATIENCE_MS)
      const state = await server.json<{ receivedBytes: number }>(`/api/gathers/${id}/uploads/${uploadId}`)
      let far: { receivedBytes: number; isWhole: boolean } | undefined = { ...state, isWhole: false }
      while (far && !far.isWhole) far = await piece(uploadId, far.receivedBytes)
      expect(far?.isWhole).toBe(true)
      await settled()
      await server.post(`/api/gathers/${id}/cancel`)
      expect(faults()).toEqual([])
    },
  )
})
