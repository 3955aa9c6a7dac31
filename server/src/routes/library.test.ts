import { defaultRecipe } from '@satchel/core/brush/recipe'
import { afterAll, beforeAll, beforeEach, describe, expect, inject, it } from 'vitest'
import { insertBrushes } from '../db/save-brush.ts'
import { type Person, sentenceOf, startTestServer, type TestServer } from '../testing/test-server.ts'
import { blotPng, pixelName } from '../testing/tips.ts'

type Brush = { id: string; name: string; version: number; sizePx: number }
type Page = { brushes: Brush[] }

let server: TestServer
let person: Person
beforeAll(async () => {
  server = await startTestServer(inject('databaseUrl'))
})
beforeEach(async () => {
  person = await server.owner()
})
afterAll(() => server.close())

async function addBrushes(
  names: readonly string[],
  change: (i: number) => { sizePx?: number; tags?: string[]; maker?: string } = () => ({}),
): Promise<string[]> {
  const { db, blobs } = server.parts.deps
  const { sha256 } = await blobs.put(db, person.workspaceId, blotPng(1), 'image/png')
  const frames = [{ blobSha: sha256, pixelSha: pixelName('9'), width: 48, height: 48 }]
  return insertBrushes(
    db,
    person.workspaceId,
    names.map((name, i) => {
      const { sizePx = 48, tags = [], maker = '' } = change(i)
      return {
        name,
        maker,
        licence: '',
        tags,
        recipe: defaultRecipe({ sizePx }),
        frames,
        pixelKey: 'k',
        alikeKey: null,
        alikeMark: null,
      }
    }),
  )
}
async function allPages(query: string): Promise<Brush[]> {
  const found: Brush[] = []
  for (;;) {
    const page: Page = await person.json(`/api/brushes?limit=7&from=${found.length}&${query}`)
    if (page.brushes.length === 0) break
    found.push(...page.brushes)
  }
  return found
}

describe('the library', () => {
  it('pages through everything once, in every order, whatever the names', async () => {
    const names = [
      'Ä',
      'a',
      'A',
      'a',
      'Zebra',
      "o'clock",
      '%',
      '_',
      'ß',
      ...Array.from({ length: 30 }, (_, i) => `Reed ${i % 4}`),
    ]
    const ids = await addBrushes(names, (i) => ({ sizePx: 10 + (i % 5) * 1.5 }))
    for (const sort of ['name', 'newest', 'size']) {
      const listed = await allPages(`sort=${sort}`)
      expect(listed.map((brush) => brush.id).sort(), sort).toEqual([...ids].sort())
    }
    const sizes = (await allPages('sort=size')).map((brush) => brush.sizePx)
    expect(sizes).toEqual([...sizes].sort((a, b) => a - b))
  })

  it('gives any place of the list in one request, and nothing beyond its end', async () => {
    await addBrushes(Array.from({ length: 30 }, (_, i) => `Reed ${String(i).padStart(2, '0')}`))
    const names = async (query: string) =>
      (await person.json<Page>(`/api/brushes?${query}`)).brushes.map((brush) => brush.name)
    expect(await names('from=27&limit=10')).toEqual(['Reed 27', 'Reed 28', 'Reed 29'])
    expect(await names('from=30')).toEqual([])
    const ids = await person.json<{ ids: string[] }>('/api/brushes/ids?from=5&limit=3')
    const { brushes } = await person.json<Page>('/api/brushes?from=5&limit=3')
    expect(ids.ids).toEqual(brushes.map((brush) => brush.id))
  })

  it('gives the right lines far down too, in every order, also right after a change', async () => {
    const count = 430
    const ids = await addBrushes(
      Array.from({ length: count }, (_, i) => `Reed ${(i * 7) % 31}`), // many of one name
      (i) => ({ sizePx: 10 + (i % 9), tags: [i % 2 ? 'wet' : 'dry'] }),
    )
    const set = await person.post<{ id: string }>('/api/sets', { name: 'All' })
    await person.post(`/api/sets/${set.id}/brushes`, { ids })
    const lists = ['sort=name', 'sort=newest', 'sort=size', `sort=set&setId=${set.id}`, 'sort=size&tag=wet', 'q=reed']
    const agree = async () => {
      for (const list of lists) {
        const whole = (await person.json<{ ids: string[] }>(`/api/brushes/ids?${list}`)).ids
        for (const from of [99, 100, 101, 199, 205, 399, 420, whole.length - 1, whole.length, count + 5]) {
          const { brushes } = await person.json<Page>(`/api/brushes?${list}&from=${from}&limit=20`)
          expect(
            brushes.map(({ id }) => id),
            `${list} from ${from}`,
          ).toEqual(whole.slice(from, from + 20))
        }
      }
    }
    await agree()
    const first = await person.json<{ ids: string[] }>('/api/brushes/ids?limit=3')
    await person.post('/api/brushes/bin', { ids: first.ids })
    await agree()
    await person.post('/api/brushes/bring-back', { ids: first.ids })
    await agree()
  })

  it.each(['from=-1', 'from=2.5', 'from=many', 'limit=0', 'limit=201', 'from=1e99'])(
    'refuses a place that is none: %s',
    async (query) => {
      expect((await person.request(`/api/brushes?${query}`)).status).toBe(422)
    },
  )

  it('finds what has all words that are typed, in every order, however rare or common they are', async () => {
    const words = ['kelp', 'kelpie', 'rope', 'ro_pe', 'moss', 'mossy stone', '海藻 筆', 'Ärmel', '100%']
    const brushes = Array.from({ length: 1300 }, (_, n) => ({
      name: `${words[n % 9]} ${n % 5 ? 'edge' : 'soft'} ${n}`,
      maker: `${n % 2 ? 'Maker' : 'Makers'} ${n % 7}`,
      tags: n % 3 ? [] : ['Wet ink'],
    }))
    await addBrushes(
      brushes.map(({ name }) => name),
      (i) => ({ sizePx: 1 + (i % 11), maker: brushes[i]?.maker ?? '', tags: brushes[i]?.tags ?? [] }),
    )
    const holds = ({ name, maker, tags }: (typeof brushes)[number], q: string) => {
      const all = [name, maker, ...tags].join(' ').toLowerCase().split(' ')
      const isFound = (word: string) =>
        all.some((each) =>
          word.length <= 2 && !/[^a-z0-9%ä]/.test(word) ? each.startsWith(word) : each.includes(word),
        )
      return q.toLowerCase().split(' ').every(isFound)
    }
    const searches = [
      'kelp',
      'elp',
      'ke',
      'pe',
      'e',
      'kelpie edge',
      'maker 3 soft',
      'wet',
      'ink moss',
      '12',
      '1',
      '海',
      '藻 so',
      'är',
      'ÄRMEL',
      'o_p',
      '0%',
      '%',
      'ssy wet 3',
      'nothing',
      'kelp nothing',
      'maker',
      'k e l p m a k r s 1 4',
      'maker edge kelp kelpie mak kel elpi dge pie ma',
    ]
    for (const q of searches) {
      const wanted = brushes.filter((each) => holds(each, q)).map(({ name }) => name)
      for (const sort of ['name', 'newest', 'size']) {
        const query = `q=${encodeURIComponent(q)}&sort=${sort}`
        const { ids } = await person.json<{ ids: string[] }>(`/api/brushes/ids?${query}`)
        const first = (await person.json<Page>(`/api/brushes?${query}&limit=50`)).brushes
        expect(new Set(ids).size, query).toBe(wanted.length)
        expect(await person.json(`/api/brushes/count?${query.replace(/&.*/, '')}`), query).toEqual({
          count: wanted.length,
        })
        expect(
          first.map(({ id }) => id),
          query,
        ).toEqual(ids.slice(0, 50))
        if (sort === 'name')
          expect(first.map(({ name }) => name)).toEqual(
            first.map(({ name }) => name).filter((name) => wanted.includes(name)),
          )
        if (wanted.length < 50) expect(first.map(({ name }) => name).sort(), query).toEqual(wanted.sort())
      }
    }
  })

  it('finds a brush by the name it has now, not by one it had', async () => {
    const [id] = await addBrushes(['Old tuft', 'Old sedge'], () => ({}))
    const brush = await person.json<{ name: string; version: number; recipe: object }>(`/api/brushes/${id}`)
    await person.post(
      `/api/brushes/${id}`,
      { name: 'Samphire', maker: '', licence: '', tags: ['shore'], recipe: brush.recipe, from: brush.version },
      'PUT',
    )
    const count = async (q: string) => (await person.json<{ count: number }>(`/api/brushes/count?q=${q}`)).count
    expect([await count('tuft'), await count('samphire'), await count('sho'), await count('old')]).toEqual([0, 1, 1, 1])
    await person.post(`/api/brushes/${id}/version`, { ordinal: 1 })
    expect([await count('tuft'), await count('samphire')]).toEqual([1, 0])
  })

  it('searches and filters, with counts and all ids that agree', async () => {
    await addBrushes(['Kelp edge', 'Kelp soft', 'Rope 100%', 'Rope_soft'], (i) => ({
      sizePx: 20 * (i + 1),
      tags: i % 2 ? ['soft'] : ['line'],
      maker: i < 2 ? 'Ann' : 'Ben',
    }))
    const names = async (query: string) => (await allPages(query)).map((brush) => brush.name)
    expect(await names('q=kelp')).toEqual(['Kelp edge', 'Kelp soft'])
    expect(await names('q=soft%20ke')).toEqual(['Kelp soft'])
    expect(await names('q=100%25')).toEqual(['Rope 100%'])
    expect(await names('q=ann')).toEqual(['Kelp edge', 'Kelp soft'])
    expect(await names('tag=soft&maker=Ben')).toEqual(['Rope_soft'])
    expect(await names('sizeFrom=30&sizeTo=60')).toEqual(['Kelp soft', 'Rope 100%'])
    expect(await person.json('/api/brushes/count?q=rope')).toEqual({ count: 2 })
    expect((await person.json<{ ids: string[] }>('/api/brushes/ids?q=rope')).ids.length).toBe(2)
    expect(await person.json('/api/brushes/facets')).toMatchObject({
      makers: [
        { value: 'Ann', n: 2 },
        { value: 'Ben', n: 2 },
      ],
      tags: [
        { value: 'line', n: 2 },
        { value: 'soft', n: 2 },
      ],
    })
  })

  it('keeps sets: order, copies, hiding, deleting and bringing back, right counts', async () => {
    const ids = await addBrushes(['a', 'b', 'c'])
    const make = (name: string) => person.post<{ id: string }>('/api/sets', { name })
    const [one, two, three] = [await make('One'), await make('Two'), await make('Three')]
    expect(await person.post(`/api/sets/${one.id}/brushes`, { ids: [ids[2], ids[0]] })).toEqual({ added: 2 })
    expect(await person.post(`/api/sets/${one.id}/brushes`, { ids })).toEqual({ added: 1 })
    expect((await allPages(`setId=${one.id}&sort=set`)).map((brush) => brush.name)).toEqual(['c', 'a', 'b'])
    await person.post(`/api/sets/${two.id}/brushes`, { ids: [ids[0]], from: one.id })
    await person.post(`/api/sets/${three.id}/move`, { afterId: null })
    const copy = await person.post<{ id: string }>(`/api/sets/${one.id}/copy`, { name: 'One copy' })
    await person.post(`/api/sets/${two.id}`, { hidden: true, name: 'Second' }, 'PATCH')
    await person.post('/api/brushes/bin', { ids: [ids[1]] })
    const rack = async () =>
      (await person.json<{ sets: { name: string; count: number; hidden: boolean }[] }>('/api/sets')).sets.map(
        ({ name, count, hidden }) => `${name} ${count}${hidden ? ' hidden' : ''}`,
      )
    expect(await rack()).toEqual(['Three 0', 'One 1', 'Second 1 hidden', 'One copy 1'])
    await person.post('/api/brushes/bring-back', { ids: [ids[1]] })
    await person.request(`/api/sets/${copy.id}`, { method: 'DELETE' })
    expect(await rack()).toEqual(['Three 0', 'One 2', 'Second 1 hidden'])
    await person.post(`/api/sets/${copy.id}/bring-back`)
    expect(await rack()).toContain('One copy 2')
    expect((await allPages('loose=1')).length).toBe(0)
  })

  it('puts sets inside one that holds sets, finds what is in all of them, and lets them out', async () => {
    const ids = await addBrushes(['a', 'b', 'c', 'd'])
    const make = async (name: string, places: number[]) => {
      const { id } = await person.post<{ id: string }>('/api/sets', { name })
      await person.post(`/api/sets/${id}/brushes`, { ids: places.map((n) => ids[n]) })
      return id
    }
    const [rocks, sand] = [await make('Rocks', [0, 1]), await make('Sand', [1, 2])]
    await make('Foam', [3])
    const put = (setIds: string[], folder: string) => person.post('/api/sets/inside', { ids: setIds, folder })
    const inside = async () => (await allPages('inFolder=Shore')).map(({ name }) => name)
    expect(await put([rocks, sand], ' Shore ')).toEqual({ changed: 2 })
    expect(await inside()).toEqual(['a', 'b', 'c'])
    expect(await person.json('/api/brushes/count?inFolder=Shore&q=b')).toEqual({ count: 1 })
    const other = await server.owner()
    expect(await other.json('/api/brushes/count?inFolder=Shore')).toEqual({ count: 0 })
    const theirs = await other.request('/api/sets/inside', { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify({ ids: [rocks], folder: '' }) }) // biome-ignore format: one request
    expect(theirs.status).toBe(404)
    expect(await inside()).toEqual(['a', 'b', 'c'])
    await put([sand], '')
    expect(await inside()).toEqual(['a', 'b'])
    await person.request(`/api/sets/${rocks}`, { method: 'DELETE' })
    expect(await inside()).toEqual([])
    await person.post(`/api/sets/${rocks}/bring-back`)
    expect(await inside()).toEqual(['a', 'b'])
  })

  it('saves a recipe as versions, walks back and forth, and drops what was undone', async () => {
    const [id] = await addBrushes(['Down'])
    type Whole = Brush & { recipe: ReturnType<typeof defaultRecipe>; versions: { ordinal: number }[] }
    const load = () => person.json<Whole>(`/api/brushes/${id}`)
    const save = async (sizePx: number, from: number) => {
      const { name, recipe } = await load()
      return person.request(`/api/brushes/${id}`, {
        method: 'PUT',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify({
          name,
          maker: '',
          licence: '',
          tags: [],
          recipe: { ...recipe, mark: { ...recipe.mark, sizePx } },
          from,
        }),
      })
    }
    expect((await save(60, 1)).status).toBe(200)
    expect((await save(70, 2)).status).toBe(200)
    expect((await save(80, 1)).status).toBe(409)
    await person.post(`/api/brushes/${id}/version`, { ordinal: 2 })
    expect(await load()).toMatchObject({ sizePx: 60, version: 2 })
    expect((await load()).versions.length).toBe(3)
    await save(90, 2)
    const now = await load()
    expect([now.sizePx, now.version, now.versions.map(({ ordinal }) => ordinal)]).toEqual([90, 3, [3, 2, 1]])
    const bad = await save(0, 3)
    expect(bad.status).toBe(422)
    expect(await sentenceOf(bad)).toBe('The recipe cannot be saved: expected mark.sizePx to be >=1, found 0.')
  })

  it('shows strokes as pictures that may be kept for ever', async () => {
    const [id] = await addBrushes(['Down'])
    const first = await person.request(`/api/brushes/${id}/stroke.png?size=pocket`)
    expect(first.headers.get('content-type')).toBe('image/png')
    expect(first.headers.get('cache-control')).toContain('immutable')
    const again = await person.request(`/api/brushes/${id}/stroke.png?size=pocket`, {
      headers: { 'if-none-match': first.headers.get('etag') ?? '' },
    })
    expect(again.status).toBe(304)
    // in no other sizes than are shown: each would be kept
    expect((await person.request(`/api/brushes/${id}/stroke.png?size=huge`)).status).toBe(422)
    expect((await person.request(`/api/pictures/${'a'.repeat(64)}/tip.png?side=97`)).status).toBe(422)
  })
})
