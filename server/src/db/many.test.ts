import { randomUUID } from 'node:crypto'
import { defaultRecipe } from '@satchel/core/brush/recipe'
import type { FileSha, PixelSha } from '@satchel/core/hashes'
import { ARCHIVE_ENTRIES_MAX, FRAMES_MAX } from '@satchel/core/limits'
import { eq, sql } from 'drizzle-orm'
import { afterAll, beforeAll, expect, inject, it } from 'vitest'
import { markNewer } from '../gather/newer/mark-newer.ts'
import { type Person, startTestServer, type TestServer } from '../testing/test-server.ts'
import { setLineDuplicates } from './gather-duplicates.ts'
import { addGatherLines } from './gather-lines.ts'
import { insertBrushes, type NewBrush } from './save-brush.ts'
import { gatherFile, gatherLine, tipFrame } from './schema/all.ts'

let server: TestServer
let person: Person
beforeAll(async () => {
  server = await startTestServer(inject('databaseUrl'))
})
afterAll(() => server.close())

const FRAME = { blobSha: 'b'.repeat(64) as FileSha, pixelSha: 'a'.repeat(64) as PixelSha, width: 64, height: 64 }
const newBrush = (n: number, frames = 1): NewBrush => ({
  name: `Reed ${n}`,
  maker: '',
  licence: '',
  tags: [],
  recipe: defaultRecipe(),
  pixelKey: String(n),
  frames: Array.from({ length: frames }, () => FRAME),
  alikeKey: null,
  alikeMark: null,
})

it('as many tips as one archive may hold are taken in, put into a set, pinned, changed and changed back, taken out and binned at once', async () => {
  person = await server.owner()
  const { db } = server.parts.deps
  const ids = await insertBrushes(
    db,
    person.workspaceId,
    Array.from({ length: ARCHIVE_ENTRIES_MAX }, (_, n) => newBrush(n)),
  )
  const set = await person.post<{ id: string }>('/api/sets', { name: 'All' })
  await person.post(`/api/sets/${set.id}/brushes`, { ids })
  const pocket = await person.post<{ id: string }>('/api/pockets', { name: 'All' })
  await person.post(`/api/pockets/${pocket.id}/items`, { ids })
  expect(await person.json(`/api/brushes/count?setId=${set.id}`)).toEqual({ count: ARCHIVE_ENTRIES_MAX })
  const change = { kind: 'number', name: 'mark.sizePx', way: 'times', value: 2, onlyUsed: false }
  const some = ids.slice(0, ARCHIVE_ENTRIES_MAX / 2)
  const told = await person.post<{ changes: number }>('/api/many/look', { ids: some, change })
  const act = await person.post<{ id: string; changed: number }>('/api/many', { ids: some, change })
  expect([told.changes, act.changed]).toEqual([some.length, some.length])
  expect(await person.post(`/api/acts/${act.id}/undo`)).toEqual({ stayed: 0 })
  await person.post(`/api/sets/${set.id}/remove`, { ids })
  expect(await person.json(`/api/brushes/count?setId=${set.id}`)).toEqual({ count: 0 })
  await person.post('/api/brushes/bin', { ids })
  expect(await person.json('/api/brushes/count')).toEqual({ count: 0 })
  await person.post('/api/brushes/empty-bin')
  expect(await person.json('/api/brushes/count?bin=1')).toEqual({ count: 0 })
})

it('so are forty tips of as many frames as there may be', async () => {
  person = await server.owner()
  const { db } = server.parts.deps
  await insertBrushes(
    db,
    person.workspaceId,
    Array.from({ length: 40 }, (_, n) => newBrush(n, FRAMES_MAX)),
  )
  const frames = await db
    .select({ n: tipFrame.ordinal })
    .from(tipFrame)
    .where(eq(tipFrame.workspaceId, person.workspaceId))
  expect(frames).toHaveLength(40 * FRAMES_MAX)
})

it('what is found of many lines is noted at once: copies are skipped, decisions stay', async () => {
  person = await server.owner()
  const { workspaceId } = person
  const { db } = server.parts.deps
  const { id: gatherId } = await person.post<{ id: string }>('/api/gathers')
  const file = { workspaceId, gatherId, path: 'a.zip', sizeBytes: 1, blobSha: FRAME.blobSha, state: 'read' as const }
  const [{ id: fileId } = { id: '' }] = await db.insert(gatherFile).values(file).returning({ id: gatherFile.id })
  const line = (n: number) => ({
    workspaceId,
    gatherId,
    fileId,
    ordinal: n,
    folder: '',
    path: `${n}`,
    name: `${n}`,
    setName: '',
    kind: 'png',
    outcome: 'take' as const,
  })
  const lines = await db.insert(gatherLine).values([0, 1, 2].map(line)).returning({ id: gatherLine.id })
  const duplicate = { of: 'batch', how: 'exact', name: 'Reed' } as const
  await setLineDuplicates(db, workspaceId, [
    { id: lines[0]?.id ?? '', duplicate, outcome: 'skip' },
    { id: lines[1]?.id ?? '', duplicate, outcome: null },
    { id: lines[2]?.id ?? '', duplicate: null, outcome: 'take' },
  ])
  const noted = await db.select().from(gatherLine).where(eq(gatherLine.gatherId, gatherId)).orderBy(gatherLine.ordinal)
  expect(noted.map((each) => [each.outcome, each.duplicate])).toEqual([
    ['skip', duplicate],
    ['take', duplicate],
    ['take', null],
  ])
  expect(await person.json('/api/workspace/tally')).toMatchObject({ waiting: 2 })
})

it('a newer release of thousands of brushes is looked at, taken in and taken back', async () => {
  person = await server.owner()
  const { workspaceId } = person
  const { db } = server.parts.deps
  // so many that what is asked once for each of them would take minutes
  const MANY = 8000
  const origins = Array.from({ length: MANY }, () => randomUUID())
  /** A ledger with a release of all of them. */
  const lay = async (release: string, sizePx: number) => {
    const { id: gatherId } = await person.post<{ id: string }>('/api/gathers')
    const file = { workspaceId, gatherId, path: 'a.zip', sizeBytes: 1, blobSha: FRAME.blobSha, state: 'read' as const }
    const [{ id: fileId } = { id: '' }] = await db.insert(gatherFile).values(file).returning({ id: gatherFile.id })
    const source = { key: 'shore', title: 'Shore', release }
    const about = { maker: '', licence: '', tags: [], recipe: defaultRecipe({ sizePx }), source }
    const lines = origins.map((origin, n) => ({
      ...{
        workspaceId,
        gatherId,
        fileId,
        ordinal: n,
        folder: '',
        path: `Reed ${n}`,
        name: `Reed ${n}`,
        setName: 'All',
      },
      ...{
        kind: 'pack',
        outcome: 'take' as const,
        width: 64,
        height: 64,
        frames: [FRAME],
        pixelKey: String(n),
        origin,
      },
      brush: { ...about, inSets: [{ name: 'All', order: 0, at: n }] },
    }))
    await addGatherLines(db, lines)
    return gatherId
  }
  type Taken = { brushes: number; followed: number }
  const first = await lay('1.0.0', 40)
  expect(await person.post<Taken>(`/api/gathers/${first}/take`)).toMatchObject({ brushes: MANY, followed: 0 })
  const second = await lay('1.1.0', 50)
  await markNewer(db, workspaceId, second)
  const { newer } = await person.json<{ newer: object[] }>(`/api/gathers/${second}`)
  expect(newer).toMatchObject([{ had: '1.0.0', counts: { follows: MANY }, gone: { count: 0 } }])
  expect(await person.post<Taken>(`/api/gathers/${second}/take`)).toMatchObject({ brushes: 0, followed: MANY })
  const sizes = async () => {
    const { rows } = await db.execute<{ size: number; n: number }>(
      sql`select size_px as size, count(*)::int as n from brush where workspace_id = ${workspaceId} group by 1`,
    )
    return rows
  }
  expect(await sizes()).toEqual([{ size: 50, n: MANY }])
  expect(await person.post(`/api/gathers/${second}/undo`)).toEqual({ binned: 0, back: MANY, stayed: 0 })
  expect(await sizes()).toEqual([{ size: 40, n: MANY }])
})
