import { type EditionPlan, wholePlan } from '@satchel/core/editions/plan'
import { sql } from 'drizzle-orm'
import { afterAll, beforeAll, beforeEach, describe, expect, inject, it } from 'vitest'
import { takeInFiles } from '../testing/gather.ts'
import { type Person, sentenceOf, startTestServer, type TestServer, until } from '../testing/test-server.ts'
import { blotPng } from '../testing/tips.ts'

let server: TestServer
let person: Person
let packId = ''
let ids = new Map<string, string>()
beforeAll(async () => {
  server = await startTestServer(inject('databaseUrl'))
})
afterAll(() => server.close())

const idOf = (name: string) => ids.get(name) ?? ''
const folder = async () =>
  (await person.json<{ files: { path: string }[] }>('/api/installs/folder?standIn=dunlin')).files
    .map(({ path }) => path)
    .sort()
const stateOf = async (id: string) => (await person.json<{ state: string }>(`/api/installs/${id}`)).state
async function put(source: object, name = 'Shore'): Promise<string> {
  const { id } = await person.post<{ id: string }>('/api/installs', { name, destinationId: 'dunlin', ...source })
  await until(async () => (await stateOf(id)) === 'ready', 60_000)
  await person.post(`/api/installs/${id}/put`, { answer: 'replace' })
  return id
}
const edition = async (plan: Partial<EditionPlan>) =>
  (
    await person.post<{ id: string }>(`/api/packs/${packId}/editions`, {
      name: 'Class',
      plan: { ...wholePlan(), ...plan },
    })
  ).id
const folders = (id: string) =>
  person.json<{ installs: { name: string; app: string; isOurs: boolean }[] }>(`/api/packs/editions/${id}/folders`)

beforeEach(async () => {
  person = await server.owner()
  await takeInFiles(person, { 'Kelp/one.png': blotPng(1), 'Kelp/two.png': blotPng(2), 'Kelp/three.png': blotPng(3) })
  const { brushes } = await person.json<{ brushes: { id: string; name: string }[] }>('/api/brushes')
  ids = new Map(brushes.map(({ id, name }) => [name, id]))
  packId = (await person.post<{ id: string }>('/api/packs', { title: 'Shore', licence: 'CC0-1.0' })).id
  await person.post(`/api/packs/${packId}/single`, { brushIds: [...ids.values()] }, 'PUT')
  await person.post(`/api/packs/${packId}/releases`, { version: '1.0.0', notes: '' })
  await until(async () => {
    const { releases } = await person.json<{ releases: { state: string }[] }>(`/api/packs/${packId}`)
    return releases[0]?.state === 'ready'
  })
})

describe('the brushes of a class in the folder of an app', () => {
  it('are what its edition gives, and a change of it comes with bringing them up to date', async () => {
    const editionId = await edition({ without: [idOf('three')] })
    const id = await put({ editionId })
    expect((await folder()).filter((path) => path.includes('three'))).toEqual([])
    expect((await folder()).filter((path) => /one|two/.test(path)).length).toBeGreaterThan(1)
    await person.post(
      `/api/packs/editions/${editionId}`,
      { name: 'Class', plan: { ...wholePlan(), without: [idOf('one')] }, was: 1 },
      'PUT',
    )
    await person.post(`/api/installs/${id}/upgrade`)
    expect((await folder()).some((path) => path.includes('three'))).toBe(true)
    expect((await folder()).some((path) => path.includes('one'))).toBe(false)
    expect(await folders(editionId)).toMatchObject({ installs: [{ name: 'Shore', app: 'Dunlin', isOurs: true }] })
  })

  it.each([
    ['by hand', (id: string) => person.post(`/api/packs/editions/${id}/take-out`)],
    ['with the end of the class', (id: string) => person.post(`/api/packs/editions/${id}/end`)],
    [
      'by themselves when its last day is over',
      (id: string) =>
        server.parts.deps.db.execute(sql`update edition set ends_at = now() - interval '1 second' where id = ${id}`),
    ],
  ])('are taken out %s: the folder is as it was before', async (_, end) => {
    // what the curator has there already, by the very paths that the class takes for its time
    const mine = await put({ brushIds: [idOf('one')] })
    const before = await folder()
    const editionId = await edition({ kit: { zone: 'UTC', lessons: [], lastDay: '2031-01-31' } })
    const id = await put({ editionId })
    expect(await folder()).not.toEqual(before)
    await end(editionId)
    await until(async () => (await stateOf(id)) === 'out', 30_000)
    expect(await folder()).toEqual(before)
    expect(await stateOf(mine)).toBe('in')
    expect(await folders(editionId)).toEqual({ installs: [] })
  })

  it('are refused in a sentence before anything of it is open', async () => {
    const lesson = {
      ...{ id: crypto.randomUUID(), title: 'Later', day: '2030-01-01', at: '10:00', closes: null },
      brushes: [...ids.values()],
    }
    const editionId = await edition({ kit: { zone: 'UTC', lessons: [lesson], lastDay: null } })
    const answer = await person.request('/api/installs', {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ name: 'Shore', destinationId: 'dunlin', editionId }),
    })
    expect(await sentenceOf(answer)).toBe('Nothing of "Class" is open just now; its first lesson opens some.')
  })
})
