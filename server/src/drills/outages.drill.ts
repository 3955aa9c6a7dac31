import { setTimeout as sleep } from 'node:timers/promises'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { until } from '../testing/test-server.ts'
import { startWholeServer, type WholeServer } from '../testing/whole-server.ts'
import { startWork, WORK_KINDS } from './work.ts'

/** The database is ended at so many moments of each job, so far apart. */
const MOMENTS = 10
const APART_MS = 60
const AWAY_MS = 1500
const PATIENCE_MS = 240_000

let server: WholeServer
let all: Awaited<ReturnType<typeof startWork>>
let n = 0
beforeAll(async () => {
  server = await startWholeServer()
  all = await startWork(server)
})
afterAll(() => server.close())

/** Faults of ours, and promises that nobody heard. */
const faults = () =>
  server.lines.filter(({ level, msg }) => Number(level) >= 50 || String(msg).includes('nobody heard'))

describe.each(WORK_KINDS)('the database ends while %s is under way', (kind) => {
  it.each(Array.from({ length: MOMENTS }, (_, moment) => moment))(
    'at moment %i: the server lives, and the work comes to its end',
    async (moment) => {
      await all.work[kind].begin()
      await sleep(moment * APART_MS)
      await (moment % 2 === 0 ? server.database.stop() : server.database.kill())
      await sleep(AWAY_MS)
      expect((await server.request('/healthz')).status).toBe(200)
      expect((await server.request('/api/brushes')).status).toBe(503)
      await server.database.start()
      await until(async () => (await server.request('/readyz')).ok, PATIENCE_MS)
      await all.askAgain()
      expect(server.isAlive()).toBe(true)
      await all.work[kind].holds()
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
      await all.settled()
      await server.post(`/api/gathers/${id}/cancel`)
      expect(faults()).toEqual([])
    },
  )
})
