import { sql } from 'drizzle-orm'
import pg from 'pg'
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest'
import { migrateDatabase, openDatabase } from '../db/database.ts'
import { loadLedger } from '../testing/gather.ts'
import { type Person, startTestServer, type TestServer, until } from '../testing/test-server.ts'
import { blotPng, zipOf } from '../testing/tips.ts'

type Jobs = { jobs: { id: string; state: string; done: number; total: number }[] }

let server: TestServer
let person: Person
beforeAll(async () => {
  server = await startTestServer(inject('databaseUrl'))
  person = await server.owner()
})
afterAll(() => server.close())

/** More small files of an archive than are read and written together, by far. */
const FILES = 1200

describe('long tasks', () => {
  it('can be stopped in the middle and resumed, and then have done everything once', async () => {
    const { id } = await person.post<{ id: string }>('/api/gathers')
    const files = Object.fromEntries(Array.from({ length: FILES }, (_, n) => [`f${n}.png`, blotPng(500 + n, 30)]))
    await person.upload(id, 'many.zip', zipOf(files))
    await until(async () => (await loadLedger(person, id)).lines.length > 3)
    const [running] = (await person.json<Jobs>('/api/jobs')).jobs
    await person.post(`/api/jobs/${running?.id}/stop`)
    await until(async () => (await person.json<Jobs>('/api/jobs')).jobs[0]?.state === 'stopped')
    const half = await loadLedger(person, id)
    expect(half.reading).toBeNull()
    expect(half.lines.length).toBeLessThan(FILES)
    await person.post(`/api/jobs/${running?.id}/resume`)
    const whole = await until(async () => {
      const ledger = await loadLedger(person, id)
      return !ledger.reading && ledger.files.read === 1 && ledger
    })
    expect(new Set(whole.lines.map((line) => line.path)).size).toBe(FILES)
    expect(whole.lines.length).toBe(FILES)
    expect((await person.json<Jobs>('/api/jobs')).jobs[0]).toMatchObject({ state: 'done', done: FILES, total: FILES })
    await person.post(`/api/gathers/${id}/cancel`)
  })

  it('belong to their workspace: nobody else can stop them', async () => {
    const { db, jobs } = server.parts.deps
    const other = await server.owner()
    await db.execute(
      sql`insert into job (workspace_id, kind, subject_id, title, state) values (${person.workspaceId}, 'none', gen_random_uuid(), 'x', 'stopped')`,
    )
    const [mine] = (await person.json<Jobs>('/api/jobs')).jobs
    expect(await jobs.resume(other.workspaceId, mine?.id ?? '')).toBeUndefined()
    expect((await other.request(`/api/jobs/${mine?.id}/stop`, { method: 'POST' })).status).toBe(404)
  })
})

describe('a database', () => {
  it('of a newer version is refused in one sentence', async () => {
    const name = `newer_${process.pid}`
    const admin = new pg.Client({ connectionString: inject('databaseUrl') })
    await admin.connect()
    await admin.query(`create database ${name}`)
    await admin.end()
    const database = openDatabase(inject('databaseUrl').replace(/\/[^/]+$/, `/${name}`))
    const folder = new URL('../../drizzle', import.meta.url).pathname
    await migrateDatabase(database, folder)
    await database.db.execute(
      sql`insert into drizzle.__drizzle_migrations (hash, created_at) values ('later', 99999999999999)`,
    )
    await expect(migrateDatabase(database, folder)).rejects.toThrow(
      'The data folder was written by a newer version of Gentle Satchel',
    )
    await database.close()
  })
})
