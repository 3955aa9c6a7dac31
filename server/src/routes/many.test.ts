import type { Recipe } from '@satchel/core/brush/recipe'
import { RECIPE_NUMBERS } from '@satchel/core/brush/recipe-numbers'
import type { Change } from '@satchel/core/many/change'
import { sql } from 'drizzle-orm'
import { afterAll, beforeAll, beforeEach, describe, expect, inject, it } from 'vitest'
import { takeInFiles } from '../testing/gather.ts'
import { type Person, sentenceOf, startTestServer, type TestServer } from '../testing/test-server.ts'
import { blotPng } from '../testing/tips.ts'

type Look = {
  changes: number
  same: number
  held: number
  cannot: { why: string; count: number; names: string[] }[]
  most: { id: string; name: string; isSeen: boolean; told: { from: string; to: string }[] }[]
  names: { from: string; to: string }[]
}
type Act = { id: string; said: string; changed: number }
type Brush = { id: string; name: string; maker: string; tags: string[]; version: number; recipe: Recipe }

let server: TestServer
let person: Person
let ids: string[] = []
beforeAll(async () => {
  server = await startTestServer(inject('databaseUrl'))
})
afterAll(() => server.close())
beforeEach(async () => {
  person = await server.owner()
  await takeInFiles(
    person,
    Object.fromEntries(Array.from({ length: 12 }, (_, i) => [`Shore/blot ${i + 1}.png`, blotPng(i, 40)])),
  )
  const { brushes } = await person.json<{ brushes: { id: string }[] }>('/api/brushes?limit=200')
  ids = brushes.map(({ id }) => id)
  expect(ids).toHaveLength(12)
})

const brushOf = (id: string | undefined) => person.json<Brush>(`/api/brushes/${id}`)
const all = () => Promise.all(ids.map(brushOf))
const look = (change: Change, of = ids) => person.post<Look>('/api/many/look', { ids: of, change })
const make = (change: Change, of = ids) => person.post<Act>('/api/many', { ids: of, change })
const send = (body: unknown, path = '/api/many') =>
  person.request(path, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify(body),
  })
const undo = ({ id }: Act) => person.post<{ stayed: number }>(`/api/acts/${id}/undo`)
const size = (value: number, way: 'set' | 'times' = 'set'): Change => ({
  ...{ kind: 'number', name: 'mark.sizePx', way, value, onlyUsed: false },
})

describe('a change of many brushes', () => {
  it('is told before: how many change, which most, and which cannot; nothing is changed by that', async () => {
    const before = await all()
    const [first] = before
    await make(size(300), [first?.id ?? ''])
    const told = await look(size(70))
    expect(told).toMatchObject({ changes: 12, same: 0, held: 0, cannot: [] })
    expect(told.most).toHaveLength(6)
    expect(told.most[0]).toMatchObject({ id: first?.id, isSeen: true, told: [{ from: '300 px', to: '70 px' }] })
    expect((await look({ ...size(0.5, 'times'), name: 'ground.grain.scalePct' } as Change)).cannot).toEqual([
      { why: 'have no such part', count: 12, names: before.slice(0, 3).map(({ name }) => name) },
    ])
    expect((await look(size(1e6, 'times'))).held).toBe(12)
    expect((await all()).slice(1)).toEqual(before.slice(1))
  })

  it('is one version more of each, and taken back as one act but where something was changed since', async () => {
    const before = await all()
    const act = await make(size(2, 'times'))
    expect(act).toMatchObject({ changed: 12, said: '12 brushes: size times 2.' })
    const after = await all()
    for (const [i, brush] of after.entries()) {
      expect(brush.recipe.mark.sizePx).toBe((before[i]?.recipe.mark.sizePx ?? 0) * 2)
      expect(brush.version).toBe((before[i]?.version ?? 0) + 1)
    }
    await make({ kind: 'maker', maker: 'Tern' }, [ids[3] ?? ''])
    expect(await undo(act)).toEqual({ stayed: 1 })
    const back = await all()
    for (const [i, brush] of back.entries())
      expect(brush.recipe.mark.sizePx).toBe((before[i]?.recipe.mark.sizePx ?? 0) * (i === 3 ? 2 : 1))
    expect(back[3]?.maker).toBe('Tern')
  })

  it('can be taken back when the bin was emptied since, as nothing of it lay there', async () => {
    const [first, second] = ids
    const before = await all()
    const act = await make(size(2, 'times'))
    const kept = await person.post<Act>('/api/same-marks/keep-one', { kept: first, gone: [second] })
    await person.post('/api/brushes/empty-bin')
    const { acts } = await person.json<{ acts: { id: string }[] }>('/api/acts')
    expect(acts.map(({ id }) => id)).toEqual([act.id])
    expect((await send({}, `/api/acts/${kept.id}/undo`)).status).toBe(409)
    expect(await undo(act)).toEqual({ stayed: 1 })
    expect((await brushOf(first)).recipe.mark.sizePx).toBe(before[0]?.recipe.mark.sizePx)
  })

  it('names by the order of the choice, and says what would not be a name', async () => {
    const told = await look({ kind: 'pattern', pattern: 'Shore {number}' })
    expect(told.names.slice(0, 2)).toEqual([
      { from: 'blot 1', to: 'Shore 01' },
      { from: 'blot 2', to: 'Shore 02' },
    ])
    await make({ kind: 'pattern', pattern: 'Shore {number}' })
    expect((await all()).map(({ name }) => name)).toEqual(ids.map((_, i) => `Shore ${String(i + 1).padStart(2, '0')}`))
    const none = await look({ kind: 'replace', find: 'Shore 01', by: '' })
    expect(none).toMatchObject({ changes: 0, cannot: [{ why: 'would have no name', count: 1 }], same: 11 })
    // found by their new names
    const { brushes } = await person.json<{ brushes: object[] }>('/api/brushes?q=shore')
    expect(brushes).toHaveLength(12)
  })

  it('takes parts from another brush, and paints what comes out before it is saved', async () => {
    const [first, second] = await all()
    if (!first || !second) throw new Error('not there')
    await make({ kind: 'number', name: 'path.spacingPct', way: 'set', value: 220, onlyUsed: false }, [first.id])
    const change: Change = { kind: 'parts', parts: ['path.spacingPct'], brushId: first.id }
    const told = await look(change)
    expect(told).toMatchObject({ changes: 11, same: 1 })
    const stroke = await person.request(
      `/api/many/${second.id}/stroke.png?change=${encodeURIComponent(JSON.stringify(change))}`,
    )
    const now = await person.request(`/api/brushes/${second.id}/stroke.png?size=line`)
    expect([stroke.status, stroke.headers.get('content-type')]).toEqual([200, 'image/png'])
    expect(Buffer.from(await stroke.arrayBuffer()).equals(Buffer.from(await now.arrayBuffer()))).toBe(false)
    await make(change)
    const then = await person.request(`/api/brushes/${second.id}/stroke.png?size=line`)
    expect((await brushOf(second.id)).recipe.path.spacingPct).toBe(220)
    expect(then.status).toBe(200)
    const gone = await send({ ids, change: { ...change, brushId: crypto.randomUUID() } })
    expect([gone.status, await sentenceOf(gone)]).toEqual([
      404,
      'The brush that parts are taken from is not in the library any more; choose another.',
    ])
  })

  it('leaves alone what lies in the bin, what is of another library, and what is no change', async () => {
    await person.post('/api/brushes/bin', { ids: [ids[0]] })
    expect((await make(size(70))).changed).toBe(11)
    const nothing = await send({ ids, change: size(70) })
    expect([nothing.status, await sentenceOf(nothing)]).toEqual([
      422,
      'None of these brushes would become different; nothing was changed.',
    ])
    const stranger = await server.owner()
    const theirs = await stranger.request('/api/many', {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ ids, change: size(90) }),
    })
    expect(theirs.status).toBe(422)
    expect((await brushOf(ids[1])).recipe.mark.sizePx).toBe(70)
    for (const change of [
      { kind: 'number', name: 'mark.colour', way: 'set', value: 1, onlyUsed: false },
      { ...size(1), value: Number.NaN },
      { kind: 'parts', parts: ['path.nextFrame'], brushId: ids[1] },
      { kind: 'tags', add: Array.from({ length: 31 }, (_, i) => `t${i}`), remove: [] },
    ])
      expect((await send({ ids, change })).status).toBe(422)
  })

  it('is whole or not at all where two are made at once', async () => {
    const answers = await Promise.all([send({ ids, change: size(50) }), send({ ids, change: size(90) })])
    expect(answers.map(({ status }) => status)).toEqual([200, 200])
    const sizes = new Set((await all()).map(({ recipe }) => recipe.mark.sizePx))
    expect(sizes.size).toBe(1)
    const { rows } = await server.parts.deps.db.execute<{ n: number }>(
      sql`select count(*)::int as n from brush_version where workspace_id = ${person.workspaceId}`,
    )
    expect(rows[0]?.n).toBe(36)
  })

  it('holds every number within what a recipe may be', async () => {
    for (const name of Object.keys(RECIPE_NUMBERS) as (keyof typeof RECIPE_NUMBERS)[])
      for (const value of [-1e12, 1e12]) {
        const response = await send({
          ids: ids.slice(0, 1),
          change: { kind: 'number', name, way: 'set', value, onlyUsed: false },
        })
        expect([200, 422]).toContain(response.status)
      }
    expect((await brushOf(ids[0])).recipe.mark.sizePx).toBe(RECIPE_NUMBERS['mark.sizePx'].to)
  })
})
