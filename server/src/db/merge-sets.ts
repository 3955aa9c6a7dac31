import { and, eq, inArray, sql } from 'drizzle-orm'
import type { Db } from './database.ts'
import { isAnyOf } from './many.ts'
import { packSet, rackSet, setItem } from './schema/all.ts'
import { addItems } from './sets.ts'

/** What merging has done: the brushes that were new in the other set, and the packs that hold that one instead. */
export type Merged = { added: string[]; packs: string[] }

/** Two of the curator's own sets on the rack, locked in one order whoever asks; undefined where either is none. */
async function lockBoth(tx: Db, workspaceId: string, ids: readonly [string, string]) {
  const rows = await tx
    .select({ id: rackSet.id, deletedAt: rackSet.deletedAt })
    .from(rackSet)
    .where(and(eq(rackSet.workspaceId, workspaceId), inArray(rackSet.id, [...ids]), eq(rackSet.starter, false)))
    .orderBy(rackSet.id)
    .for('update')
  return rows.length === 2 ? rows : undefined
}

/**
 * Puts all brushes of a set behind those of another one, in their order, and takes it off the rack. A pack that holds it holds the
 * other one from then on, so that nothing is missing in it.
 * @returns Undefined where one of the two is no set of the curator's on the rack.
 */
export const mergeSets = (db: Db, workspaceId: string, from: string, into: string): Promise<Merged | undefined> =>
  db.transaction(async (tx) => {
    const both = await lockBoth(tx, workspaceId, [from, into])
    if (!both || both.some(({ deletedAt }) => deletedAt !== null)) return undefined
    const rows = await tx
      .select({ setId: setItem.setId, brushId: setItem.brushId })
      .from(setItem)
      .where(and(eq(setItem.workspaceId, workspaceId), inArray(setItem.setId, [from, into])))
      .orderBy(sql`${setItem.position} collate "C"`, setItem.brushId)
    const known = new Set(rows.flatMap(({ setId, brushId }) => (setId === into ? [brushId] : [])))
    const added = rows.flatMap(({ setId, brushId }) => (setId === from && !known.has(brushId) ? [brushId] : []))
    await addItems(tx, workspaceId, into, added)
    const packs = await tx
      .insert(packSet)
      .select(
        tx
          .select({
            workspaceId: packSet.workspaceId,
            packId: packSet.packId,
            setId: sql<string>`${into}::uuid`.as('set_id'),
            ordinal: packSet.ordinal,
          })
          .from(packSet)
          .where(and(eq(packSet.workspaceId, workspaceId), eq(packSet.setId, from))),
      )
      .onConflictDoNothing()
      .returning({ packId: packSet.packId })
    await tx
      .update(rackSet)
      .set({ deletedAt: new Date() })
      .where(and(eq(rackSet.workspaceId, workspaceId), eq(rackSet.id, from)))
    return { added, packs: packs.map(({ packId }) => packId) }
  })

/** Takes merging back: the set is on the rack again, and what came into the other one leaves it. */
export const partSets = (
  db: Db,
  workspaceId: string,
  from: string,
  { into, added, packs }: Merged & { into: string },
): Promise<boolean> =>
  db.transaction(async (tx) => {
    if (!(await lockBoth(tx, workspaceId, [from, into]))) return false
    const back = await tx
      .update(rackSet)
      .set({ deletedAt: null })
      .where(and(eq(rackSet.workspaceId, workspaceId), eq(rackSet.id, from), sql`${rackSet.deletedAt} is not null`))
      .returning({ id: rackSet.id })
    // whoever asks twice takes nothing away twice
    if (back.length === 0) return true
    await tx
      .delete(setItem)
      .where(and(eq(setItem.workspaceId, workspaceId), eq(setItem.setId, into), isAnyOf(setItem.brushId, added)))
    await tx
      .delete(packSet)
      .where(and(eq(packSet.workspaceId, workspaceId), eq(packSet.setId, into), isAnyOf(packSet.packId, packs)))
    return true
  })
