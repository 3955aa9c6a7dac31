import { setTimeout as sleep } from 'node:timers/promises'
import { deflateSync } from 'node:zlib'
import { writePng } from '@satchel/core/formats/png/write'
import { nodeHashBytes } from '@satchel/node/hash'
import { afterAll, beforeAll, expect, it } from 'vitest'
import { until } from '../testing/test-server.ts'
import { zipOf } from '../testing/tips.ts'
import { startWholeServer, type WholeServer } from '../testing/whole-server.ts'

const PICTURES = 60
const SIDE_PX = 1024
const PATIENCE_MS = 240_000
/** After how long at work the server is killed: at once, in the middle, near the end. */
const KILLED_AFTER_MS = [0, 200, 600, 1200, 2000]

let first: WholeServer
let second: WholeServer
beforeAll(async () => {
  first = await startWholeServer()
  second = await startWholeServer()
  const { id } = await first.post<{ id: string }>('/api/gathers')
  const zip = zipOf(Object.fromEntries(Array.from({ length: PICTURES }, (_, n) => [`Noise/n${n}.png`, noise(n)])))
  await first.request(`/api/gathers/${id}/files?path=tips.zip`, { method: 'PUT', body: new Uint8Array(zip) })
  await isRead(id)
  // noise is a grain by its looks
  const { lines } = await first.json<{ lines: { id: string }[] }>(`/api/gathers/${id}/lines?limit=${PICTURES}`)
  const of = { ids: lines.map((line) => line.id) }
  await first.post(`/api/gathers/${id}/decide`, { of, use: 'tip', outcome: 'take' })
  await isRead(id)
  await first.post(`/api/gathers/${id}/take`)
  expect(await first.json('/api/library')).toMatchObject({ brushes: PICTURES, sets: 1 })
})
afterAll(async () => {
  await first.close()
  await second.close()
})

/** Waits until all files of a ledger are read, and compared. */
const isRead = (id: string) =>
  until(async () => {
    const { reading, files } = await first.json<{ reading: unknown; files: { read: number; total: number } }>(
      `/api/gathers/${id}`,
    )
    return !reading && files.total > 0 && files.read === files.total
  }, PATIENCE_MS)

/** A picture of about a MiB, unlike all others. */
function noise(seed: number): Uint8Array {
  const data = new Uint8Array(SIDE_PX * SIDE_PX)
  for (let i = 0, state = seed + 1; i < data.length; i++) {
    state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0
    data[i] = state >>> 24
  }
  return writePng(
    { width: SIDE_PX, height: SIDE_PX, channels: 1, data },
    { deflate: (bytes) => deflateSync(bytes, { level: 1 }) },
  )
}

type Job = { id: string; kind: string; state: string; error: string | null }
const newest = async (server: WholeServer, kind: string) =>
  (await server.json<{ jobs: Job[] }>('/api/jobs')).jobs.find((job) => job.kind === kind)

/** Waits until a job is at work or over; one that was given up, since it ended its server twice, is taken up again. */
async function settled(server: WholeServer, kind: string, states: readonly string[]): Promise<Job | undefined> {
  let found: Job | undefined
  await until(async () => {
    found = await newest(server, kind)
    if (found?.state === 'failed' && found.error?.includes('twice ended')) {
      await server.post(`/api/jobs/${found.id}/resume`)
      return false
    }
    return states.includes(found?.state ?? '')
  }, PATIENCE_MS)
  return found
}

/** Kills a server that is at something, again and again, until that has come to its end. */
async function killWhile(server: WholeServer, kind: string): Promise<number> {
  let kills = 0
  for (const afterMs of KILLED_AFTER_MS) {
    await settled(server, kind, ['running', 'done', 'failed'])
    await sleep(afterMs)
    if ((await newest(server, kind))?.state !== 'running') break
    await server.end('SIGKILL')
    kills++
    await server.start()
  }
  const job = await settled(server, kind, ['done', 'failed'])
  expect([job?.state, job?.error]).toEqual(['done', null])
  return kills
}

async function writeLibrary(server: WholeServer): Promise<{ bytes: Uint8Array; kills: number }> {
  const { id } = await server.post<{ id: string }>('/api/parcels', { wanted: { kind: 'library' } })
  const kills = await killWhile(server, 'make-parcel')
  const file = await server.request(`/api/parcels/${id}/file`)
  return { bytes: new Uint8Array(await file.arrayBuffer()), kills }
}

it('a whole library comes to its end, written and given back, however often its server is killed meanwhile', async () => {
  const written = await writeLibrary(first)
  const given = await second.request('/api/library', { method: 'POST', body: written.bytes })
  expect(given.status).toBe(202)
  const kills = await killWhile(second, 'give-back')
  console.log(`written through ${written.kills} kills, given back through ${kills}`)
  expect(Math.min(written.kills, kills)).toBeGreaterThan(0)
  expect(await second.json('/api/library')).toMatchObject({ brushes: PICTURES, sets: 1 })
  const again = await writeLibrary(second)
  expect(nodeHashBytes(again.bytes)).toBe(nodeHashBytes(written.bytes))
})
