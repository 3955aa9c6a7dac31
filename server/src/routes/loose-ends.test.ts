import type { LooseEnd } from '@satchel/core/loose-ends/find'
import { sql } from 'drizzle-orm'
import { afterAll, beforeAll, beforeEach, describe, expect, inject, it } from 'vitest'
import { takeInFiles } from '../testing/gather.ts'
import { type Person, sentenceOf, startTestServer, type TestServer, until } from '../testing/test-server.ts'
import { blotPng } from '../testing/tips.ts'

type Ends = {
  ends: LooseEnd[]
  rules: { from: string; to: string; mends: number }[]
  mends: { id: string; ends: number }[]
  brushes: number
}
type Folder = { brushes: { name: string }[]; files: { path: string }[] }

let server: TestServer
let person: Person
let install: string
beforeAll(async () => {
  server = await startTestServer(inject('databaseUrl'))
})
afterAll(() => server.close())

/** The folder of a simulated app, and what it finds there. */
const lookInto = async <Body>(standIn: string): Promise<Body> => ({
  ...(await person.json<object>(`/api/installs/folder?standIn=${standIn}`)),
  ...(await person.post<Body>('/api/installs/folder/look', { standIn })),
})
beforeEach(async () => {
  person = await server.owner()
  await takeInFiles(person, {
    'Reeds/rush.png': blotPng(1),
    'Reeds/sedge.png': blotPng(2),
    'Reeds/reed.png': blotPng(3),
  })
  const { brushes } = await person.json<{ brushes: { id: string }[] }>('/api/brushes')
  const { id } = await person.post<{ id: string }>('/api/installs', {
    name: 'Marsh',
    destinationId: 'sanderling',
    brushIds: brushes.map((brush) => brush.id),
  })
  install = id
  await until(async () => (await person.json<{ state: string }>(`/api/installs/${id}`)).state === 'ready')
  await person.post(`/api/installs/${id}/put`, { answer: 'both' })
})

const loose = (standIn = 'sanderling') => person.json<Ends>(`/api/loose-ends?standIn=${standIn}`)
const tally = async () => (await person.json<{ loose: number }>('/api/workspace/tally')).loose
const move = (from: string, to: string) =>
  person.post<{ moved: number }>('/api/loose-ends/move', { standIn: 'sanderling', from, to })
const mend = (mending: object) =>
  person.post<{ id: string; mended: number }>('/api/loose-ends', { standIn: 'sanderling', mending })
const found = async () => {
  const { brushes } = await lookInto<Folder>(`sanderling`)
  return brushes.map(({ name }) => name)
}
const inFolder = async () => {
  const { files } = await lookInto<Folder>(`sanderling`)
  return files.map(({ path }) => path)
}
const change = (statement: string) =>
  server.parts.deps.db.execute(sql.raw(`${statement} and workspace_id = '${person.workspaceId}'`))
const drift = async () => (await person.json<{ drift: unknown[] }>(`/api/installs/${install}`)).drift

describe('an app that goes to its next version', () => {
  it('loses every picture; one press mends all, the install follows, and it can be undone', async () => {
    expect((await loose()).ends).toEqual([])
    expect(await tally()).toBe(0)
    expect(await move('Sanderling 5', 'Sanderling 6')).toEqual({ moved: 6 })
    const { ends, rules, brushes } = await loose()
    expect([ends.length, brushes, await tally()]).toEqual([3, 3, 3])
    expect(ends.find(({ brush }) => brush === 'rush')).toMatchObject({
      kind: 'tip',
      lookedAt: 'Sanderling 5/Marsh/Reeds/rush.png',
      isSure: true,
      proposals: [{ path: 'Sanderling 6/Marsh/Reeds/rush.png', by: 'content', score: 100 }],
    })
    expect(rules).toEqual([{ from: 'Sanderling 5', to: 'Sanderling 6', mends: 3 }])
    expect(await found()).toEqual([])
    expect(await drift()).toHaveLength(6)

    const { id, mended } = await mend({ sure: true })
    expect(mended).toBe(3)
    expect(await found()).toEqual(['reed', 'rush', 'sedge'])
    expect([await tally(), await drift()]).toEqual([0, []])
    expect((await loose()).mends).toMatchObject([{ id, ends: 3 }])

    expect(await person.post(`/api/loose-ends/${id}/undo`)).toEqual({ stayed: [] })
    expect([await tally(), (await loose()).mends]).toEqual([3, []])
    expect(await found()).toEqual([])
    expect(await drift()).toEqual([])

    // mended once more, the install is taken out whole: nothing of it stays
    await mend({ sure: true })
    expect(await person.post(`/api/installs/${install}/take-out`)).toEqual({ stayed: [], beside: [] })
    expect(await inFolder()).toEqual([])
  })

  it('is mended by a rule: only what begins with it, and only where something is', async () => {
    await move('Sanderling 5/Marsh', 'Sanderling 5/Saltmarsh')
    expect(await mend({ rule: { from: 'Sanderling 5/Marsh/', to: 'Sanderling 5/Saltmarsh' } })).toMatchObject({
      mended: 3,
    })
    expect(await found()).toEqual(['reed', 'rush', 'sedge'])
    await move('Sanderling 5/Saltmarsh', 'Sanderling 5/Fen')
    const nowhere = await person.request('/api/loose-ends', {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ standIn: 'sanderling', mending: { rule: { from: 'Sanderling 5', to: 'X' } } }),
    })
    expect([nowhere.status, await sentenceOf(nowhere)]).toEqual([409, expect.stringContaining('look at what is loose')])
  })
})

describe('a picture', () => {
  it('that is gone is put back from what was kept of it, and undoing takes it away again', async () => {
    await change(`delete from stand_in_file where path like '%rush.png'`)
    const [end] = (await loose()).ends
    expect(end).toMatchObject({ isSure: true, proposals: [{ putBack: true, by: 'content' }] })
    const { id } = await mend({ chosen: [{ key: 'tip Sanderling 5/Marsh/Reeds/rush.sand', path: end?.lookedAt }] })
    expect(await found()).toContain('rush')
    await person.post(`/api/loose-ends/${id}/undo`)
    expect(await inFolder()).not.toContain('Sanderling 5/Marsh/Reeds/rush.png')
  })

  it('that is to be put back does not go over what has come there meanwhile', async () => {
    await change(`delete from stand_in_file where path like '%rush.png'`)
    const { db, blobs } = server.parts.deps
    const path = 'Sanderling 5/Marsh/Reeds/rush.png'
    const theirs = await blobs.put(db, person.workspaceId, blotPng(9), 'application/octet-stream')
    const put = blobs.put
    // once the loose ends are found, and the settings are written but lie in no folder yet
    blobs.put = async (...args) => {
      blobs.put = put
      await db.execute(
        sql`insert into stand_in_file (workspace_id, stand_in, path, blob_sha, size_bytes)
          values (${person.workspaceId}, 'sanderling', ${path}, ${theirs.sha256}, ${theirs.sizeBytes})`,
      )
      return put.apply(blobs, args)
    }
    const response = await person.request('/api/loose-ends', {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ standIn: 'sanderling', mending: { sure: true } }),
    })
    expect([response.status, await sentenceOf(response)]).toEqual([409, expect.stringContaining('changed meanwhile')])
    const { rows } = await db.execute(
      sql`select blob_sha from stand_in_file where workspace_id = ${person.workspaceId} and path = ${path}`,
    )
    expect(rows).toEqual([{ blob_sha: theirs.sha256 }])
    expect((await loose()).mends).toEqual([])
  })

  it('whose bytes nobody knows is found by what the brush of its name looks like', async () => {
    // as in an old library: settings that say no hash, of files that no install has brought
    await person.post(`/api/installs/${install}/take-out`)
    const { db, blobs } = server.parts.deps
    const write = async (path: string, bytes: Uint8Array) => {
      const { sha256, sizeBytes } = await blobs.put(db, person.workspaceId, bytes, 'application/octet-stream')
      await db.execute(
        sql`insert into stand_in_file (workspace_id, stand_in, path, blob_sha, size_bytes)
          values (${person.workspaceId}, 'sanderling', ${path}, ${sha256}, ${sizeBytes})`,
      )
    }
    await person.request(`/api/installs/${install}`, { method: 'DELETE' })
    const settings = { name: 'sedge', pictures: 'Old/x17.png', settings: {} }
    await write('New/sedge.sand', Buffer.from(JSON.stringify(settings)))
    await write('New/a.png', blotPng(1))
    await write('New/b.png', blotPng(2))
    await write('New/c.png', blotPng(3))
    const [end] = (await loose()).ends
    expect(end).toMatchObject({ isSure: true, proposals: [{ path: 'New/b.png', by: 'look' }] })
    expect(end?.proposals[0]?.score).toBeGreaterThan(95)
    expect(await mend({ sure: true })).toMatchObject({ mended: 1 })
    expect(await found()).toEqual(['sedge'])
  })

  it('that was changed meanwhile, or a path that is not there, mends nothing', async () => {
    await move('Sanderling 5', 'Sanderling 6')
    const wish = { chosen: [{ key: 'tip Sanderling 6/Marsh/Reeds/rush.sand', path: 'Sanderling 6/nothing.png' }] }
    const refused = await person.request('/api/loose-ends', {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ standIn: 'sanderling', mending: wish }),
    })
    expect(refused.status).toBe(409)
    const { id } = await mend({ sure: true })
    await change(
      `update stand_in_file set blob_sha = (select blob_sha from stand_in_file where path like '%sedge.sand' limit 1) where path like '%rush.sand'`,
    )
    expect(await person.post(`/api/loose-ends/${id}/undo`)).toEqual({ stayed: ['Sanderling 6/Marsh/Reeds/rush.sand'] })
  })
})

it('a folder is not moved onto another one, nor out of its place', async () => {
  const tried = (from: string, to: string) =>
    person.request('/api/loose-ends/move', {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ standIn: 'sanderling', from, to }),
    })
  expect((await tried('Sanderling 5', 'Sanderling 5')).status).toBe(409)
  expect((await tried('Nowhere', 'Elsewhere')).status).toBe(409)
  for (const bad of ['', '..', 'a/../b', '/a', 'a//b', 'a\\b', 'a/'])
    expect((await tried('Sanderling 5', bad)).status, bad).toBe(422)
  // another's folder is another's
  const other = await server.owner()
  expect((await other.json<Ends>('/api/loose-ends?standIn=sanderling')).ends).toEqual([])
})
