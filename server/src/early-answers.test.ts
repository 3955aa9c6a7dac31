import { Agent, request as ask } from 'node:http'
import { afterAll, beforeAll, expect, inject, it } from 'vitest'
import { type Person, startTestServer, type TestServer } from './testing/test-server.ts'

let server: TestServer
let person: Person
beforeAll(async () => {
  server = await startTestServer(inject('databaseUrl'))
  person = await server.owner()
})
afterAll(() => server.close())

/** One request on a connection that is kept: its status, and whether it leaves its connection for the next one. */
function askOn(agent: Agent, path: string, { method = 'GET', body }: { method?: string; body?: Uint8Array } = {}) {
  return new Promise<{ status: number; isKept: boolean }>((done, fail) => {
    const headers = { origin: server.url, cookie: person.cookie, ...(body ? { 'content-length': body.length } : {}) }
    const asked = ask(`${server.url}${path}`, { agent, method, headers }, (response) => {
      response.resume()
      response.once('end', () =>
        done({ status: response.statusCode ?? 0, isKept: response.headers.connection !== 'close' }),
      )
    })
    // one that is told to close may break under what is still being sent
    asked.on('error', fail)
    asked.end(body)
  })
}

it.each([
  ['a small one, which is read to its end', 100_000, true],
  ['a large one, whose connection is closed', 24_000_000, false],
])('what is answered before its body has come spoils no other request: %s', async (_what, sizeBytes, isKept) => {
  const agent = new Agent({ keepAlive: true, maxSockets: 1 })
  const body = new Uint8Array(sizeBytes)
  const full = Object.assign(new Error('no room'), { code: 'ENOSPC' })
  const { blobs } = server.parts.deps
  const putStream = blobs.putStream
  blobs.putStream = async (_db, _workspaceId, stream) => {
    for await (const _ of stream) throw full
    throw full
  }
  try {
    for (let n = 0; n < 6; n++) {
      const answer = await askOn(agent, '/api/sources?name=a.png', { method: 'POST', body })
      expect(answer).toEqual({ status: 507, isKept })
      expect(await askOn(agent, '/api/jobs')).toEqual({ status: 200, isKept: true })
    }
    // one that nobody reads at all
    for (let n = 0; n < 6; n++) {
      const closed = '/api/gathers/00000000-0000-4000-8000-000000000000/files?path=a.png'
      expect(await askOn(agent, closed, { method: 'PUT', body })).toEqual({ status: 409, isKept })
      expect(await askOn(agent, '/api/jobs')).toEqual({ status: 200, isKept: true })
    }
  } finally {
    blobs.putStream = putStream
    agent.destroy()
  }
})
