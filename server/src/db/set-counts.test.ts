import { defaultRecipe } from '@satchel/core/brush/recipe'
import type { FileSha, PixelSha } from '@satchel/core/hashes'
import { eq, inArray, sql } from 'drizzle-orm'
import fc from 'fast-check'
import { afterAll, beforeAll, beforeEach, describe, expect, inject, it } from 'vitest'
import { type Person, startTestServer, type TestServer } from '../testing/test-server.ts'
import type { Db } from './database.ts'
import { insertBrushes } from './save-brush.ts'
import { brush, rackSet, setCount, setItem, workspace } from './schema/all.ts'
import { addToSet, copySet, createSet, listSets, removeFromSet } from './sets.ts'

/** How many rows of a set are made one, by the trigger. */
const ROWS_MOST = 33

let server: TestServer
let db: Db
let person: Person
beforeAll(async () => {
  server = await startTestServer(inject('databaseUrl'))
  db = server.parts.deps.db
})
beforeEach(async () => {
  person = await server.owner()
})
afterAll(() => server.close())

const FRAME = { blobSha: 'b'.repeat(64) as FileSha, pixelSha: 'a'.repeat(64) as PixelSha, width: 64, height: 64 }
const makeBrushes = (count: number) =>
  insertBrushes(
    db,
    person.workspaceId,
    Array.from({ length: count }, (_, n) => ({
      ...{ name: `Reed ${n}`, maker: '', licence: '', tags: [], recipe: defaultRecipe(), pixelKey: String(n) },
      ...{ frames: [FRAME], alikeKey: null, alikeMark: null },
    })),
  )

/** What the sets hold, counted one by one. */
async function counted(): Promise<[string, number][]> {
  const { rows } = await db.execute<{ id: string; n: number }>(sql`
    select s.id, (select count(*)::int from set_item i join brush b on b.id = i.brush_id and b.deleted_at is null where i.set_id = s.id) n
    from brush_set s where s.workspace_id = ${person.workspaceId} and s.deleted_at is null`)
  return rows.map(({ id, n }): [string, number] => [id, n]).sort()
}
const told = async () =>
  (await listSets(db, person.workspaceId)).map(({ id, count }): [string, number] => [id, count]).sort()
const rowsOf = async (id: string) => (await db.select().from(setCount).where(eq(setCount.setId, id))).length
const bin = (ids: string[], deletedAt: Date | null) => db.update(brush).set({ deletedAt }).where(inArray(brush.id, ids))

describe('what sets hold', () => {
  it('is told as it is after any changes: put in, taken out, copied, binned, taken back, gone for good', async () => {
    const ids = await makeBrushes(30)
    const sets = [await createSet(db, person.workspaceId, 'A'), await createSet(db, person.workspaceId, 'B')]
    const some = fc.uniqueArray(fc.nat(29), { minLength: 1, maxLength: 9 })
    const change = fc.record({ kind: fc.constantFrom('put', 'take', 'bin', 'back', 'copy', 'purge'), set: fc.nat(1), some }) // biome-ignore format: one record
    await fc.assert(
      fc.asyncProperty(fc.array(change, { maxLength: 12 }), async (changes) => {
        for (const { kind, set, some: chosen } of changes) {
          const setId = sets[set]?.id ?? ''
          const these = chosen.map((n) => ids[n] ?? '')
          if (kind === 'put') await addToSet(db, person.workspaceId, setId, these)
          if (kind === 'take') await removeFromSet(db, person.workspaceId, setId, these)
          if (kind === 'copy') await copySet(db, person.workspaceId, setId, `${set} again`)
          if (kind === 'bin') await bin(these, new Date())
          if (kind === 'back') await bin(these, null)
          if (kind === 'purge') {
            // binned or not
            await db.delete(brush).where(eq(brush.id, these[0] ?? ''))
            ids[chosen[0] ?? 0] = (await makeBrushes(1))[0] ?? ''
          }
        }
        expect(await told()).toEqual(await counted())
      }),
      { numRuns: 40 },
    )
    expect((await counted()).some(([, n]) => n > 0)).toBe(true)
  })

  it('is told as it is where many change it at once, and takes few rows', async () => {
    const ids = await makeBrushes(200)
    const { id } = await createSet(db, person.workspaceId, 'Reeds')
    await Promise.all(
      ids.map(async (each, n) => {
        await addToSet(db, person.workspaceId, id, [each])
        if (n % 3 === 0) await removeFromSet(db, person.workspaceId, id, [each])
        if (n % 5 === 0) await bin([each], new Date())
      }),
    )
    expect(await told()).toEqual(await counted())
    // rows that were just being made one stay until the next change
    for (let n = 0; n < 2; n++) await removeFromSet(db, person.workspaceId, id, ids.slice(n * 2 + 1, n * 2 + 2))
    expect(await rowsOf(id)).toBeLessThanOrEqual(ROWS_MOST)
    expect(await told()).toEqual(await counted())
  })

  it('does not change by what is taken back in the middle', async () => {
    const ids = await makeBrushes(3)
    const { id } = await createSet(db, person.workspaceId, 'Reeds')
    await addToSet(db, person.workspaceId, id, ids.slice(0, 1))
    const failed = db.transaction(async (tx) => {
      await addToSet(tx, person.workspaceId, id, ids)
      throw new Error('no')
    })
    await expect(failed).rejects.toThrow('no')
    expect(await told()).toEqual([[id, 1]])
  })

  it('goes with its set, and with its workspace', async () => {
    const ids = await makeBrushes(4)
    const [a, b] = [await createSet(db, person.workspaceId, 'A'), await createSet(db, person.workspaceId, 'B')]
    for (const { id } of [a, b]) await addToSet(db, person.workspaceId, id, ids)
    await db.delete(rackSet).where(eq(rackSet.id, a.id))
    expect(await rowsOf(a.id)).toBe(0)
    expect(await told()).toEqual([[b.id, 4]])
    expect(await db.select().from(setItem).where(eq(setItem.setId, a.id))).toEqual([])
    await db.delete(workspace).where(eq(workspace.id, person.workspaceId))
    expect(await rowsOf(b.id)).toBe(0)
  })
})
