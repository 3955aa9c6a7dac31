import { randomBytes } from 'node:crypto'
import { rmSync } from 'node:fs'
import { sql } from 'drizzle-orm'
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest'
import { type Person, startTestServer, type TestServer } from '../testing/test-server.ts'

const PIECE_BYTES = 16 * 1024 * 1024

let server: TestServer
let person: Person
beforeAll(async () => {
  server = await startTestServer(inject('databaseUrl'))
  person = await server.owner()
})
afterAll(() => server.close())

async function* chunksOf(bytes: Uint8Array): AsyncGenerator<Uint8Array> {
  for (let at = 0; at < bytes.length; at += 1_000_003) yield bytes.subarray(at, at + 1_000_003)
}
const countPieces = async (sha256: string) => {
  const { rows } = await server.parts.deps.db.execute(
    sql`select count(*)::int as n from blob_piece where sha256 = ${sha256}`,
  )
  return rows[0]?.n
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

  it('are refused as soon as they grow too large, and leave nothing', async () => {
    const { db, blobs } = server.parts.deps
    const put = blobs.putStream(db, person.workspaceId, chunksOf(new Uint8Array(3_000_000)), {
      mediaType: 'x/y',
      maxBytes: 2_000_000,
    })
    await expect(put).rejects.toThrow('Too large: the file size in bytes is 2,000,006, at most 2,000,000 is taken')
  })
})
