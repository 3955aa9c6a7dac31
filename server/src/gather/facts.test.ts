import { afterAll, beforeAll, expect, inject, it } from 'vitest'
import { takeInFiles } from '../testing/gather.ts'
import { type Person, sentenceOf, startTestServer, type TestServer } from '../testing/test-server.ts'
import { blotPng } from '../testing/tips.ts'

let server: TestServer
let person: Person
beforeAll(async () => {
  server = await startTestServer(inject('databaseUrl'))
  person = await server.owner()
})
afterAll(() => server.close())

const put = (facts: object) =>
  person.request('/api/workspace/facts', {
    method: 'PUT',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify(facts),
  })
type Facts = { name: string; maker: string; licence: string }
async function factsOf(name: string): Promise<Facts> {
  const { brushes } = await person.json<{ brushes: { id: string; name: string }[] }>('/api/brushes')
  const { maker, licence } = await person.json<Facts>(`/api/brushes/${brushes.find((each) => each.name === name)?.id}`)
  return { name, maker, licence }
}

it('what is gathered says whose it is, from then on, where its file says nothing itself', async () => {
  expect(await person.json('/api/workspace/facts')).toEqual({ maker: '', licence: '' })
  await takeInFiles(person, { 'before.png': blotPng(1) })
  expect((await put({ maker: 'Ida of the marsh', licence: 'CC-BY-4.0' })).status).toBe(200)
  await takeInFiles(person, { 'after.png': blotPng(2) })
  expect(await factsOf('before')).toEqual({ name: 'before', maker: '', licence: '' })
  expect(await factsOf('after')).toEqual({ name: 'after', maker: 'Ida of the marsh', licence: 'CC-BY-4.0' })
  // another workspace says nothing of it
  expect(await (await server.owner()).json('/api/workspace/facts')).toEqual({ maker: '', licence: '' })
  const odd = await put({ maker: 'x'.repeat(2000), licence: '' })
  expect([odd.status, await sentenceOf(odd)]).toEqual([422, expect.any(String)])
})
