import { eq } from 'drizzle-orm'
import { afterAll, beforeAll, expect, inject, it } from 'vitest'
import { claimGatherFile, finishGatherFile, resetHalfReadFiles } from '../db/gathers.ts'
import { beatJob, claimNextJob, endJob, insertJob, requeueSilentJobs } from '../db/jobs.ts'
import { gatherFile, gatherLine, job } from '../db/schema/all.ts'
import { addLine } from '../gather/lines.ts'
import { type Reader, ReadingProgress } from '../gather/reader.ts'
import { type Person, startTestServer, type TestServer } from '../testing/test-server.ts'
import { JobStopped } from './queue.ts'

let server: TestServer
let person: Person
beforeAll(async () => {
  server = await startTestServer(inject('databaseUrl'))
  await server.parts.deps.jobs.close() // the queue of this test is its own
  person = await server.owner()
})
afterAll(() => server.close())

it('what a server writes that was silent for too long is refused: another one has taken its job up', async () => {
  const { db } = server.parts.deps
  const { workspaceId } = person
  const { id: gatherId } = await person.post<{ id: string }>('/api/gathers')
  await db
    .insert(gatherFile)
    .values({ workspaceId, gatherId, path: 'a.zip', sizeBytes: 1, blobSha: 'b'.repeat(64) as never })
  const added = await insertJob(db, { workspaceId, kind: 'gather-read', subjectId: gatherId, title: 'Reading' })
  const claim = async () => {
    const claimed = await claimNextJob(db, 3)
    if (claimed?.id !== added?.id || !claimed) throw new Error('not to be claimed')
    await resetHalfReadFiles(db, workspaceId, gatherId)
    const file = await claimGatherFile(db, { workspaceId, gatherId, attempt: claimed.attempt })
    if (!file) throw new Error('no file waits')
    const reader = { deps: server.parts.deps, file, progress: new ReadingProgress(() => undefined), ordinal: 0 }
    const line = (path: string) =>
      addLine(reader as unknown as Reader, { folder: '', path, setName: '' }, { outcome: 'skip', kind: 'foreign' })
    return { claimed, file, line }
  }
  const first = await claim()
  await first.line('one.png')
  await db.update(job).set({ heartbeatAt: new Date(0) }) // it falls silent in the middle
  expect(await requeueSilentJobs(db)).toHaveLength(1)
  const second = await claim()
  expect(second.claimed.attempt).toBe(first.claimed.attempt + 1)

  await expect(first.line('two.png')).rejects.toBeInstanceOf(JobStopped) // and wakes up
  await finishGatherFile(db, first.file)
  await endJob(db, first.claimed, { state: 'failed' })
  expect(await beatJob(db, first.claimed, { done: 1, total: 2 })).toBe(true) // told to stop
  expect(await beatJob(db, second.claimed, { done: 1, total: 2 })).toBe(false)

  await second.line('one.png')
  await second.line('two.png')
  await finishGatherFile(db, second.file)
  await endJob(db, second.claimed, { state: 'done' })
  const lines = await db.select().from(gatherLine).where(eq(gatherLine.gatherId, gatherId))
  expect(lines.map(({ path }) => path).sort()).toEqual(['one.png', 'two.png'])
  const [ended] = await db.select().from(job)
  expect([ended?.state, ended?.attempt]).toEqual(['done', 2])
})

it('however many ask at once, there is one open ledger, and every set has its own place', async () => {
  const other = await server.owner()
  const ledgers = await Promise.all(Array.from({ length: 12 }, () => other.post<{ id: string }>('/api/gathers')))
  expect(new Set(ledgers.map(({ id }) => id)).size).toBe(1)
  const sets = await Promise.all(
    Array.from({ length: 12 }, (_, n) => other.post<{ id: string }>('/api/sets', { name: `S${n}` })),
  )
  const [first, second] = sets
  await other.post(`/api/sets/${first?.id}/move`, { afterId: second?.id })
  const listed = (await other.json<{ sets: { id: string }[] }>('/api/sets')).sets.map(({ id }) => id)
  expect(listed).toHaveLength(12)
  expect(listed.indexOf(first?.id ?? '')).toBe(listed.indexOf(second?.id ?? '') + 1)
})
