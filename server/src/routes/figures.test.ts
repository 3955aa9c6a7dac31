import { wholePlan } from '@satchel/core/editions/plan'
import { sql } from 'drizzle-orm'
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest'
import type { Figures as Counted } from '../db/figures.ts'
import type { LessonFigure } from '../hand-out/lesson-figures.ts'
import { takeInFiles } from '../testing/gather.ts'
import { type Person, startTestServer, type TestServer, until } from '../testing/test-server.ts'
import { blotPng } from '../testing/tips.ts'

type Figures = Counted & { lessons: LessonFigure[] }

let server: TestServer
let person: Person
let packId = ''
const figures = (zone?: string, who = person) =>
  who.json<Figures>(`/api/packs/${packId}/figures${zone === undefined ? '' : `?zone=${encodeURIComponent(zone)}`}`)

/** @param fetched What was fetched, and when. */
async function give(
  releases: Record<string, string>,
  name: string,
  given: string,
  fetched: [version: string, app: string | null, at: string, state?: string][],
) {
  const { db } = server.parts.deps
  const { id } = await person.post<{ id: string }>(`/api/packs/${packId}/hand-outs`, {
    releaseId: releases['1.0.0'],
    name,
  })
  await db.execute(sql`update hand_out set created_at = ${given} where id = ${id}`)
  for (const [version, app, at, state = 'sent'] of fetched)
    await db.execute(sql`insert into delivery (workspace_id, hand_out_id, release_id, app, at, state)
      select workspace_id, id, ${releases[version]}::uuid, ${app}, ${at}::timestamptz, ${state} from hand_out where id = ${id}`)
  return id
}

beforeAll(async () => {
  server = await startTestServer(inject('databaseUrl'))
  person = await server.owner()
  await takeInFiles(person, { 'Reeds/one.png': blotPng(1) })
  const { sets } = await person.json<{ sets: { id: string; starter: boolean }[] }>('/api/sets')
  packId = (await person.post<{ id: string }>('/api/packs', { title: 'Shore', licence: 'CC0-1.0' })).id
  const setIds = sets.filter(({ starter }) => !starter).map(({ id }) => id)
  await person.post(`/api/packs/${packId}/sets`, { setIds }, 'PUT')
  const release = async (version: string) =>
    (await person.post<{ id: string }>(`/api/packs/${packId}/releases`, { version, notes: '' })).id
  const releases = { '1.0.0': await release('1.0.0'), '1.1.0': await release('1.1.0') }
  // Oslo goes to summer time on 29 March 2026 at 01:00 UTC (tz database): the next midnight there is 22:00 UTC
  await give(releases, 'Ida', '2026-03-28T12:00:00Z', [
    ['1.0.0', 'Dunlin', '2026-03-28T22:30:00Z'], // 23:30 in Oslo, still in winter time
    ['1.1.0', 'Dunlin', '2026-03-29T22:30:00Z'], // 00:30 of the 30th, in summer time
  ])
  await give(releases, 'Bo', '2026-03-20T12:00:00Z', [
    ['1.1.0', null, '2026-03-30T10:00:00Z'],
    ['1.0.0', null, '2026-03-25T10:00:00Z'],
    ['1.1.0', 'Plover', '2026-03-31T10:00:00Z', 'broken'],
  ])
  await give(releases, 'Cy', '2026-03-20T12:00:00Z', [])
  const gone = await give(releases, 'Di', '2026-03-20T12:00:00Z', [])
  await person.post(`/api/packs/hand-outs/${gone}/withdraw`)
}, 60_000)
afterAll(() => server.close())

describe('the figures of a pack', () => {
  it('count what was fetched by day, version and app, and nothing that broke off', async () => {
    expect((await figures()).downloads).toEqual([
      { day: '2026-03-25', version: '1.0.0', app: null, count: 1 },
      { day: '2026-03-28', version: '1.0.0', app: 'Dunlin', count: 1 },
      { day: '2026-03-29', version: '1.1.0', app: 'Dunlin', count: 1 },
      { day: '2026-03-30', version: '1.1.0', app: null, count: 1 },
    ])
  })

  it('by the days of a time zone, over its summer time', async () => {
    const days = async (zone: string) => (await figures(zone)).downloads.map(({ day }) => day)
    expect(await days('Europe/Oslo')).toEqual(['2026-03-25', '2026-03-28', '2026-03-30', '2026-03-30'])
    expect(await days('Pacific/Auckland')).toEqual(['2026-03-25', '2026-03-29', '2026-03-30', '2026-03-30'])
  })

  it('say who has which version last, whose link is unused, and how long they waited', async () => {
    const { holders, unused, waits } = await figures()
    expect(holders).toEqual([
      { version: '1.1.0', count: 2 },
      { version: null, count: 2 },
    ])
    expect(unused).toBe(1)
    expect(waits).toEqual([
      { days: 0, count: 1 },
      { days: 5, count: 1 },
    ])
  })

  it.each(['Europe/Atlantis', '+02:00', "UTC'; select 1", 'Etc/../UTC', ''])(
    'are refused for the zone %j',
    async (zone) => {
      const { status } = await person.request(`/api/packs/${packId}/figures?zone=${encodeURIComponent(zone)}`)
      expect(status).toBe(422)
    },
  )

  it('say how many of a class have fetched something since each lesson', async () => {
    const lesson = (n: number, day: string) => ({
      ...{ id: `00000000-0000-4000-8000-00000000000${n}`, title: `Lesson ${n}`, day, at: '12:00' },
      ...{ closes: null, brushes: [] },
    })
    const lessons = [lesson(1, '2026-03-20'), lesson(2, '2026-03-30'), lesson(3, '2190-01-01')]
    await until(async () => {
      const { releases } = await person.json<{ releases: { state: string }[] }>(`/api/packs/${packId}`)
      return releases.every(({ state }) => state === 'ready')
    }, 60_000)
    const plan = { ...wholePlan(), kit: { zone: 'Europe/Oslo', lessons, lastDay: null } }
    const { id: editionId } = await person.post<{ id: string }>(`/api/packs/${packId}/editions`, {
      name: 'Class',
      plan,
    })
    const { handOuts } = await person.json<{ handOuts: { id: string; name: string }[] }>(`/api/packs/${packId}/people`)
    const changes = handOuts.filter(({ name }) => name !== 'Di').map(({ id }) => ({ id, editionId }))
    await person.post(`/api/packs/${packId}/hand-outs/change`, { changes })
    // 12:00 in Oslo is 10:00 in Greenwich by then, the very moment that Bo fetched; Ida did before
    expect((await figures()).lessons).toMatchObject([
      { edition: 'Class', title: 'Lesson 1', fetched: 2, all: 3 },
      { edition: 'Class', title: 'Lesson 2', fetched: 1, all: 3 },
    ])
    const back = changes.map(({ id }) => ({ id, editionId: null }))
    await person.post(`/api/packs/${packId}/hand-outs/change`, { changes: back })
  })

  it('of another workspace are not told', async () => {
    const other = await server.owner()
    expect((await other.request(`/api/packs/${packId}/figures`)).status).toBe(404)
  })
})
