import { mkdtempSync, readdirSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { Writable } from 'node:stream'
import { sql } from 'drizzle-orm'
import { afterAll, beforeAll, expect, inject, it } from 'vitest'
import { isDiskFull } from '../errors.ts'
import { startTestServer, type TestServer, until } from '../testing/test-server.ts'
import { BlobStore } from './blob-store.ts'

let server: TestServer
const folder = mkdtempSync(join(tmpdir(), 'full-'))
beforeAll(async () => {
  server = await startTestServer(inject('databaseUrl'))
})
afterAll(async () => {
  await server.close()
  rmSync(folder, { recursive: true })
})

/** A file on a disk that is full after the first piece. */
function onFullDisk(): Writable {
  let pieces = 0
  return new Writable({
    write(_chunk, _encoding, done) {
      done(pieces++ === 0 ? null : Object.assign(new Error('no space left on device'), { code: 'ENOSPC' }))
    },
  })
}

it('a full disk fails the one file, leaves no connection copying and no part of it behind', async () => {
  const { db, pool } = server.parts.deps
  const { workspaceId } = await server.owner()
  const bytes = new Uint8Array(40 * 1024 * 1024).fill(7)
  const { sha256 } = await server.parts.deps.blobs.put(db, workspaceId, bytes, 'application/zip')
  const full = new BlobStore(pool, folder, { write: onFullDisk })
  for (let n = 0; n < pool.options.max + 2; n++) {
    const error = await full.path(workspaceId, sha256).catch((caught: unknown) => caught)
    expect(isDiskFull(error)).toBe(true)
  }
  expect(readdirSync(folder)).toEqual([])
  // a connection that is closed here ends there a moment later; one that goes on copying never does
  await until(async () => {
    const { rows } = await db.execute(
      sql`select count(*)::int as n from pg_stat_activity where datname = current_database() and query like 'copy%' and state <> 'idle'`,
    )
    return rows[0]?.n === 0
  })
  expect((await pool.query('select 1 as one')).rows).toEqual([{ one: 1 }])
  const room = new BlobStore(pool, folder)
  expect((await room.read(workspaceId, sha256)).length).toBe(bytes.length)
})
