import { defaultRecipe } from '@satchel/core/brush/recipe'
import type { FileSha, PixelSha } from '@satchel/core/hashes'
import { ARCHIVE_ENTRIES_MAX, FRAMES_MAX } from '@satchel/core/limits'
import { eq } from 'drizzle-orm'
import { afterAll, beforeAll, expect, inject, it } from 'vitest'
import { type Person, startTestServer, type TestServer } from '../testing/test-server.ts'
import { setLineDuplicates } from './gather-duplicates.ts'
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

it('as many tips as one archive may hold are taken in, put into a set, pinned, tagged away and binned at once', async () => {
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
