import { afterAll, beforeAll, beforeEach, expect, inject, it } from 'vitest'
import { gatherFiles, takeInFiles } from '../testing/gather.ts'
import { releaseAndDownload } from '../testing/release.ts'
import { type Person, startTestServer, type TestServer } from '../testing/test-server.ts'
import { blotPng } from '../testing/tips.ts'

type Pocket = {
  id: string
  name: string
  items: { id: string; name: string; sizePx: number; label: string; brushId: string }[]
}

let server: TestServer
let person: Person
beforeAll(async () => {
  server = await startTestServer(inject('databaseUrl'))
})
beforeEach(async () => {
  person = await server.owner()
  await takeInFiles(person, { 'Shore/a.png': blotPng(1), 'Shore/b.png': blotPng(2), 'Shore/c.png': blotPng(3) })
})
afterAll(() => server.close())

const pockets = async (who = person) => (await who.json<{ pockets: Pocket[] }>('/api/pockets')).pockets
const namesOf = async () => (await pockets())[0]?.items.map((item) => item.name)
const patch = (path: string, body: object) =>
  person.request(path, { method: 'PATCH', headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) })

it('takes a whole set in one step, keeps sizes and names of its own, and an order', async () => {
  const { sets } = await person.json<{ sets: { id: string }[] }>('/api/sets')
  const { id } = await person.post<{ id: string }>('/api/pockets', { name: 'Evening', setId: sets[0]?.id })
  expect(await namesOf()).toEqual(['a', 'b', 'c'])
  const [a, b, c] = (await pockets())[0]?.items ?? []
  await person.post(`/api/pockets/${id}/items/${c?.id}/move`, { afterId: null })
  await person.post(`/api/pockets/${id}/items/${a?.id}/move`, { afterId: b?.id })
  expect(await namesOf()).toEqual(['c', 'b', 'a'])
  await patch(`/api/pockets/${id}/items/${b?.id}`, { sizePx: 24, label: 'small one' })
  await person.post(`/api/pockets/${id}/items`, { ids: [b?.brushId] })
  const items = (await pockets())[0]?.items ?? []
  expect(items.map(({ name, sizePx, label }) => [name, sizePx, label])).toEqual([
    ['c', 48, ''],
    ['b', 24, 'small one'],
    ['a', 48, ''],
    ['b', 48, ''],
  ])
  // a brush in the bin is not in the pocket, and is again when it comes back
  await person.post('/api/brushes/bin', { ids: [b?.brushId] })
  expect(await namesOf()).toEqual(['c', 'a'])
  await person.post('/api/brushes/bring-back', { ids: [b?.brushId] })
  await person.request(`/api/pockets/${id}/items/${c?.id}`, { method: 'DELETE' })
  expect(await namesOf()).toEqual(['b', 'a', 'b'])
})

it('is put away and brought back, renamed, and nobody else’s', async () => {
  const { id } = await person.post<{ id: string }>('/api/pockets', { name: 'Evening' })
  await patch(`/api/pockets/${id}`, { name: 'Morning' })
  await person.request(`/api/pockets/${id}`, { method: 'DELETE' })
  expect(await pockets()).toEqual([])
  await person.post(`/api/pockets/${id}/bring-back`)
  expect((await pockets())[0]?.name).toBe('Morning')
  const stranger = await server.owner()
  expect(await pockets(stranger)).toEqual([])
  const { ids } = await person.json<{ ids: string[] }>('/api/brushes/ids')
  const post = (who: Person) =>
    who.request(`/api/pockets/${id}/items`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ ids }),
    })
  expect((await post(stranger)).status).toBe(404)
  expect((await post(person)).status).toBe(201)
})

it('travels in a pack, with those of its entries that are in it, and is laid out where that is wished', async () => {
  const { sets } = await person.json<{ sets: { id: string }[] }>('/api/sets')
  const { id } = await person.post<{ id: string }>('/api/pockets', { name: 'Evening', setId: sets[0]?.id })
  const [, second] = (await pockets())[0]?.items ?? []
  await patch(`/api/pockets/${id}/items/${second?.id}`, { sizePx: 24, label: 'small one' })
  const download = await releaseAndDownload(server, person)
  const colleague = await server.owner()
  const { id: gather } = await gatherFiles(colleague, { 'shore.zip': download })
  const { cards } = await colleague.json<{ cards: { fileId: string; key: string }[] }>(`/api/gathers/${gather}`)
  const [{ fileId = '', key = '' } = {}] = cards
  await colleague.post(`/api/gathers/${gather}/cards`, { fileId, key, isChosen: true })
  await colleague.post(`/api/gathers/${gather}/take`)
  const [theirs] = await pockets(colleague)
  expect(theirs?.name).toBe('Evening')
  expect(theirs?.items.map(({ name, sizePx, label }) => [name, sizePx, label])).toEqual([
    ['a', 48, ''],
    ['b', 24, 'small one'],
    ['c', 48, ''],
  ])
})
