import { UPLOAD_MAX_BYTES, UPLOAD_PIECE_BYTES } from '@satchel/core/limits'
import { sql } from 'drizzle-orm'
import { afterAll, beforeAll, beforeEach, describe, expect, inject, it } from 'vitest'
import { forgetOldUploads } from '../db/uploads.ts'
import { settledLedger } from '../testing/gather.ts'
import { type Person, sentenceOf, startTestServer, type TestServer } from '../testing/test-server.ts'
import { blotPng, zipOf } from '../testing/tips.ts'

let server: TestServer
let person: Person
let gatherId: string
beforeAll(async () => {
  server = await startTestServer(inject('databaseUrl'))
})
beforeEach(async () => {
  person = await server.owner()
  ;({ id: gatherId } = await person.post<{ id: string }>('/api/gathers'))
})
afterAll(() => server.close())

type Begun = { id: string; receivedBytes: number }
const begin = (sizeBytes: number, path = 'pack.zip') =>
  person.post<Begun>(`/api/gathers/${gatherId}/uploads`, { path, sizeBytes, modifiedMs: 1_700_000_000_000 })
const sendPiece = (id: string, at: number, bytes: Uint8Array) =>
  person.request(`/api/gathers/${gatherId}/uploads/${id}?at=${at}`, { method: 'PATCH', body: new Uint8Array(bytes) })
const howFar = (id: string) => person.json<object>(`/api/gathers/${gatherId}/uploads/${id}`)
const countPieces = async () => {
  const { rows } = await server.parts.deps.db.execute(
    sql`select count(*)::int as n from blob_piece where workspace_id = ${person.workspaceId} and sha256 like 'upload %'`,
  )
  return rows[0]?.n
}

describe('a file in pieces', () => {
  it('goes on where it stopped, is read once it is whole, and says so to whoever asks again', async () => {
    const zip = zipOf({ 'Reeds/a.png': blotPng(1), 'Reeds/b.png': blotPng(2) })
    const cuts = [0, 100, 101, zip.length - 1, zip.length]
    const { id, receivedBytes } = await begin(zip.length)
    expect(receivedBytes).toBe(0)
    for (const [n, at] of cuts.slice(0, -1).entries()) {
      // as after a reload: the same file is chosen again
      expect(await begin(zip.length)).toEqual({ id, receivedBytes: at })
      const { arriving } = await person.json<{ arriving: object[] }>(`/api/gathers/${gatherId}`)
      expect(arriving).toEqual([{ id, path: 'pack.zip', sizeBytes: zip.length, receivedBytes: at }])
      expect((await sendPiece(id, at, zip.subarray(at, cuts[n + 1]))).status).toBe(200)
    }
    expect(await howFar(id)).toEqual({ receivedBytes: zip.length, isWhole: true })
    const again = await sendPiece(id, zip.length - 1, zip.subarray(-1))
    expect(await again.json()).toEqual({ receivedBytes: zip.length, isWhole: true })
    const ledger = await settledLedger(person, gatherId)
    expect(ledger.lines.map(({ folder, path }) => `${folder}/${path}`)).toEqual([
      'pack.zip/Reeds/a.png',
      'pack.zip/Reeds/b.png',
    ])
    expect(ledger).toMatchObject({ arriving: [], files: { total: 1, read: 1 } })
    expect(await countPieces()).toBe(0)
  })

  it('takes each byte once, whoever sends it', async () => {
    const bytes = blotPng(3)
    const { id } = await begin(bytes.length, 'a.png')
    const half = bytes.subarray(0, 60)
    const both = await Promise.all([sendPiece(id, 0, half), sendPiece(id, 0, half)])
    expect(both.map(({ status }) => status).sort()).toEqual([200, 409])
    expect((await sendPiece(id, 61, bytes.subarray(61))).status).toBe(409)
    expect(await howFar(id)).toEqual({ receivedBytes: 60, isWhole: false })
    const rest = bytes.subarray(60)
    const ends = await Promise.all([sendPiece(id, 60, rest), sendPiece(id, 60, rest)])
    expect(ends.some(({ status }) => status === 200)).toBe(true)
    expect((await settledLedger(person, gatherId)).lines.map(({ path }) => path)).toEqual(['a.png'])
  })

  it('is bounded: the file, a piece, and how many have begun', async () => {
    const refused = await person.request(`/api/gathers/${gatherId}/uploads`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ path: 'big.zip', sizeBytes: UPLOAD_MAX_BYTES + 1, modifiedMs: 0 }),
    })
    expect([refused.status, await sentenceOf(refused)]).toEqual([413, expect.stringContaining('"big.zip"')])
    const { id } = await begin(UPLOAD_PIECE_BYTES + 10)
    expect((await sendPiece(id, 0, new Uint8Array(UPLOAD_PIECE_BYTES + 1))).status).toBe(413)
    expect((await sendPiece(id, 0, new Uint8Array(UPLOAD_PIECE_BYTES))).status).toBe(200)
    const long = await sendPiece(id, UPLOAD_PIECE_BYTES, new Uint8Array(11))
    expect([long.status, await sentenceOf(long)]).toEqual([422, expect.stringContaining('longer than was said')])
    for (let n = 0; n < 99; n++) await begin(10, `${n}.zip`)
    await expect(begin(10, 'one more.zip')).rejects.toThrow('429')
    expect((await begin(10, '7.zip')).receivedBytes).toBe(0)
  })

  it('is let go by hand, and with its ledger', async () => {
    const { id } = await begin(500)
    await sendPiece(id, 0, new Uint8Array(200))
    await person.json(`/api/gathers/${gatherId}/uploads/${id}`, { method: 'DELETE' })
    expect((await sendPiece(id, 200, new Uint8Array(300))).status).toBe(404)
    const other = await begin(500)
    await sendPiece(other.id, 0, new Uint8Array(200))
    expect(await countPieces()).toBe(1)
    await person.post(`/api/gathers/${gatherId}/cancel`)
    expect(await countPieces()).toBe(0)
    await expect(begin(500)).rejects.toThrow('409')
  })

  it('is let go where nobody went on with it for long', async () => {
    const { db } = server.parts.deps
    const { id } = await begin(500)
    await sendPiece(id, 0, new Uint8Array(200))
    await forgetOldUploads(db, person.workspaceId, new Date(Date.now() - 60_000))
    expect([await howFar(id), await countPieces()]).toEqual([{ receivedBytes: 200, isWhole: false }, 1])
    await forgetOldUploads(db, person.workspaceId, new Date(Date.now() + 60_000))
    expect(await countPieces()).toBe(0)
    await expect(howFar(id)).rejects.toThrow('404')
  })
})
