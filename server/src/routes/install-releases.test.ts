import { sql } from 'drizzle-orm'
import { afterAll, beforeAll, beforeEach, describe, expect, inject, it } from 'vitest'
import { standInFile } from '../db/schema/all.ts'
import { takeInFiles } from '../testing/gather.ts'
import { type Person, sentenceOf, startTestServer, type TestServer, until } from '../testing/test-server.ts'
import { blotPng } from '../testing/tips.ts'

type Listed = { id: string; brushes: number; release: { pack: string; version: string; newest: string } | null }
type Read = {
  found: { brushes: number; blank: string[]; passedOver: unknown[] } | null
  likeness: { middle: number; least: number } | null
}

let server: TestServer
let person: Person
let packId: string
let ids: Record<string, string>
beforeAll(async () => {
  server = await startTestServer(inject('databaseUrl'))
})
beforeEach(async () => {
  person = await server.owner()
  await takeInFiles(person, {
    'Shore/blot.png': blotPng(1),
    'Shore/tuft.png': blotPng(2),
    'Shore/weed.png': blotPng(3),
  })
  await learnIds()
  const { sets } = await person.json<{ sets: { id: string }[] }>('/api/sets')
  packId = (await person.post<{ id: string }>('/api/packs', { title: 'Class', licence: 'CC0-1.0' })).id
  await person.post(`/api/packs/${packId}/sets`, { setIds: sets.map(({ id }) => id) }, 'PUT')
})
afterAll(() => server.close())

async function learnIds() {
  const { brushes } = await person.json<{ brushes: { id: string; name: string }[] }>('/api/brushes')
  ids = Object.fromEntries(brushes.map(({ id, name }) => [name, id]))
}
const brushId = (name: string) => ids[name] ?? ''

async function release(version: string): Promise<string> {
  const { id } = await person.post<{ id: string }>(`/api/packs/${packId}/releases`, { version, notes: '' })
  await until(async () => {
    const { releases } = await person.json<{ releases: { id: string; state: string }[] }>(`/api/packs/${packId}`)
    return releases.find((each) => each.id === id)?.state === 'ready'
  })
  return id
}

/** Changes a brush: of several stamps a step, the app keeps one. */
async function space(name: string, spacingPct: number, count = 1) {
  type Brush = { recipe: { path: object }; version: number }
  const { recipe, version } = await person.json<Brush>(`/api/brushes/${brushId(name)}`)
  const next = { ...recipe, path: { ...recipe.path, spacingPct, count } }
  const facts = { name, maker: '', licence: '', tags: [], recipe: next, from: version }
  expect((await person.post<{ version: number }>(`/api/brushes/${brushId(name)}`, facts, 'PUT')).version).toBe(
    version + 1,
  )
}

const ask = (path: string, body: object = {}) =>
  person.request(path, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify(body),
  })

async function prepare(wish: { releaseId: string } | { brushIds: string[] }): Promise<string> {
  const { id } = await person.post<{ id: string }>('/api/installs', { name: 'Class', destinationId: 'dunlin', ...wish })
  await until(async () => (await person.json<{ state: string }>(`/api/installs/${id}`)).state === 'ready')
  return id
}
const act = <Answer = unknown>(id: string, what: string, body = {}) =>
  person.post<Answer>(`/api/installs/${id}/${what}`, body)
const listed = async (id: string) =>
  (await person.json<{ installs: Listed[] }>('/api/installs')).installs.find((each) => each.id === id)

/** What lies in the folder: which bytes at which path. */
async function folder(): Promise<Record<string, string>> {
  const rows = await server.parts.deps.db
    .select()
    .from(standInFile)
    .where(sql`workspace_id = ${person.workspaceId} and stand_in = 'dunlin'`)
  return Object.fromEntries(rows.map(({ path, blobSha }) => [path, blobSha]))
}

describe('an install of a release', () => {
  it('holds what was released, and goes to the newest release: only what changed is written', async () => {
    const id = await prepare({ releaseId: await release('1.0.0') })
    await act(id, 'put', { answer: 'both' })
    const first = await folder()
    expect(Object.keys(first).sort()).toEqual(['Shore/blot.gbr', 'Shore/tuft.gbr', 'Shore/weed.gbr'])

    // what the library does meanwhile does not reach it
    await space('blot', 190)
    await person.post('/api/brushes/bin', { ids: [brushId('weed')] })
    expect(await act(id, 'upgrade')).toEqual({ written: 0, gone: 0 })
    expect(await folder()).toEqual(first)
    const again = await prepare({ releaseId: await releaseIdOf('1.0.0') })
    expect(await filesOf(again)).toEqual(first)

    await release('1.1.0')
    expect((await listed(id))?.release).toEqual({ pack: 'Class', version: '1.0.0', newest: '1.1.0', recalled: null })
    expect(await act(id, 'upgrade')).toEqual({ written: 1, gone: 1 })
    const second = await folder()
    expect(Object.keys(second).sort()).toEqual(['Shore/blot.gbr', 'Shore/tuft.gbr'])
    expect(second['Shore/tuft.gbr']).toBe(first['Shore/tuft.gbr'])
    expect(second['Shore/blot.gbr']).not.toBe(first['Shore/blot.gbr'])
    expect(await listed(id)).toMatchObject({ brushes: 2, release: { version: '1.1.0', newest: '1.1.0' } })
    await act(id, 'take-out')
    expect(await folder()).toEqual({})
  })

  const releaseIdOf = async (version: string) => {
    const { releases } = await person.json<{ releases: { id: string; version: string }[] }>(`/api/packs/${packId}`)
    return releases.find((each) => each.version === version)?.id ?? ''
  }
  const filesOf = async (id: string) => {
    const { files } = await person.json<{ files: { path: string; sha256: string }[] }>(`/api/installs/${id}`)
    return Object.fromEntries(files.map(({ path, sha256 }) => [path, sha256]))
  }

  it('does not bring in what was passed over, and brings in what is new', async () => {
    const lone = await prepare({ brushIds: [brushId('tuft')] })
    await act(lone, 'put', { answer: 'both' })
    const before = await folder()
    await space('tuft', 170)
    const id = await prepare({ releaseId: await release('1.0.0') })
    await act(id, 'put', { answer: 'skip' })
    expect((await folder())['Shore/tuft.gbr']).toBe(before['Shore/tuft.gbr'])
    await takeInFiles(person, { 'Shore/kelp.png': blotPng(4) })
    await release('1.1.0')
    expect(await act(id, 'upgrade')).toEqual({ written: 1, gone: 0 })
    const after = await folder()
    expect(Object.keys(after).sort()).toEqual(['Shore/blot.gbr', 'Shore/kelp.gbr', 'Shore/tuft.gbr', 'Shore/weed.gbr'])
    expect(after['Shore/tuft.gbr']).toBe(before['Shore/tuft.gbr'])
  })

  it('is the library’s once its pack is gone for good, and stays what it was till then', async () => {
    const id = await prepare({ releaseId: await release('1.0.0') })
    await act(id, 'put', { answer: 'both' })
    const before = await folder()
    await server.parts.deps.db.execute(sql`delete from release where workspace_id = ${person.workspaceId}`)
    expect((await listed(id))?.release).toBeNull()
    expect(await act(id, 'upgrade')).toEqual({ written: 0, gone: 0 })
    expect(await folder()).toEqual(before)
  })

  it('is asked for by one of two ways, and only of one’s own', async () => {
    const releaseId = await release('1.0.0')
    const wish = { name: 'Class', destinationId: 'dunlin' }
    for (const bad of [wish, { ...wish, releaseId, brushIds: [brushId('blot')] }]) {
      const response = await ask('/api/installs', bad)
      expect([response.status, await sentenceOf(response)]).toEqual([422, expect.stringContaining('or a release')])
    }
    const other = await server.owner()
    const theirs = await other.request('/api/installs', {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ ...wish, releaseId }),
    })
    expect(theirs.status).toBe(404)
    const count = { destinationIds: ['dunlin'], releaseId }
    expect(await person.post('/api/fit/count', count)).toEqual({ files: 0, measured: 0 })
    await person.post(`/api/fit/cells/${brushId('blot')}/dunlin`)
    expect(await person.post('/api/fit/count', count)).toEqual({ files: 1, measured: 1 })
  })
})

describe('what became of brushes when they were written', () => {
  it('is what reading back and the page of the zip say later, whatever the library holds by then', async () => {
    const id = await prepare({ brushIds: [brushId('blot')] })
    await act(id, 'put', { answer: 'both' })
    const { score } = await person.post<{ score: number }>(`/api/fit/cells/${brushId('blot')}/dunlin`)
    const likeness = { middle: score, least: score }
    expect((await act<Read>(id, 'verify')).likeness).toEqual(likeness)
    await space('blot', 190, 6)
    expect((await person.post<{ score: number }>(`/api/fit/cells/${brushId('blot')}/dunlin`)).score).not.toBe(score)
    expect((await act<Read>(id, 'verify')).likeness).toEqual(likeness)
    await person.post('/api/brushes/bin', { ids: [brushId('blot')] })
    expect((await act<Read>(id, 'verify')).likeness).toEqual(likeness)
    const zip = Buffer.from(await (await person.request(`/api/installs/${id}/files.zip`)).arrayBuffer()).toString(
      'latin1',
    )
    expect(zip).toContain(`"likeness": ${Math.round(score * 10) / 10}`)
  })

  it('is read back from what was written, where it lies in a folder of somebody’s computer', async () => {
    const id = await prepare({ brushIds: [brushId('blot'), brushId('tuft')] })
    expect((await ask(`/api/installs/${id}/verify`)).status).toBe(409)
    await act(id, 'elsewhere', { folder: 'Brushes' })
    const read = await act<Read>(id, 'verify')
    expect(read.found).toEqual({ brushes: 2, blank: [], passedOver: [] })
    expect(read.likeness?.least).toBeGreaterThan(80)
  })
})

it('two that bring an install up to date at once leave nothing behind when it is taken out', async () => {
  const id = await prepare({ brushIds: [brushId('blot'), brushId('tuft')] })
  await act(id, 'put', { answer: 'both' })
  await space('blot', 190)
  const answers = await Promise.all([1, 2, 3].map(() => ask(`/api/installs/${id}/upgrade`)))
  expect(answers.map(({ status }) => status).filter((status) => status === 200).length).toBeGreaterThan(0)
  for (const answer of answers) expect([200, 409]).toContain(answer.status)
  await act(id, 'take-out')
  expect(await folder()).toEqual({})
})

it('what was written for an install that then could not be brought up to date is kept nowhere', async () => {
  const id = await prepare({ brushIds: [brushId('blot')] })
  await act(id, 'put', { answer: 'both' })
  await space('blot', 190)
  const { db } = server.parts.deps
  const countBlobs = async () => {
    const { rows } = await db.execute(
      sql`select count(*)::int as n from blob where workspace_id = ${person.workspaceId}`,
    )
    return rows[0]?.n
  }
  const before = await countBlobs()
  const { workers } = server.parts.deps
  const run = workers.run
  // the install is taken out while its files are written anew
  workers.run = (async (task: string, ...rest: never[]) => {
    if (task === 'writeFit') {
      workers.run = run
      await act(id, 'take-out')
    }
    return (run as (task: string, ...rest: never[]) => Promise<unknown>)(task, ...rest)
  }) as typeof run
  try {
    const response = await ask(`/api/installs/${id}/upgrade`)
    expect([response.status, await sentenceOf(response)]).toEqual([409, expect.stringContaining('does not lie')])
  } finally {
    workers.run = run
  }
  expect(await countBlobs()).toBe(before)
  expect(await folder()).toEqual({})
})

it('what was passed over in a folder of somebody’s computer does not come with the next bringing up to date', async () => {
  const id = await prepare({ brushIds: [brushId('blot'), brushId('tuft')] })
  const { files } = await person.json<{ files: { path: string }[] }>(`/api/installs/${id}`)
  expect(files.map(({ path }) => path)).toEqual(['Shore/blot.gbr', 'Shore/tuft.gbr'])
  const there = [{ path: 'Shore/tuft.gbr', sha256: '0'.repeat(64) }]
  await act(id, 'settle', { answer: 'skip', there, names: ['Shore/tuft.gbr'] })
  await act(id, 'elsewhere', { folder: 'Brushes' })
  await space('blot', 190)
  await act(id, 'renew', { names: ['Shore/blot.gbr', 'Shore/tuft.gbr'] })
  const after = await person.json<{ files: { path: string }[] }>(`/api/installs/${id}`)
  expect(after.files.map(({ path }) => path)).toEqual(['Shore/blot.gbr'])
})
