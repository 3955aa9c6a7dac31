import fc from 'fast-check'
import { afterAll, beforeAll, beforeEach, describe, expect, inject, it } from 'vitest'
import { takeInFiles } from '../testing/gather.ts'
import { type Person, sentenceOf, startTestServer, type TestServer } from '../testing/test-server.ts'
import { blotPng } from '../testing/tips.ts'

type Line = { id: string; name: string }
type Merged = { added: string[]; packs: string[] }
type RackSet = { id: string; name: string; count: number; note: string; mark: string; starter: boolean }
type Part = { ids: string[]; lines: Line[] }
type Beside = { one: Line; other: Line; onlyOne: Part; onlyOther: Part; both: Part }

let server: TestServer
let person: Person
let brushes: Line[] = []
beforeAll(async () => {
  server = await startTestServer(inject('databaseUrl'))
  person = await server.owner()
  const files = Object.fromEntries([1, 2, 3, 4, 5].map((n) => [`Shore/blot ${n}.png`, blotPng(n)]))
  await takeInFiles(person, files)
  brushes = (await person.json<{ brushes: Line[] }>('/api/brushes?sort=name')).brushes
})
afterAll(() => server.close())

const ids = (...places: number[]) => places.map((place) => brushes[place]?.id ?? '')
const rack = async () => (await person.json<{ sets: RackSet[] }>('/api/sets')).sets.filter(({ starter }) => !starter)
const inSet = async (setId: string) =>
  (await person.json<{ brushes: Line[] }>(`/api/brushes?setId=${setId}&sort=set`)).brushes.map(({ id }) => id)
async function setOf(name: string, places: readonly number[]): Promise<string> {
  const { id } = await person.post<{ id: string }>('/api/sets', { name })
  if (places.length > 0) await person.post(`/api/sets/${id}/brushes`, { ids: ids(...places) })
  return id
}
const packWith = async (setIds: string[]) => {
  const { id } = await person.post<{ id: string }>('/api/packs', { title: 'Tide' })
  await person.post(`/api/packs/${id}/sets`, { setIds }, 'PUT')
  return id
}
const setsIn = async (packId: string) =>
  (await person.json<{ sets: { id: string }[] }>(`/api/packs/${packId}`)).sets.map(({ id }) => id)

let one = ''
let other = ''
beforeEach(async () => {
  one = await setOf('One', [0, 1, 2])
  other = await setOf('Other', [2, 3])
})

describe('a set that is merged into another one', () => {
  it('leaves its brushes behind what is there, each once, and the rack', async () => {
    const { added } = await person.post<Merged>(`/api/sets/${one}/merge`, { into: other })
    expect(added).toEqual(ids(0, 1))
    expect(await inSet(other)).toEqual(ids(2, 3, 0, 1))
    expect((await rack()).map(({ id }) => id)).not.toContain(one)
  })

  it('is what it was once that is taken back, also by who asks twice', async () => {
    const done = await person.post<Merged>(`/api/sets/${one}/merge`, { into: other })
    for (let times = 0; times < 2; times++) await person.post(`/api/sets/${one}/part`, { into: other, ...done })
    expect(await inSet(one)).toEqual(ids(0, 1, 2))
    expect(await inSet(other)).toEqual(ids(2, 3))
    expect((await rack()).map(({ id }) => id)).toContain(one)
  })

  it('is the other one in the packs that held it, and none is added where that one was there', async () => {
    const [alone, both] = [await packWith([one]), await packWith([one, other])]
    const done = await person.post<Merged>(`/api/sets/${one}/merge`, { into: other })
    expect(done.packs).toEqual([alone])
    expect(await setsIn(alone)).toEqual([other])
    expect(await setsIn(both)).toEqual([other])
    await person.post(`/api/sets/${one}/part`, { into: other, ...done })
    expect(await setsIn(alone)).toEqual([one])
    expect(await setsIn(both)).toEqual([one, other])
  })

  it('loses no brush and doubles none, whatever both hold, and back again', async () => {
    const some = fc.uniqueArray(fc.integer({ min: 0, max: 4 }))
    await fc.assert(
      fc.asyncProperty(some, some, async (left, right) => {
        const [from, into] = [await setOf('From', left), await setOf('Into', right)]
        const done = await person.post<Merged>(`/api/sets/${from}/merge`, { into })
        expect(await inSet(into)).toEqual(ids(...right, ...left.filter((place) => !right.includes(place))))
        await person.post(`/api/sets/${from}/part`, { into, ...done })
        expect([await inSet(from), await inSet(into)]).toEqual([ids(...left), ids(...right)])
      }),
      { numRuns: 12 },
    )
  })

  it('is refused in a sentence with itself, with one that is gone, and with somebody else’s', async () => {
    const ask = (id: string, into: string, who = person) =>
      who.request(`/api/sets/${id}/merge`, {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify({ into }),
      })
    const itself = await ask(one, one)
    expect([itself.status, await sentenceOf(itself)]).toEqual([
      422,
      'A set cannot be merged into itself; choose another one.',
    ])
    await person.request(`/api/sets/${other}`, { method: 'DELETE' })
    expect((await ask(one, other)).status).toBe(404)
    const stranger = await server.owner()
    const theirs = await stranger.post<{ id: string }>('/api/sets', { name: 'Theirs' })
    expect((await ask(one, theirs.id)).status).toBe(404)
    expect((await ask(one, theirs.id, stranger)).status).toBe(404)
    expect(await inSet(one)).toEqual(ids(0, 1, 2))
  })
})

describe('two sets beside each other', () => {
  it('say what stands only in one, only in the other, and in both, in their order', async () => {
    const beside = await person.json<Beside>(`/api/sets/${one}/beside/${other}`)
    expect(beside.onlyOne.ids).toEqual(ids(0, 1))
    expect(beside.both.ids).toEqual(ids(2))
    expect(beside.onlyOther.ids).toEqual(ids(3))
    expect(beside.onlyOne.lines.map(({ id }) => id)).toEqual(ids(0, 1))
    expect([beside.one.name, beside.other.name]).toEqual(['One', 'Other'])
  })

  it('are none where one is gone', async () => {
    await person.request(`/api/sets/${other}`, { method: 'DELETE' })
    expect((await person.request(`/api/sets/${one}/beside/${other}`)).status).toBe(404)
  })
})

it('keeps a note and a mark of a set, and takes no mark that is none', async () => {
  const change = (json: object) =>
    person.request(`/api/sets/${one}`, {
      method: 'PATCH',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify(json),
    })
  expect((await change({ note: '  for wet paper\nand rain ', mark: 'wave' })).status).toBe(200)
  const kept = (await rack()).find(({ id }) => id === one)
  expect(kept).toMatchObject({ name: 'One', note: 'for wet paper\nand rain', mark: 'wave' })
  expect((await change({ mark: 'skull' })).status).toBe(422)
  expect((await change({ note: 'x'.repeat(601) })).status).toBe(422)
  expect((await change({ mark: '' })).status).toBe(200)
  expect((await rack()).find(({ id }) => id === one)?.mark).toBe('')
})
