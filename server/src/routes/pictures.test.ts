import { readdirSync, readlinkSync } from 'node:fs'
import { afterAll, beforeAll, expect, inject, it } from 'vitest'
import { type Person, startTestServer, type TestServer } from '../testing/test-server.ts'
import { blotPng } from '../testing/tips.ts'

let server: TestServer
let person: Person
beforeAll(async () => {
  server = await startTestServer(inject('databaseUrl'))
  person = await server.owner()
})
afterAll(() => server.close())

const store = async (bytes: Uint8Array, mediaType: string) => {
  const { db, blobs } = server.parts.deps
  return (await blobs.put(db, person.workspaceId, bytes, mediaType)).sha256
}

it('gives a picture whole, once: the browser keeps it', async () => {
  const png = blotPng(7)
  const sha = await store(png, 'application/octet-stream') // as it came, by chance the very file that we would write
  const response = await person.request(`/api/pictures/${sha}`)
  expect(response.headers.get('content-length')).toBe(String(png.length))
  expect(new Uint8Array(await response.arrayBuffer())).toEqual(new Uint8Array(png))
  const again = await person.request(`/api/pictures/${sha}`, {
    headers: { 'if-none-match': response.headers.get('etag') ?? '' },
  })
  expect(again.status).toBe(304)
})

it('opens no file for a look ahead that nobody reads', async () => {
  const large = new Uint8Array(2 ** 20)
  large.set(blotPng(9))
  const sha = await store(large, 'image/png')
  const open = () =>
    readdirSync('/proc/self/fd').filter((fd) => {
      try {
        return readlinkSync(`/proc/self/fd/${fd}`).endsWith(sha)
      } catch {
        return false // closed meanwhile
      }
    }).length
  for (let n = 0; n < 50; n++) {
    const response = await person.request(`/api/pictures/${sha}`, { method: 'HEAD' })
    expect([response.status, response.headers.get('content-length')]).toEqual([200, String(large.length)])
  }
  await expect.poll(open, { timeout: 10_000 }).toBe(0)
})

it('gives nothing else that is stored, and nothing of another workspace', async () => {
  const zip = await store(new TextEncoder().encode('PK\u0003\u0004 a release'), 'application/zip')
  const claimed = await store(new TextEncoder().encode('PK\u0003\u0004 another'), 'image/png')
  for (const sha of [zip, claimed])
    for (const path of [`/api/pictures/${sha}`, `/api/pictures/${sha}/tip.png`])
      expect([path, (await person.request(path)).status]).toEqual([path, 404])
  const other = await server.owner()
  const sha = await store(blotPng(8), 'image/png')
  expect((await other.request(`/api/pictures/${sha}`)).status).toBe(404)
})
