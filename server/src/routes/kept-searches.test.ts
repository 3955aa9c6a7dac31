import { BRUSH_IS_NAMES, type BrushIs, FILTER_KEYS } from '@satchel/core/forms/brush-filter-words'
import { encodePng } from '@satchel/node/png'
import { sql } from 'drizzle-orm'
import { afterAll, beforeAll, beforeEach, describe, expect, inject, it } from 'vitest'
import { takeInFiles } from '../testing/gather.ts'
import { releaseAndDownload } from '../testing/release.ts'
import { type Person, sentenceOf, startTestServer, type TestServer } from '../testing/test-server.ts'
import { blotPng, waveTile } from '../testing/tips.ts'

type Search = { id: string; name: string; count: number; filter: Record<string, string>; sort: string }

let server: TestServer
let person: Person
let ids = new Map<string, string>()
beforeAll(async () => {
  server = await startTestServer(inject('databaseUrl'))
})
afterAll(() => server.close())
beforeEach(async () => {
  person = await server.owner()
  await takeInFiles(person, {
    'Shore/blot.png': blotPng(1),
    'Shore/tuft.png': blotPng(2),
    'Dune/reed.png': blotPng(3),
    'x/sand.png': encodePng(waveTile()),
  })
  const { brushes } = await person.json<{ brushes: { id: string; name: string }[] }>('/api/brushes')
  ids = new Map(brushes.map(({ id, name }) => [name, id]))
})

const idOf = (name: string) => ids.get(name) ?? ''
const find = async (query: string) => {
  const { brushes } = await person.json<{ brushes: { name: string }[] }>(`/api/brushes?${query}`)
  const { count } = await person.json<{ count: number }>(`/api/brushes/count?${query}`)
  expect(count).toBe(brushes.length)
  return brushes.map(({ name }) => name)
}
const keep = (filter: Record<string, string>, name = 'Kept') =>
  person.post<Search>('/api/kept-searches', { name, filter })
const searches = async () => (await person.json<{ searches: Search[] }>('/api/kept-searches')).searches
const refused = async (path: string, body: unknown) => {
  const response = await person.request(path, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify(body),
  })
  return [response.status, await sentenceOf(response)]
}

describe('what a brush is', () => {
  it('is found by each of its words', async () => {
    const { db } = server.parts.deps
    const set = (column: string, name: string) =>
      db.execute(sql`update brush set ${sql.raw(column)} where id = ${idOf(name)}`)
    await set("grain_sha = 'x'", 'blot')
    await set('ribbon = true', 'tuft')
    await set("behaviour = 'erase'", 'tuft')
    await set("behaviour = 'smear'", 'reed')
    const found: Partial<Record<BrushIs, string[]>> = {}
    for (const is of BRUSH_IS_NAMES) found[is] = await find(`is=${is}`)
    expect(found).toEqual({
      grain: ['blot'],
      plain: ['reed', 'tuft'],
      ribbon: ['tuft'],
      erases: ['tuft'],
      smears: ['reed'],
      made: [],
      taken: [],
      unpacked: ['blot', 'reed', 'tuft'],
      unused: [],
      changed: [],
    })
    expect(await find('is=plain,smears')).toEqual(['reed'])
    expect((await person.request('/api/brushes?is=large')).status).toBe(422)
  })

  it('follows what it is used in: packs, sets and pockets, releases and sources', async () => {
    // its pack holds all sets
    await releaseAndDownload(server, person)
    const packed = await find('is=unpacked')
    expect(packed.length).toBeLessThan(3)
    const { packs } = await person.json<{ packs: { id: string }[] }>('/api/packs')
    await person.request(`/api/packs/${packs[0]?.id}`, { method: 'DELETE' })
    expect(await find('is=unpacked')).toEqual(['blot', 'reed', 'tuft'])

    expect(await find('is=changed')).toEqual([])
    await person.post('/api/many', { ids: [...ids.values()], change: { kind: 'maker', maker: 'Tern' } })
    expect((await find('is=changed')).length).toBe(3 - packed.length)

    const { sets } = await person.json<{ sets: { id: string; name: string }[] }>('/api/sets')
    const dune = sets.find(({ name }) => name === 'Dune')?.id
    await person.post(`/api/sets/${dune}/remove`, { ids: [idOf('reed')] })
    expect(await find('is=unused')).toEqual(['reed'])
    const { id: pocket } = await person.post<{ id: string }>('/api/pockets', { name: 'Pocket' })
    await person.post(`/api/pockets/${pocket}/items`, { ids: [idOf('reed')] })
    expect(await find('is=unused')).toEqual([])
  })

  it('is how it paints at an app, and from which source it is', async () => {
    const { db } = server.parts.deps
    const at = (name: string, score: number) =>
      db.execute(sql`insert into fit_cell (workspace_id, brush_id, destination_id, key, score, left_count, result)
        values (${person.workspaceId}, ${idOf(name)}, 'dunlin', 'k', ${score}, 0, '{"refused":""}')`)
    await at('blot', 40)
    await at('tuft', 85)
    await at('reed', -1)
    expect(await find('fitAt=dunlin&fitFrom=80')).toEqual(['tuft'])
    expect(await find('fitAt=dunlin&fitTo=80')).toEqual(['blot'])
    expect(await find('fitAt=plover')).toEqual([])
    const { id } = await person.post<{ id: string }>('/api/sources/from-picture', {
      blobSha: (await person.json<{ pictures: { blobSha: string }[] }>(`/api/brushes/${idOf('blot')}`)).pictures[0]
        ?.blobSha,
      name: 'Leaf',
    })
    await db.execute(sql`insert into source_made (workspace_id, source_id, part, brush_id, revision, reading)
      values (${person.workspaceId}, ${id}, 'whole', ${idOf('tuft')}, 1, 'dark')`)
    expect(await find(`sourceId=${id}`)).toEqual(['tuft'])
    expect(await find('is=made')).toEqual(['tuft'])
  })
})

describe('a kept search', () => {
  it('fills itself, is renamed, put away and brought back', async () => {
    const { id } = await keep({ q: 'blot' })
    expect(await searches()).toMatchObject([{ id, name: 'Kept', count: 1, filter: { q: 'blot' }, sort: 'name' }])
    await takeInFiles(person, { 'Shore/blot two.png': blotPng(9) })
    expect((await searches())[0]?.count).toBe(2)
    await person.post(`/api/kept-searches/${id}`, { name: 'Blots' }, 'PATCH')
    expect((await searches())[0]?.name).toBe('Blots')
    await person.request(`/api/kept-searches/${id}`, { method: 'DELETE' })
    expect(await searches()).toEqual([])
    await person.post(`/api/kept-searches/${id}/bring-back`)
    expect(await searches()).toHaveLength(1)
  })

  it('is frozen as a set, which fills itself no more', async () => {
    const { id } = await keep({ q: 'blot' })
    const set = await person.post<{ id: string; count: number }>(`/api/kept-searches/${id}/freeze`, { name: 'Blots' })
    expect(set.count).toBe(1)
    await takeInFiles(person, { 'Shore/blot two.png': blotPng(9) })
    expect(await find(`setId=${set.id}`)).toEqual(['blot'])
    const { id: none } = await keep({ q: 'nowhere' })
    expect(await refused(`/api/kept-searches/${none}/freeze`, { name: 'None' })).toEqual([
      409,
      '"Kept" finds no brush just now; a set of it would be empty.',
    ])
    expect(await person.json<{ sets: object[] }>('/api/sets').then(({ sets }) => sets.length)).toBe(3)
  })

  it('is nothing but a search: refused are a set, the bin, and words that are none', async () => {
    for (const filter of [{}, { bin: '1' }, { setId: crypto.randomUUID() }, { colour: 'red' }, { is: 'large' }])
      expect((await refused('/api/kept-searches', { name: 'Kept', filter }))[0]).toBe(422)
    const stranger = await server.owner()
    const { id } = await keep({ q: 'blot' })
    const theirs = await stranger.request(`/api/kept-searches/${id}`, { method: 'DELETE' })
    expect(theirs.status).toBe(404)
    expect(FILTER_KEYS).toContain('is')
  })
})
