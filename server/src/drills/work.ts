import { usualSteps } from '@satchel/core/make/steps'
import { expect } from 'vitest'
import { until } from '../testing/test-server.ts'
import { blotPng, zipOf } from '../testing/tips.ts'
import type { WholeServer } from '../testing/whole-server.ts'

const PATIENCE_MS = 240_000

type Jobs = { jobs: { id: string; kind: string; state: string; subjectId: string; error: string | null }[] }

/** One kind of job: how it is begun, and what must hold once all has come to rest. */
type Work = { begin(): Promise<unknown>; holds(): Promise<void> }
const KINDS = ['gather-read', 'make-source', 'fit-all', 'fit-install', 'build-release', 'check-pack'] as const
export type WorkKind = (typeof KINDS)[number]
export const WORK_KINDS: readonly WorkKind[] = KINDS

/** A library of 24 brushes, and every kind of job that can be done with it. */
export async function startWork(server: WholeServer) {
  let n = 0
  const tips = (count: number) =>
    zipOf(
      Object.fromEntries(Array.from({ length: count }, (_, i) => [`Shore/t${++n}-${i}.png`, blotPng(n * 31 + i, 120)])),
    )
  const upload = (id: string, bytes: Uint8Array) =>
    server.request(`/api/gathers/${id}/files?path=tips${n}.zip`, { method: 'PUT', body: new Uint8Array(bytes) })
  const putJson = (path: string, body: unknown) =>
    server.request(path, {
      method: 'PUT',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify(body),
    })
  const listJobs = async () => (await server.json<Jobs>('/api/jobs')).jobs
  const openJobs = async () => (await listJobs()).filter(({ state }) => state === 'queued' || state === 'running')
  /** No job is open any more. */
  const settled = () => until(async () => (await openJobs().catch(() => [1])).length === 0, PATIENCE_MS)

  const { id } = await server.post<{ id: string }>('/api/gathers')
  await upload(id, tips(24))
  await settled()
  await server.post(`/api/gathers/${id}/take`)
  const brushIds = (await server.json<{ ids: string[] }>('/api/brushes/ids')).ids
  const { sets } = await server.json<{ sets: { id: string; starter: boolean }[] }>('/api/sets')
  const setIds = sets.filter(({ starter }) => !starter).map((set) => set.id)

  const work: Record<WorkKind, Work> = {
    'gather-read': {
      async begin() {
        const gather = await server.post<{ id: string }>('/api/gathers')
        await upload(gather.id, tips(30))
      },
      async holds() {
        const current = await server.json<{ id: string }>('/api/gathers/current')
        type Ledger = { tally: { take: number }; files: { read: number; total: number } }
        const ledger = await server.json<Ledger>(`/api/gathers/${current.id}`)
        expect(ledger.files.read).toBe(ledger.files.total)
        // a file that did not come in is not there at all: its sender was told
        expect(ledger.tally.take).toBe(30 * ledger.files.total)
        await server.post(`/api/gathers/${current.id}/cancel`)
      },
    },
    'make-source': {
      async begin() {
        const body = new Uint8Array(blotPng(++n, 900))
        const made = await server.request('/api/sources?name=mark.png', { method: 'POST', body })
        const source = (await made.json()) as { id: string }
        await putJson(`/api/sources/${source.id}/plan`, { plan: { way: 'picture', steps: usualSteps() }, from: 1 })
        await server.post(`/api/sources/${source.id}/make`)
      },
      holds: async () => undefined,
    },
    'fit-all': { begin: () => server.post('/api/fit/measure'), holds: async () => undefined },
    'fit-install': {
      begin: () => server.post('/api/installs', { name: `Class ${++n}`, destinationId: 'dunlin', brushIds }),
      async holds() {
        type Installs = { installs: { state: string; lost: string | null; files: number }[] }
        for (const { state, lost, files } of (await server.json<Installs>('/api/installs')).installs)
          expect([state, lost, files]).toEqual(['ready', null, brushIds.length])
      },
    },
    'build-release': {
      async begin() {
        const pack = await server.post<{ id: string }>('/api/packs', { title: `Pack ${++n}`, licence: 'CC0-1.0' })
        await putJson(`/api/packs/${pack.id}/sets`, { setIds })
        await server.post(`/api/packs/${pack.id}/releases`, { version: '1.0.0', notes: '' })
      },
      async holds() {
        const { packs } = await server.json<{ packs: { id: string }[] }>('/api/packs')
        type Pack = { releases: { state: string; lost: string | null }[] }
        for (const pack of packs)
          for (const { state, lost } of (await server.json<Pack>(`/api/packs/${pack.id}`)).releases)
            expect([state, lost]).toEqual(['ready', null])
      },
    },
    'check-pack': {
      async begin() {
        const pack = await server.post<{ id: string }>('/api/packs', { title: `Checked ${++n}`, licence: 'CC0-1.0' })
        await putJson(`/api/packs/${pack.id}/sets`, { setIds })
        await server.post(`/api/packs/${pack.id}/check`)
      },
      async holds() {
        const { packs } = await server.json<{ packs: { id: string; title: string }[] }>('/api/packs')
        type Check = { measured: number; brushes: number; isAlikeKnown: boolean }
        for (const { id: packId, title } of packs.filter((each) => each.title.startsWith('Checked'))) {
          const { measured, brushes, isAlikeKnown } = await server.json<Check>(`/api/packs/${packId}/check`)
          expect([title, measured, isAlikeKnown]).toEqual([title, brushes, true])
        }
      },
    },
  }
  return {
    work,
    settled,
    /** Asks once more for every job that failed or was stopped, and waits until all have come to rest. @returns What they said. */
    async askAgain(): Promise<(string | null)[]> {
      await settled()
      const failed = (await listJobs()).filter(({ state }) => state === 'failed' || state === 'stopped')
      for (const job of failed) await server.post(`/api/jobs/${job.id}/resume`)
      await settled()
      return failed.map(({ error }) => error)
    },
  }
}
