import type { Recipe } from '@satchel/core/brush/recipe'
import type { Plan } from '@satchel/core/make/ways'
import { sql } from 'drizzle-orm'
import { afterAll, beforeAll, expect, inject, it } from 'vitest'
import { takeInFiles } from '../testing/gather.ts'
import { type Person, startTestServer, type TestServer, until } from '../testing/test-server.ts'
import { blotPng } from '../testing/tips.ts'

/** What lies in the database as an earlier release has written it. */
let server: TestServer
let person: Person
let brushId = ''
beforeAll(async () => {
  server = await startTestServer(inject('databaseUrl'))
  person = await server.owner()
  await takeInFiles(person, { 'Reeds/one.png': blotPng(1) })
  brushId = (await person.json<{ brushes: { id: string }[] }>('/api/brushes')).brushes[0]?.id ?? ''
})
afterAll(() => server.close())

const query = (statement: ReturnType<typeof sql>) => server.parts.deps.db.execute(statement)
/** As version 2 of recipes said it: one amount of scatter, with its axis. */
const toSecond = (recipe: unknown) =>
  sql`(${recipe} #- '{path,scatter}') || jsonb_build_object('version', 2, 'path', (${recipe} -> 'path') - 'scatter' || '{"scatterPct": 70, "scatterAxis": "along"}')`
const SCATTER = { acrossPct: 0, alongPct: 70 }

it('a brush opens by the recipe of an earlier version, its earlier versions and a copy of it too', async () => {
  await query(
    sql`update brush_version set snapshot = jsonb_set(snapshot, '{recipe}', ${toSecond(sql`(snapshot -> 'recipe')`)}) where brush_id = ${brushId}`,
  )
  type Brush = { recipe: Recipe; version: number }
  const { recipe, version } = await person.json<Brush>(`/api/brushes/${brushId}`)
  expect([recipe.version, recipe.path.scatter]).toEqual([3, SCATTER])
  const before = await person.json<Brush>(`/api/brushes/${brushId}/versions/${version}`)
  expect(before.recipe.path.scatter).toEqual(SCATTER)
  expect((await person.request(`/api/brushes/${brushId}/stroke.png`)).status).toBe(200)
  const copy = await person.post<{ id: string }>(`/api/brushes/${brushId}/copy`, { name: 'Copy', maker: '' })
  expect((await person.json<Brush>(`/api/brushes/${copy.id}`)).recipe.path.scatter).toEqual(SCATTER)
})

it('a release whose recipes are of an earlier version is shown, and installed', async () => {
  const { sets } = await person.json<{ sets: { id: string; name: string }[] }>('/api/sets')
  const setIds = sets.filter(({ name }) => name === 'Reeds').map(({ id }) => id)
  const { id } = await person.post<{ id: string }>('/api/packs', { title: 'Marsh', maker: 'Ida', licence: 'CC0-1.0' })
  await person.post(`/api/packs/${id}/sets`, { setIds }, 'PUT')
  const { id: releaseId } = await person.post<{ id: string }>(`/api/packs/${id}/releases`, {
    version: '1.0.0',
    notes: '',
  })
  type Pack = { releases: { id: string; state: string }[] }
  await until(async () => (await person.json<Pack>(`/api/packs/${id}`)).releases.some(({ state }) => state === 'ready'))
  await query(
    sql`update release set manifest = jsonb_set(manifest, '{brushes,0,recipe}', ${toSecond(sql`(manifest #> '{brushes,0,recipe}')`)}) where id = ${releaseId}`,
  )
  const { link } = await person.post<{ link: string }>(`/api/packs/${id}/hand-outs`, { releaseId, name: 'Class' })
  type Page = { brushes: { id: string }[] }
  const token = link.split('/').at(-1)
  const page = (await (await fetch(`${server.url}/api/h/${token}`)).json()) as Page
  const first = page.brushes[0]?.id
  expect((await fetch(`${server.url}/api/h/${token}/strokes/${first}`)).status).toBe(200)
  const wish = { name: 'Old', destinationId: 'sanderling', releaseId }
  const install = await person.post<{ id: string }>('/api/installs', wish)
  type Install = { state: string; refused: unknown[] }
  const written = await until(async () => {
    const now = await person.json<Install>(`/api/installs/${install.id}`)
    return now.state === 'ready' ? now : undefined
  })
  expect(written.refused).toEqual([])
})

it('a plan that says nothing of what steps have learnt since goes on as it was', async () => {
  const body = new Uint8Array(blotPng(4))
  const { id } = (await (
    await person.request('/api/sources?name=b.png&way=picture', { method: 'POST', body })
  ).json()) as {
    id: string
  }
  await query(
    sql`update source set plan = jsonb_set(plan, '{steps}', (select jsonb_agg(s) from jsonb_array_elements(plan -> 'steps') s where s ->> 'kind' <> 'touch')) where id = ${id}`,
  )
  const { plan } = await person.json<{ plan: Plan }>(`/api/sources/${id}`)
  expect(plan.steps.map(({ kind }) => kind)).toContain('touch')
})

it('answers to questions that are asked no more are forgotten, and others count', async () => {
  const json = { destinationId: 'dunlin', brushId, choices: { reading: 'own' } }
  await person.post('/api/fit/choices', json, 'PUT')
  await query(sql`update fit_choice set choices = choices || '{"glitter": "much"}' where brush_id = ${brushId}`)
  type Cell = { cell: { choices: object } | null }
  const { cell } = await person.json<Cell>(`/api/fit/cells/${brushId}/dunlin`)
  const choices = cell?.choices ?? (await person.post<{ choices: object }>(`/api/fit/cells/${brushId}/dunlin`)).choices
  expect(choices).toEqual({ reading: 'own' })
})
