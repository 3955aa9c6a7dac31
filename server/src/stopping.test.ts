import { request } from 'node:http'
import { afterAll, beforeAll, expect, inject, it } from 'vitest'
import { openDatabase } from './db/database.ts'
import { drained } from './server.ts'
import { type Person, sentenceOf, startTestServer, type TestServer } from './testing/test-server.ts'
import { blotPng } from './testing/tips.ts'

let server: TestServer
let person: Person
beforeAll(async () => {
  server = await startTestServer(inject('databaseUrl'))
  person = await server.owner()
})
afterAll(() => server.close())

it('a server that stops ends live streams, refuses what is new, and lets what runs come to its end', async () => {
  const live = await person.request('/api/workspace/events')
  const { id } = await person.post<{ id: string }>('/api/gathers')
  const png = blotPng(5)
  const upload = request(`${server.url}/api/gathers/${id}/files?path=a.png`, {
    method: 'PUT',
    headers: { origin: server.url, cookie: person.cookie, 'content-length': png.length },
  })
  const answer = new Promise<number | undefined>((done, fail) => {
    upload.once('response', (response) => {
      response.resume()
      done(response.statusCode)
    })
    upload.once('error', fail)
  })
  upload.write(png.subarray(0, 10))
  await new Promise((done) => server.listener.once('request', done)) // the upload has been taken
  server.parts.drain()
  let ended = false
  const stopped = drained(server.listener, 60_000).then(() => {
    ended = true
  })
  expect(await live.text()).toContain('hello')
  const refused = await person.request('/api/brushes')
  expect([refused.status, await sentenceOf(refused)]).toEqual([503, 'This server is stopping; try again in a moment.'])
  expect(ended).toBe(false)
  upload.end(png.subarray(10))
  expect(await answer).toBe(201)
  await stopped
})

it('what holds a connection cannot ask for a second one in tests, where that would wait for ever', async () => {
  const { db, pool, close } = openDatabase(inject('databaseUrl'), { strict: true })
  await expect(db.transaction(() => pool.query('select 1'))).rejects.toThrow('a second connection')
  await expect(db.transaction((tx) => tx.execute('select 1'))).resolves.toBeTruthy()
  await close()
})
