import { randomBytes } from 'node:crypto'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { sql } from 'drizzle-orm'
import pg from 'pg'
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest'
import { deleteOrphanBlobs } from '../db/orphans.ts'
import { insertParcel } from '../db/parcels.ts'
import { type Person, startTestServer, type TestServer, until } from '../testing/test-server.ts'
import { measureFile } from './measure.ts'

const PIECE_BYTES = 16 * 1024 * 1024

let server: TestServer
let person: Person
let beside: pg.Client
beforeAll(async () => {
  server = await startTestServer(inject('databaseUrl'))
  person = await server.owner()
})
beforeAll(async () => {
  beside = new pg.Client({ connectionString: server.parts.deps.pool.options.connectionString })
  await beside.connect()
})
afterAll(async () => {
  await beside.end()
  await server.close()
})

async function* chunksOf(bytes: Uint8Array): AsyncGenerator<Uint8Array> {
  for (let at = 0; at < bytes.length; at += 1_000_003) yield bytes.subarray(at, at + 1_000_003)
}
const countPieces = async (sha256: string) => {
  const { rows } = await server.parts.deps.db.execute(
    sql`select count(*)::int as n from blob_piece where sha256 = ${sha256}`,
  )
  return rows[0]?.n
}

/** Statements that wait for a lock; asked beside any transaction. */
async function countWaiting(): Promise<number> {
  const { rows } = await beside.query<{ n: number }>(
    "select count(*)::int as n from pg_stat_activity where wait_event_type = 'Lock' and datname = current_database()",
  )
  return rows[0]?.n ?? 0
}

describe('stored files', () => {
  it('come back byte for byte from the database, in pieces, when the cache is gone', async () => {
    const { db, blobs } = server.parts.deps
    for (const size of [0, 1, PIECE_BYTES, PIECE_BYTES * 2 + 5]) {
      const bytes = new Uint8Array(randomBytes(size))
      const { sha256 } = await blobs.putStream(db, person.workspaceId, chunksOf(bytes), {
        mediaType: 'x/y',
        maxBytes: 1e9,
      })
      expect(await countPieces(sha256)).toBe(Math.max(1, Math.ceil(size / PIECE_BYTES)))
      rmSync(await blobs.path(person.workspaceId, sha256))
      expect(
        Buffer.from(await blobs.read(person.workspaceId, sha256)).equals(Buffer.from(bytes)),
        `${size} bytes`,
      ).toBe(true)
    }
  })

  it('are stored many at once, small and large, each once, whoever else stores them in another order', async () => {
    const { db, blobs } = server.parts.deps
    const files = [0, 1, 5000, 64 * 1024, 64 * 1024 + 1, 300_000].map((size) => new Uint8Array(randomBytes(size)))
    for (let n = 0; n < 600; n++) files.push(new Uint8Array(randomBytes(20)))
    files.push(files[2] ?? new Uint8Array())
    const [names, backwards] = await Promise.all([
      db.transaction((tx) => blobs.putAll(tx, person.workspaceId, files, 'x/y')),
      db.transaction((tx) => blobs.putAll(tx, person.workspaceId, [...files].reverse(), 'x/y')),
    ])
    expect([...backwards].reverse()).toEqual(names)
    expect(names[2]).toBe(names.at(-1))
    for (const [i, sha256] of names.entries()) {
      if (i > 8 && i % 50) continue
      expect(await countPieces(sha256)).toBe(1)
      expect(await blobs.find(db, person.workspaceId, sha256)).toEqual({
        sizeBytes: files[i]?.length,
        mediaType: 'x/y',
      })
      expect(Buffer.from(await blobs.read(person.workspaceId, sha256)).equals(Buffer.from(files[i] ?? []))).toBe(true)
    }
  })

  it('are stored once, and belong to one workspace', async () => {
    const { db, blobs } = server.parts.deps
    const bytes = new Uint8Array(randomBytes(64))
    const [one, two] = await Promise.all([
      blobs.put(db, person.workspaceId, bytes, 'x/y'),
      blobs.put(db, person.workspaceId, bytes, 'x/y'),
    ])
    expect(one).toEqual(two)
    expect(await countPieces(one.sha256)).toBe(1)
    const other = await server.owner()
    expect(await blobs.find(db, other.workspaceId, one.sha256)).toBeUndefined()
  })

  it('that are nobody’s and are just let go are there all the same for whoever takes them on meanwhile', async () => {
    const { db, blobs } = server.parts.deps
    const { workspaceId } = person
    const folder = mkdtempSync(join(tmpdir(), 'adopt-'))
    for (const adopts of ['first', 'second'] as const) {
      const bytes = new Uint8Array(randomBytes(1000))
      const { sha256 } = await blobs.put(db, workspaceId, bytes, 'application/zip')
      const path = join(folder, adopts)
      writeFileSync(path, bytes)
      let letGo: () => void = () => undefined
      // begins outside of the transaction, as another request would
      const gone = new Promise<void>((begin) => {
        letGo = begin
      }).then(() => deleteOrphanBlobs(db, workspaceId, [sha256]))
      if (adopts === 'second') {
        letGo()
        await gone
        expect(await blobs.find(db, workspaceId, sha256)).toBeUndefined()
      }
      const file = { ...(await measureFile(path)), mediaType: 'application/zip' }
      await db.transaction(async (tx) => {
        await blobs.adopt(tx, workspaceId, path, file)
        letGo()
        if (adopts === 'first') await until(async () => (await countWaiting()) > 0)
        await insertParcel(tx, {
          ...{ workspaceId, wanted: { kind: 'library' }, title: 'It', fileName: 'it.zip', blobSha: sha256 },
        })
      })
      await gone
      expect(await countPieces(sha256), adopts).toBe(1)
      rmSync(await blobs.path(workspaceId, sha256))
      expect(Buffer.from(await blobs.read(workspaceId, sha256)).equals(bytes)).toBe(true)
    }
  })

  it('are refused as soon as they grow too large, and leave nothing', async () => {
    const { db, blobs } = server.parts.deps
    const put = blobs.putStream(db, person.workspaceId, chunksOf(new Uint8Array(3_000_000)), {
      mediaType: 'x/y',
      maxBytes: 2_000_000,
    })
    await expect(put).rejects.toThrow('Too large: the file size in bytes is 2,000,006, at most 2,000,000 is taken')
  })
})
