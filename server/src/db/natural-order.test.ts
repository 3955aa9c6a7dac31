import { afterAll, beforeAll, expect, inject, it } from 'vitest'
import { loadLedger, takeInFiles } from '../testing/gather.ts'
import { type Person, startTestServer, type TestServer, until } from '../testing/test-server.ts'
import { blotPng } from '../testing/tips.ts'

let server: TestServer
let person: Person
/** As people order them. */
const NAMES = [
  'coins 1',
  'coins 2',
  'coins 10',
  'coins 10 b',
  'Coins 11',
  'leaf 3-2',
  'leaf 3-12',
  'ökö 7',
  'Ökö 8',
  'zebra',
]
beforeAll(async () => {
  server = await startTestServer(inject('databaseUrl'))
  person = await server.owner()
})
afterAll(() => server.close())

it('names are ordered by their numbers, in the ledger and in the library, found or listed, page after page', async () => {
  const { id } = await person.post<{ id: string }>('/api/gathers')
  for (const [i, name] of [...NAMES].reverse().entries()) await person.upload(id, `${name}.png`, blotPng(i))
  await until(async () => !(await loadLedger(person, id)).reading)
  const byNumber = ['coins 1', 'coins 2', 'coins 10', 'coins 10 b', 'Coins 11']
  const ofLedger = (await loadLedger(person, id)).lines.map(({ path }) => path.replace('.png', ''))
  // with the ends of the files, a space comes before a full stop
  const isCoin = (name: string) => /^coins \d+$/i.test(name)
  expect(ofLedger.filter(isCoin)).toEqual(byNumber.filter(isCoin))
  await person.post(`/api/gathers/${id}/cancel`)

  await takeInFiles(person, Object.fromEntries(NAMES.map((name, i) => [`${name}.png`, blotPng(i)])))
  type Page = { brushes: { name: string }[] }
  const list = async (query: string) =>
    (await person.json<Page>(`/api/brushes?${query}`)).brushes.map(({ name }) => name)
  expect(await list('sort=name')).toEqual(NAMES)
  expect(await list('sort=name&q=coins')).toEqual(byNumber)
  const { ids } = await person.json<{ ids: string[] }>('/api/brushes/ids')
  expect(ids.length).toBe(NAMES.length)
})
