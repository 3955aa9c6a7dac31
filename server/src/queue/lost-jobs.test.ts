import { sql } from 'drizzle-orm'
import { afterAll, beforeAll, beforeEach, describe, expect, inject, it } from 'vitest'
import { whoAsks } from '../asking.ts'
import { claimNextJob, endJob, insertJob, type Job, requeueSilentJobs } from '../db/jobs.ts'
import { takeInFiles } from '../testing/gather.ts'
import { type Person, sentenceOf, startTestServer, type TestServer, until } from '../testing/test-server.ts'
import { blotPng } from '../testing/tips.ts'

type Installs = { installs: { id: string; state: string; lost: string | null }[] }

let server: TestServer
let person: Person
beforeAll(async () => {
  server = await startTestServer(inject('databaseUrl'))
})
beforeEach(async () => {
  await server.parts.deps.db.execute(sql`delete from job`)
  person = await server.owner()
})
afterAll(() => server.close())

const db = () => server.parts.deps.db
/** A job that no handler knows: only its row counts here. */
const add = (workspaceId: string, askedBy: string | null = null): Promise<Job | undefined> =>
  insertJob(db(), { workspaceId, kind: 'none', subjectId: crypto.randomUUID(), title: 'x', askedBy })
/** Its server stands still for longer than it may. */
const fallSilent = () =>
  db().execute(sql`update job set heartbeat_at = now() - interval '1 hour' where state = 'running'`)
const stateOf = async (id = '') => (await db().execute(sql`select * from job where id = ${id}`)).rows[0]

describe('a job that ends its server', () => {
  beforeAll(() => server.parts.deps.jobs.close()) // nobody else takes it

  it('is tried once more, and then given up with a sentence', async () => {
    const job = await add(person.workspaceId)
    await claimNextJob(db(), 3)
    await fallSilent()
    expect((await requeueSilentJobs(db())).map(({ state }) => state)).toEqual(['queued'])
    await claimNextJob(db(), 3)
    await fallSilent()
    expect((await requeueSilentJobs(db())).map(({ state }) => state)).toEqual(['failed'])
    expect(await stateOf(job?.id)).toMatchObject({
      state: 'failed',
      error: expect.stringContaining('twice ended the server'),
    })
    expect(await claimNextJob(db(), 3)).toBeUndefined()
    expect((await stateOf(job?.id))?.ended_at).toBeTruthy()
  })

  it('counts only servers that were lost in a row, not those that closed in time', async () => {
    const job = await add(person.workspaceId)
    for (let n = 0; n < 4; n++) {
      const claimed = await claimNextJob(db(), 3)
      if (!claimed) throw new Error('not to be claimed')
      if (n % 2 === 0) await fallSilent()
      if (n % 2 === 0) await requeueSilentJobs(db())
      else await endJob(db(), claimed, { state: 'queued' })
      expect((await stateOf(job?.id))?.state).toBe('queued')
    }
  })

  it('that was to stop has stopped', async () => {
    const job = await add(person.workspaceId)
    await claimNextJob(db(), 3)
    await db().execute(sql`update job set stop_asked_at = now()`)
    await fallSilent()
    await requeueSilentJobs(db())
    expect(await stateOf(job?.id)).toMatchObject({ state: 'stopped', error: null })
  })

  it('gets its turn by who has fewest: workspaces first, then members', async () => {
    const other = await server.owner()
    const [a1, a2, a3] = [await add(person.workspaceId, 'ida'), await add(person.workspaceId, 'ida'), await add(person.workspaceId, 'bo')] // biome-ignore format: in this order
    const b = await add(other.workspaceId)
    const order = []
    for (let job = await claimNextJob(db(), 3); job; job = await claimNextJob(db(), 3)) order.push(job.id)
    expect(order).toEqual([a1?.id, b?.id, a3?.id, a2?.id])
    await add(person.workspaceId)
    expect(await claimNextJob(db(), 3)).toBeUndefined() // three of one run already
    await add(other.workspaceId)
    expect((await claimNextJob(db(), 3))?.workspaceId).toBe(other.workspaceId)
  })
})

describe('an install whose files are not written', () => {
  let own: TestServer
  let who: Person
  let brushId: string
  beforeAll(async () => {
    own = await startTestServer(inject('databaseUrl'))
    who = await own.owner()
    await takeInFiles(who, { 'Shore/blot.png': blotPng(1) })
    brushId = (await who.json<{ brushes: { id: string }[] }>('/api/brushes')).brushes[0]?.id ?? ''
  })
  afterAll(() => own.close())
  const installOf = async (id: string) =>
    (await who.json<Installs>('/api/installs')).installs.find((each) => each.id === id)
  const begin = async () =>
    (await who.post<{ id: string }>('/api/installs', { name: 'Class', destinationId: 'dunlin', brushIds: [brushId] }))
      .id

  it('says what failed, is tried again, and can be forgotten', async () => {
    const { workers } = own.parts.deps
    const run = workers.run
    workers.run = (async (task: string, ...rest: never[]) => {
      if (task === 'writeFit') throw Object.assign(new Error('no space left on device'), { code: 'ENOSPC' })
      return (run as (task: string, ...rest: never[]) => Promise<unknown>)(task, ...rest)
    }) as typeof run
    const id = await begin()
    const failed = await until(async () => {
      const found = await installOf(id)
      return found?.lost ? found : undefined
    })
    workers.run = run
    expect(failed).toMatchObject({ state: 'preparing', lost: expect.stringContaining('no room left on the disk') })
    expect((await who.request(`/api/installs/${id}/write`, { method: 'POST' })).status).toBe(200)
    await until(async () => (await installOf(id))?.state === 'ready')
    expect(await installOf(id)).toMatchObject({ lost: null })
    const again = await who.request(`/api/installs/${id}/write`, { method: 'POST' })
    expect([again.status, await sentenceOf(again)]).toEqual([409, expect.stringContaining('written already')])
  })

  it('says so where there is no job for it at all', async () => {
    const id = await begin()
    await until(async () => (await installOf(id))?.state === 'ready')
    await own.parts.deps.db.execute(sql`update install set state = 'preparing' where id = ${id}`)
    await own.parts.deps.db.execute(sql`delete from job`)
    expect(await installOf(id)).toMatchObject({ lost: 'The server ended before it was done.' })
  })

  it('that is forgotten ends what writes it, and keeps nothing', async () => {
    const { workers, db: ownDb } = own.parts.deps
    const run = workers.run
    let isWriting: (value: unknown) => void = () => undefined
    const writing = new Promise((done) => {
      isWriting = done
    })
    // a plan that never ends: whoever forgets the install must not wait for it
    workers.run = ((task: string, ...rest: never[]) => {
      if (task !== 'writeFit') return (run as (task: string, ...rest: never[]) => unknown)(task, ...rest)
      isWriting(undefined)
      return new Promise((_, fail) => whoAsks().signal?.addEventListener('abort', () => fail(whoAsks().signal?.reason)))
    }) as typeof run
    try {
      const id = await begin()
      await writing
      expect((await who.request(`/api/installs/${id}`, { method: 'DELETE' })).status).toBe(200)
      await until(async () => {
        const { rows } = await ownDb.execute(sql`select state from job where subject_id = ${id}`)
        return rows.every(({ state }) => state === 'stopped')
      })
      expect(await installOf(id)).toBeUndefined()
    } finally {
      workers.run = run
    }
  })
})
