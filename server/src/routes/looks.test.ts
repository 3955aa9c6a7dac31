import { foundParts } from '@satchel/core/brush/parts'
import type { Recipe } from '@satchel/core/brush/recipe'
import { encodePng } from '@satchel/node/png'
import { sql } from 'drizzle-orm'
import { afterAll, beforeAll, beforeEach, describe, expect, inject, it } from 'vitest'
import type { Job } from '../db/jobs.ts'
import { LOOK_RULES } from '../db/stroke-looks.ts'
import { TaskGivenUp } from '../errors.ts'
import { measureLooksJob } from '../looks/measure-looks.ts'
import { takeInFiles } from '../testing/gather.ts'
import { type Person, sentenceOf, startTestServer, type TestServer, until } from '../testing/test-server.ts'
import { blot, blotPng, ropeStrip } from '../testing/tips.ts'

type Look = { name: string; version: number; darkness: number; width_px: number; roughness: number; uses: string[] }
type Like = { id: string; name: string; likeness: number }
type Whole = { name: string; maker: string; licence: string; tags: string[]; recipe: Recipe; version: number }

let server: TestServer
let person: Person
beforeAll(async () => {
  server = await startTestServer(inject('databaseUrl'))
})
afterAll(() => server.close())
beforeEach(async () => {
  person = await server.owner()
  await takeInFiles(person, {
    'Shore/one.png': blotPng(1, 96),
    'Shore/two.png': blotPng(2, 96),
    'Shore/three.png': blotPng(3, 96),
    'Shore/four.png': blotPng(4, 96),
  })
})

const measured = () =>
  until(async () => {
    const { unmeasured } = await person.json<{ unmeasured: number }>('/api/looks')
    return unmeasured === 0
  })
const looks = async () => {
  const { rows } = await server.parts.deps.db.execute<Look>(sql`select b.name, l.version, l.darkness, l.width_px,
    l.roughness, l.uses from stroke_look l join brush b on b.id = l.brush_id where l.workspace_id = ${person.workspaceId}`)
  return rows
}
const lines = async (query: string) =>
  (await person.json<{ brushes: { id: string; name: string }[] }>(`/api/brushes?${query}`)).brushes
const names = async (query: string) => (await lines(query)).map(({ name }) => name)
const idOf = async (name: string) => (await lines(`q=${name}`))[0]?.id ?? ''
async function change(name: string, to: (recipe: Recipe) => Recipe) {
  const id = await idOf(name)
  const { maker, licence, tags, recipe, version } = await person.json<Whole>(`/api/brushes/${id}`)
  await person.post(`/api/brushes/${id}`, { name, maker, licence, tags, recipe: to(recipe), from: version }, 'PUT')
}
const wider = (recipe: Recipe): Recipe => ({ ...recipe, mark: { ...recipe.mark, sizePx: recipe.mark.sizePx * 3 } })
const thrown = (recipe: Recipe): Recipe => ({
  ...recipe,
  path: { ...recipe.path, scatter: { acrossPct: 60, alongPct: 10 } },
})
const likePicture = (bytes: Uint8Array, by: string) =>
  person.request(`/api/looks/like?by=${by}`, { method: 'POST', body: new Uint8Array(bytes) })

describe('the order of looks', () => {
  it('is that of what was measured of each stroke, also once a brush paints otherwise', async () => {
    await measured()
    for (const [sort, column] of [
      ['darkness', 'darkness'],
      ['width', 'width_px'],
      ['roughness', 'roughness'],
    ] as const) {
      const all = await looks()
      expect(all.every((look) => Number.isFinite(look[column]))).toBe(true)
      const expected = all.sort((a, b) => a[column] - b[column]).map(({ name }) => name)
      expect(await names(`sort=${sort}`)).toEqual(expected)
    }
    const [narrowest] = await names('sort=width')
    await change(narrowest ?? '', wider)
    await until(async () => (await names('sort=width')).at(-1) === narrowest)
    const look = (await looks()).find(({ name }) => name === narrowest)
    expect(look?.version).toBe(2)
  })

  it('has what was not measured at its end, and leaves nothing out', async () => {
    await measured()
    await server.parts.deps.db.execute(sql`update stroke_look set darkness = 'infinity'
      where brush_id = ${await idOf('two')}`)
    const order = await names('sort=darkness')
    expect(order).toHaveLength(4)
    expect(order.at(-1)).toBe('two')
  })

  it('goes with what the list is narrowed by: words, sets, and places far down', async () => {
    await measured()
    const { sets } = await person.json<{ sets: { id: string; count: number }[] }>('/api/sets')
    const set = sets.find(({ count }) => count === 4)
    const all = await names('sort=roughness')
    expect(await names(`sort=roughness&setId=${set?.id}`)).toEqual(all)
    expect(await names('sort=roughness&q=t')).toEqual(all.filter((name) => name.startsWith('t')))
    expect(await names('sort=roughness&from=2&limit=2')).toEqual(all.slice(2))
    const { ids } = await person.json<{ ids: string[] }>('/api/brushes/ids?sort=roughness')
    expect(ids).toEqual((await lines('sort=roughness')).map(({ id }) => id))
  })
})

it('finds brushes by the parts of the recipe that they use', async () => {
  await change('two', thrown)
  await measured()
  expect(await names('uses=path.scatter')).toEqual(['two'])
  expect(await names('uses=path.scatter,path.taper')).toEqual([])
  const { count } = await person.json<{ count: number }>('/api/brushes/count?uses=path.scatter')
  expect(count).toBe(1)
  const { recipe } = await person.json<Whole>(`/api/brushes/${await idOf('two')}`)
  expect((await looks()).find(({ name }) => name === 'two')?.uses).toEqual(foundParts(recipe))
  expect((await person.request('/api/brushes?uses=path.size')).status).toBe(422)
})

describe('what looks like something', () => {
  it('is found by a brush, which is not among it', async () => {
    await measured()
    const one = await idOf('one')
    await person.post(`/api/brushes/${one}/copy`, { name: 'one again' })
    await until(async () => (await names('q=again')).length === 1)
    await measured()
    for (const by of ['mark', 'stroke']) {
      const { likes } = await person.post<{ likes: Like[] }>(`/api/looks/like/${one}?by=${by}`)
      expect(likes[0]).toMatchObject({ name: 'one again', likeness: 100 })
      expect(likes.map(({ id }) => id)).not.toContain(one)
      expect(likes.map(({ likeness }) => likeness)).toEqual(likes.map(({ likeness }) => likeness).sort((a, b) => b - a))
    }
  })

  it('is found by a picture of a mark, smaller and turned', async () => {
    const { width, data } = blot(3, 96)
    const turned = new Uint8Array(data.length)
    for (let y = 0; y < width; y++)
      for (let x = 0; x < width; x++) turned[x * width + (width - 1 - y)] = data[y * width + x] ?? 0
    const picture = encodePng({ width, height: width, channels: 1, data: turned })
    const { likes } = (await (await likePicture(picture, 'mark')).json()) as { likes: Like[] }
    expect(likes[0]?.name).toBe('three')
  })

  it('is found by a picture of a stroke', async () => {
    await measured()
    const said = await likePicture(encodePng(ropeStrip(400, 60)), 'stroke')
    expect(said.status).toBe(200)
    const { likes } = (await said.json()) as { likes: Like[] }
    expect(likes).toHaveLength(4)
  })

  it('is refused in a sentence where there is nothing to look for', async () => {
    const clear = encodePng({ width: 20, height: 20, channels: 4, data: new Uint8Array(1600) })
    const asked: [Uint8Array, string, RegExp][] = [
      [new Uint8Array(), 'mark', /no picture in this/],
      [new TextEncoder().encode('no picture at all'), 'mark', /no picture of a kind that is read/],
      [clear, 'mark', /Nothing is painted there/],
      [clear, 'stroke', /No stroke was found there/],
      [blotPng(1), 'stroke', /No stroke was found there/],
    ]
    for (const [bytes, by, sentence] of asked) {
      const response = await likePicture(bytes, by)
      expect(response.status).toBe(422)
      expect(await sentenceOf(response)).toMatch(sentence)
    }
    expect((await person.request('/api/looks/like?by=smell', { method: 'POST', body: clear })).status).toBe(422)
  })
})

describe('measuring', () => {
  const job = () => ({ workspaceId: person.workspaceId }) as Job
  const run = (deps = server.parts.deps) =>
    measureLooksJob(deps).run({
      ...{ job: job(), payload: {}, progress: () => undefined, signal: new AbortController().signal },
    })
  const forget = () =>
    server.parts.deps.db.execute(sql`update stroke_look set version = 0 where workspace_id = ${person.workspaceId}`)

  it('gives one up that is too much for it, once, and measures the others', async () => {
    await measured()
    await forget()
    const { deps } = server.parts
    let asked = 0
    const workers = Object.create(deps.workers, {
      run: {
        value: (task: string, input: { recipe: Recipe }) => {
          if (task === 'measureLook' && asked++ === 0) return Promise.reject(new TaskGivenUp('too much'))
          return deps.workers.run(task as 'measureLook', input as never)
        },
      },
    })
    await run({ ...deps, workers })
    const all = await looks()
    expect(all.filter(({ width_px }) => width_px === 0)).toHaveLength(1)
    expect(all.every(({ version }) => version > 0)).toBe(true)
    expect(asked).toBe(all.length)
  })

  it('goes on behind what it has noted, and measures anew what other rules have measured', async () => {
    await measured()
    const { db } = server.parts.deps
    await db.execute(sql`update stroke_look set rules = 'older' where workspace_id = ${person.workspaceId}`)
    expect(await measureLooksJob(server.parts.deps).more?.(job())).toBe(true)
    await run()
    const { rows } = await db.execute(
      sql`select distinct rules from stroke_look where workspace_id = ${person.workspaceId}`,
    )
    expect(rows).toEqual([{ rules: LOOK_RULES }])
    expect(await measureLooksJob(server.parts.deps).more?.(job())).toBe(false)
  })

  it('keeps what was measured from other workspaces', async () => {
    const stranger = await server.owner()
    const response = await stranger.request(`/api/looks/like/${await idOf('one')}?by=mark`, { method: 'POST' })
    expect(response.status).toBe(404)
    const { likes } = (await (
      await stranger.request('/api/looks/like?by=mark', { method: 'POST', body: new Uint8Array(blotPng(1, 96)) })
    ).json()) as { likes: Like[] }
    expect(likes).toEqual([])
  })
})
