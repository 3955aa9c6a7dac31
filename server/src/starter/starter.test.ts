import { Recipe } from '@satchel/core/brush/recipe'
import { isBlank } from '@satchel/core/raster/blank'
import { renderThumbnail } from '@satchel/core/render/thumbnail'
import { starterBrushes } from '@satchel/drawn/starter/starter-brushes'
import * as v from 'valibot'
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest'
import { settledLedger } from '../testing/gather.ts'
import { type Person, startTestServer, type TestServer } from '../testing/test-server.ts'
import { giveStarters } from './give-starters.ts'

type Sets = { sets: { id: string; name: string; starter: boolean; count: number }[] }
type Brushes = { brushes: { id: string; name: string }[] }

let server: TestServer
let person: Person
beforeAll(async () => {
  server = await startTestServer(inject('databaseUrl'))
  person = await server.owner()
  // twice, and both at once: what comes with the product comes once
  const { deps } = server.parts
  await Promise.all([giveStarters(deps, person.workspaceId), giveStarters(deps, person.workspaceId)])
  await giveStarters(deps, person.workspaceId)
})
afterAll(() => server.close())

const starterSets = async () => (await person.json<Sets>('/api/sets')).sets.filter(({ starter }) => starter)
const brushesOf = async (setId: string) => (await person.json<Brushes>(`/api/brushes?setId=${setId}&sort=set`)).brushes

describe('the starter library', () => {
  it('is forty brushes of different names, each of which paints', () => {
    const drawn = starterBrushes()
    expect(new Set(drawn.map(({ name }) => name)).size).toBe(40)
    for (const { name, recipe, frames } of drawn) {
      expect(v.safeParse(Recipe, recipe).issues, name).toBeUndefined()
      expect(isBlank(renderThumbnail({ frames }, recipe, { width: 160, height: 80 })), name).toBe(false)
    }
  })

  it('comes once, in sets of its own, and is no part of lists, counts and facets', async () => {
    const sets = await starterSets()
    expect(sets.map(({ count }) => count)).toEqual([8, 8, 8, 8, 8])
    expect(await person.json('/api/brushes/count')).toEqual({ count: 0 })
    expect((await person.json<Brushes>('/api/brushes?q=pen')).brushes).toEqual([])
    expect(await person.json('/api/workspace/tally')).toMatchObject({ brushes: 0 })
    expect(await person.json('/api/brushes/facets')).toEqual({ readings: [], makers: [], tags: [] })
  })

  it('can be hidden and shown, and not destroyed', async () => {
    const [set] = await starterSets()
    const [first] = await brushesOf(set?.id ?? '')
    expect(await person.post('/api/brushes/bin', { ids: [first?.id] })).toEqual({ changed: 0 })
    const gone = [
      person.request(`/api/sets/${set?.id}`, { method: 'DELETE' }),
      person.request(`/api/sets/${set?.id}/remove`, {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify({ ids: [first?.id] }),
      }),
    ]
    expect((await Promise.all(gone)).map(({ status }) => status)).toEqual([404, 404])
    expect((await brushesOf(set?.id ?? '')).length).toBe(8)
    await person.post('/api/workspace', { starterHidden: true }, 'PATCH')
    expect(await person.json('/api/workspace/tally')).toMatchObject({ starterHidden: true })
    await person.post('/api/workspace', { starterHidden: false }, 'PATCH')
    expect(await person.json('/api/workspace/tally')).toMatchObject({ starterHidden: false })
  })

  it('can be put into the curator’s own sets, where it counts as asked for', async () => {
    const [set] = await starterSets()
    const [first] = await brushesOf(set?.id ?? '')
    const { id } = await person.post<{ id: string }>('/api/sets', { name: 'Mine' })
    await person.post(`/api/sets/${id}/brushes`, { ids: [first?.id] })
    expect((await brushesOf(id)).map(({ name }) => name)).toEqual([first?.name])
  })
})

describe('the parcel to try Gather with', () => {
  it('has something of everything: tips, a brush, a grain, a copy, a damaged file and one that is no picture', async () => {
    const other = await server.owner()
    const parcel = new Uint8Array(await (await other.request('/api/gathers/parcel')).arrayBuffer())
    const { id } = await other.post<{ id: string }>('/api/gathers')
    await other.upload(id, 'parcel.zip', parcel)
    const { lines } = await settledLedger(other, id)
    const told = Object.fromEntries(lines.map((line) => [line.name, `${line.outcome} ${line.use}`]))
    expect(told).toMatchObject({
      'driftwood twig': 'take tip',
      'willow leaf': 'take tip',
      'yellowed leaf': 'skip tip',
      'half a leaf': 'refuse tip',
      'Washed stone': 'take tip',
      'packed sand': 'take grain',
    })
    expect(lines.find(({ name }) => name === 'yellowed leaf')?.duplicate).toMatchObject({
      how: 'exact',
      name: 'willow leaf',
    })
    expect(lines.find(({ name }) => name.startsWith('where I found'))?.outcome).toBe('skip')
    expect(lines.find(({ name }) => name === 'Washed stone')?.kindWord).not.toBe('')
  })
})
