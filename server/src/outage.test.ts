import { chmodSync, mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import pg from 'pg'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { startPostgres } from '../../scripts/postgres.mjs'
import { isDatabaseAway } from './errors.ts'
import { gatherFiles } from './testing/gather.ts'
import { type Person, sentenceOf, startTestServer, type TestServer, until } from './testing/test-server.ts'
import { blotPng } from './testing/tips.ts'

let folder: string
let postgres: { url: string; stop: () => Promise<unknown> }
let server: TestServer
let person: Person
beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'satchel-outage-'))
  chmodSync(folder, 0o755)
  postgres = await startPostgres(folder)
  server = await startTestServer(postgres.url)
  person = await server.owner()
})
afterAll(async () => {
  await server.close()
  await postgres.stop()
  rmSync(folder, { recursive: true, force: true })
})

const bringBack = async () => {
  postgres = await startPostgres(folder, { port: Number(new URL(postgres.url).port) })
}
/** Names of the events that a live stream brings, as they come. */
function follow(): { heard: string[]; end: () => void } {
  const heard: string[] = []
  const abort = new AbortController()
  void (async () => {
    const response = await person.request('/api/workspace/events', { signal: abort.signal })
    const text = response.body?.pipeThrough(new TextDecoderStream())
    for await (const part of text ?? []) heard.push(...(part.match(/(?<=event: )\w+/g) ?? []))
  })().catch(() => undefined)
  return { heard, end: () => abort.abort() }
}

describe('a database that goes away', () => {
  it('costs the requests of that time a sentence, and nothing after it; live events go on', async () => {
    const { heard, end } = follow()
    await until(async () => heard.includes('hello'))
    await postgres.stop()
    for (const path of ['/api/brushes', '/api/workspace/tally', '/api/session', '/readyz']) {
      const response = await person.request(path)
      expect([path, response.status, response.headers.get('retry-after')]).toEqual([path, 503, '2'])
      expect(await sentenceOf(response)).toBe(
        'The database does not answer just now; nothing was changed. Try again in a moment.',
      )
    }
    expect((await person.request('/healthz')).status).toBe(200)
    await bringBack()
    await until(async () => (await person.request('/readyz')).status === 200)
    await until(async () => heard.filter((name) => name === 'hello').length === 2)
    await person.post('/api/sets', { name: 'After' })
    await until(async () => heard.includes('library'))
    end()
  })

  it('does not stop jobs for good: one that comes after it is done', async () => {
    const { ledger } = await gatherFiles(person, { 'a.png': blotPng(3) })
    expect(ledger.lines).toHaveLength(1)
  })

  it('may end a connection that is held and not asking anything just then, as between two steps of a transaction', async () => {
    const { pool } = server.parts.deps
    const held = await pool.connect()
    const ended = new Promise((done) => held.once('end', done))
    const { rows } = await held.query<{ pid: number }>('select pg_backend_pid() as pid')
    await pool.query('select pg_terminate_backend($1)', [rows[0]?.pid])
    await ended // an error without a listener would end the process here
    held.release(true)
    expect((await person.request('/api/brushes')).status).toBe(200)
  })

  it('may end every connection while they are idle or used', async () => {
    const admin = new pg.Client({ connectionString: postgres.url })
    admin.on('error', () => undefined)
    await admin.connect()
    const busy = Promise.all(Array.from({ length: 20 }, () => person.request('/api/brushes')))
    await admin.query('select pg_terminate_backend(pid) from pg_stat_activity where pid <> pg_backend_pid()')
    await admin.end()
    for (const { status } of await busy) expect([200, 503]).toContain(status)
    await until(async () => (await person.request('/api/brushes')).status === 200)
  })
})

it('knows what a database that is away says, by what caused an error', () => {
  const wrapped = (cause: Error) => new Error('Failed query', { cause })
  const coded = (code: string) => Object.assign(new Error('x'), { code })
  for (const error of [coded('57P01'), coded('08006'), coded('ECONNREFUSED'), new Error('Connection terminated unexpectedly')])
    expect(isDatabaseAway(wrapped(error))).toBe(true)
  for (const error of [coded('23505'), coded('57014'), coded('ENOENT'), new Error('Connection')])
    expect(isDatabaseAway(wrapped(error))).toBe(false)
}) // biome-ignore format: one error a word
