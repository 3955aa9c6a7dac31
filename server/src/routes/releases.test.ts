import type { Recipe } from '@satchel/core/brush/recipe'
import { sql } from 'drizzle-orm'
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest'
import { takeInFiles } from '../testing/gather.ts'
import { type Person, sentenceOf, startTestServer, type TestServer, until } from '../testing/test-server.ts'
import { blotPng } from '../testing/tips.ts'

type Release = { id: string; version: string; state: string; recalledAt: string | null; recallReason: string }
type Pack = { brushes: number; single: { id: string; name: string }[]; releases: Release[] }
type Next = { version: string; notes: string; why: string; since: { version: string } | null }
type Difference = {
  brushes: Record<'new' | 'gone' | 'renamed' | 'moved' | 'changed', { id: string; name: string }[]>
  facts: { label: string; from: string; to: string }[]
}

let server: TestServer
let person: Person
let packId = ''
const ids = new Map<string, string>()
const idOf = (name: string) => ids.get(name) ?? ''

const send = (path: string, body: object, method = 'POST') =>
  person.request(path, { method, headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) })
const pack = () => person.json<Pack>(`/api/packs/${packId}`)
const next = () => person.json<Next>(`/api/packs/${packId}/next`)
const differs = (query: string) => person.json<Difference>(`/api/packs/${packId}/difference?${query}`)
async function release(version: string): Promise<string> {
  const { id } = await person.post<{ id: string }>(`/api/packs/${packId}/releases`, { version, notes: '' })
  await until(async () => (await pack()).releases.find((each) => each.id === id && each.state === 'ready'))
  return id
}
async function change(name: string, to: { name?: string; recipe?: (recipe: Recipe) => Recipe }): Promise<void> {
  type Brush = { name: string; maker: string; licence: string; tags: string[]; recipe: Recipe; version: number }
  const { recipe, version, maker, licence, tags, name: was } = await person.json<Brush>(`/api/brushes/${idOf(name)}`)
  const facts = { name: to.name ?? was, maker, licence, tags, recipe: to.recipe?.(recipe) ?? recipe }
  expect((await send(`/api/brushes/${idOf(name)}`, { ...facts, from: version }, 'PUT')).status).toBe(200)
}

beforeAll(async () => {
  server = await startTestServer(inject('databaseUrl'))
  person = await server.owner()
  await takeInFiles(person, {
    'Reeds/one.png': blotPng(1),
    'Reeds/two.png': blotPng(2),
    'Apart/three.png': blotPng(3),
    'Apart/four.png': blotPng(4),
  })
  const { brushes } = await person.json<{ brushes: { id: string; name: string }[] }>('/api/brushes')
  for (const { id, name } of brushes) ids.set(name, id)
  const { sets } = await person.json<{ sets: { id: string; name: string }[] }>('/api/sets')
  packId = (await person.post<{ id: string }>('/api/packs', { title: 'Shore', licence: 'CC0-1.0' })).id
  await person.post(`/api/packs/${packId}/sets`, { setIds: [sets.find(({ name }) => name === 'Reeds')?.id] }, 'PUT')
})
afterAll(() => server.close())

describe('what a pack holds', () => {
  it('is sets and single brushes, each once, in its order', async () => {
    await person.post(`/api/packs/${packId}/single`, { brushIds: [idOf('four'), idOf('one')], was: [] }, 'PUT')
    expect((await pack()).single.map(({ name }) => name)).toEqual(['four', 'one'])
    expect((await pack()).brushes).toBe(3)
    type Rows = { brushes: { name: string; setName: string; note: string }[] }
    const { brushes } = await person.json<Rows>(`/api/packs/${packId}/brushes`)
    expect(brushes.map(({ name, setName }) => `${name} ${setName}`.trim())).toEqual(['four', 'one', 'two Reeds'])
    const { packs } = await person.json<{ packs: { brushes: number }[] }>('/api/packs')
    expect(packs[0]?.brushes).toBe(3)
  })

  it('is not covered by one who saw another order, and holds no brush of another workspace', async () => {
    const late = await send(`/api/packs/${packId}/single`, { brushIds: [], was: [idOf('one'), idOf('four')] }, 'PUT')
    expect(late.status).toBe(409)
    const other = await server.owner()
    await takeInFiles(other, { 'x.png': blotPng(8) })
    const { ids: theirs } = await other.json<{ ids: string[] }>('/api/brushes/ids')
    const was = [idOf('four'), idOf('one')]
    await person.post(`/api/packs/${packId}/single`, { brushIds: [...was, ...theirs], was }, 'PUT')
    expect((await pack()).single.map(({ id }) => id)).toEqual(was)
    // nor one that comes with the product
    const mark = (starter: boolean) =>
      server.parts.deps.db.execute(sql`update brush set starter = ${starter} where id = ${idOf('three')}`)
    await mark(true)
    await person.post(`/api/packs/${packId}/single`, { brushIds: [...was, idOf('three')], was }, 'PUT')
    await mark(false)
    expect((await pack()).single.map(({ id }) => id)).toEqual(was)
    expect((await send(`/api/packs/${packId}/notes/${theirs[0]}`, { note: 'x' }, 'PUT')).status).toBe(404)
  })

  it('has a note a brush, which is kept while the brush comes and goes as a single one', async () => {
    const note = (text: string, was: string) =>
      send(`/api/packs/${packId}/notes/${idOf('one')}`, { note: text, was }, 'PUT')
    expect((await note('Hold the pen flat.', '')).status).toBe(200)
    expect((await note('Slowly.', '')).status).toBe(409)
    expect((await note('x'.repeat(501), 'Hold the pen flat.')).status).toBe(422)
    await person.post(`/api/packs/${packId}/single`, { brushIds: [idOf('four')] }, 'PUT')
    await person.post(`/api/packs/${packId}/single`, { brushIds: [idOf('four'), idOf('one')] }, 'PUT')
    const { brushes } = await person.json<{ brushes: { name: string; note: string }[] }>(`/api/packs/${packId}/brushes`)
    expect(brushes.map(({ note: said }) => said)).toEqual(['', 'Hold the pen flat.', ''])
  })
})

describe('releases one after another', () => {
  it('are told apart: new, gone, renamed, changed, with the version that follows', async () => {
    expect(await next()).toMatchObject({ version: '1.0.0', notes: '', since: null })
    const first = await release('1.0.0')
    expect(await next()).toMatchObject({ version: '1.0.1', notes: '', why: 'nothing differs from the last release' })
    await change('two', { recipe: (recipe) => ({ ...recipe, mark: { ...recipe.mark, sizePx: 77 } }) })
    expect((await next()).version).toBe('1.0.1')
    const was = [idOf('four'), idOf('one')]
    await person.post(`/api/packs/${packId}/single`, { brushIds: [...was, idOf('three')], was }, 'PUT')
    expect(await next()).toMatchObject({ version: '1.1.0', notes: 'New: "three".\nChanged: "two" (size).' })
    await change('one', { name: 'First' })
    expect(await next()).toMatchObject({ version: '2.0.0', since: { version: '1.0.0' } })
    const { brushes } = await differs(`from=${first}`)
    expect(Object.entries(brushes).map(([kind, list]) => `${kind} ${list.map(({ name }) => name)}`)).toEqual([
      'new three',
      'gone ',
      'renamed First',
      'moved ',
      'changed two',
    ])
    expect(brushes.changed[0]).toMatchObject({ parts: [{ label: 'Size', to: '77 px' }] })
    const second = await release('2.0.0')
    expect((await differs(`from=${first}&to=${second}`)).brushes).toEqual(brushes)
    // and the other way round
    const back = (await differs(`from=${second}&to=${first}`)).brushes
    expect([back.new.length, back.gone.length, back.renamed.length]).toEqual([0, 1, 1])
  })

  it('show the strokes of a brush that changed, as it was, as it is, and where they differ', async () => {
    const [{ id: second } = { id: '' }, { id: first } = { id: '' }] = (await pack()).releases
    const picture = async (brush: string, what: string) => {
      const path = `/api/packs/${packId}/difference/${idOf(brush)}/${what}?from=${first}&to=${second}`
      const response = await person.request(path)
      expect([response.status, response.headers.get('content-type')]).toEqual([200, 'image/png'])
      return Buffer.from(await response.arrayBuffer())
    }
    const all = await Promise.all(['before', 'after', 'difference'].map((what) => picture('two', what)))
    expect(new Set(all.map((png) => png.toString('base64'))).size).toBe(3)
    const [was, is] = await Promise.all(['before', 'after'].map((what) => picture('four', what)))
    expect(was?.equals(is ?? Buffer.alloc(0))).toBe(true)
    const none = await person.request(
      `/api/packs/${packId}/difference/${idOf('three')}/before?from=${first}&to=${second}`,
    )
    expect(none.status).toBe(404) // it is new: it has no stroke before
  })

  it('of another pack or workspace are not looked into', async () => {
    const [last] = (await pack()).releases
    const other = await server.owner()
    expect((await other.request(`/api/packs/${packId}/difference?from=${last?.id}`)).status).toBe(404)
    const { id } = await person.post<{ id: string }>('/api/packs', { title: 'Other', licence: '' })
    expect((await person.request(`/api/packs/${id}/difference?from=${last?.id}`)).status).toBe(404)
  })
})

describe('a recall', () => {
  it('stops links with its reason, keeps it from being given or installed anew, and is for good', async () => {
    const { releases } = await pack()
    const last = releases[0] as Release
    const { link } = await person.post<{ link: string }>(`/api/packs/${packId}/hand-outs`, {
      releaseId: last.id,
      name: 'Ida',
    })
    const token = link.split('/').at(-1)
    type Page = { single: string[]; brushes: { id: string; note: string }[] }
    const shown = (await (await fetch(`${server.url}/api/h/${token}`)).json()) as Page
    expect(shown.single).toEqual(['four', 'one', 'three'].map(idOf))
    expect(shown.brushes.find(({ id }) => id === idOf('one'))?.note).toEqual([
      { tag: 'p', children: ['Hold the pen flat.'] },
    ])
    const begun = await fetch(`${server.url}/api/h/${token}/download`, { redirect: 'manual' })
    expect((await send(`/api/packs/${packId}/releases/${last.id}/recall`, { reason: ' ' })).status).toBe(422)
    await person.post(`/api/packs/${packId}/releases/${last.id}/recall`, { reason: 'Two tips are not ours.' })
    expect((await pack()).releases[0]).toMatchObject({ recallReason: 'Two tips are not ours.' })
    for (const path of [
      `${server.url}/api/h/${token}`,
      new URL(begun.headers.get('location') ?? '', server.url).href,
    ]) {
      const page = await fetch(path)
      expect(page.status).toBe(410)
      expect(await sentenceOf(page)).toContain('Release 2.0.0 was recalled: Two tips are not ours.')
    }
    const anew = await send(`/api/packs/${packId}/hand-outs`, { releaseId: last.id, name: 'Ida' })
    expect([anew.status, await sentenceOf(anew)]).toEqual([409, expect.stringContaining('was recalled')])
    const install = await send('/api/installs', { name: 'x', destinationId: 'dunlin', releaseId: last.id })
    expect(install.status).toBe(409)
    const twice = await send(`/api/packs/${packId}/releases/${last.id}/recall`, { reason: 'Again' })
    expect(twice.status).toBe(409)
    expect((await pack()).releases[0]?.recallReason).toBe('Two tips are not ours.')
  })

  it('is told to installs of it, which go to the last good one', async () => {
    const first = (await pack()).releases.at(-1) as Release
    const { id } = await person.post<{ id: string }>('/api/installs', {
      name: 'Shore',
      destinationId: 'dunlin',
      releaseId: first.id,
    })
    type Installs = {
      installs: { id: string; state: string; release: { recalled: string | null; newest: string | null } }[]
    }
    const install = () =>
      person.json<Installs>('/api/installs').then(({ installs }) => installs.find((each) => each.id === id))
    await until(async () => (await install())?.state === 'ready')
    expect((await install())?.release).toMatchObject({ recalled: null, newest: '1.0.0' })
    await person.post(`/api/packs/${packId}/releases/${first.id}/recall`, { reason: 'Too large.' })
    expect((await install())?.release).toMatchObject({ recalled: 'Too large.', newest: null })
    const third = await release('3.0.0')
    expect((await install())?.release).toMatchObject({ recalled: 'Too large.', newest: '3.0.0' })
    expect(third).not.toBe('')
  })
})
