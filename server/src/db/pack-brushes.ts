import { and, asc, eq, isNotNull, isNull, type SQL, sql } from 'drizzle-orm'
import type { Db } from './database.ts'
import { isAnyOf } from './many.ts'
import { brush, pack, packBrush, packSet, rackSet, setItem } from './schema/all.ts'

/** Ids of all brushes that a pack holds: those of its sets, and those that stand by themselves. */
export const idsInPack = (workspaceId: string | SQL, packId: string | SQL) => sql`(
  select ${setItem.brushId} from ${packSet}
    join ${rackSet} on ${rackSet.id} = ${packSet.setId} and ${rackSet.deletedAt} is null
    join ${setItem} on ${setItem.setId} = ${packSet.setId}
    where ${packSet.workspaceId} = ${workspaceId} and ${packSet.packId} = ${packId}
  union select ${packBrush.brushId} from ${packBrush}
    where ${packBrush.workspaceId} = ${workspaceId} and ${packBrush.packId} = ${packId} and ${packBrush.ordinal} is not null)`

/** Two who change at once what a pack holds take turns. */
export async function lockPack(tx: Db, workspaceId: string, packId: string): Promise<void> {
  await tx
    .select({ id: pack.id })
    .from(pack)
    .where(and(eq(pack.workspaceId, workspaceId), eq(pack.id, packId)))
    .for('update')
}

const ofPack = (workspaceId: string, packId: string) =>
  and(eq(packBrush.workspaceId, workspaceId), eq(packBrush.packId, packId))

/** Brushes that stand in a pack by themselves, in order. */
export async function listSingle(db: Db, workspaceId: string, packId: string) {
  return db
    .select({ id: brush.id, name: brush.name, version: brush.version })
    .from(packBrush)
    .innerJoin(brush, and(eq(brush.id, packBrush.brushId), isNull(brush.deletedAt)))
    .where(and(ofPack(workspaceId, packId), isNotNull(packBrush.ordinal)))
    .orderBy(packBrush.ordinal, asc(brush.id))
}

/** What is said of brushes in a pack, by their ids. */
export async function listNotes(db: Db, workspaceId: string, packId: string): Promise<Map<string, string>> {
  const rows = await db
    .select({ brushId: packBrush.brushId, note: packBrush.note })
    .from(packBrush)
    .where(and(ofPack(workspaceId, packId), sql`${packBrush.note} <> ''`))
  return new Map(rows.map(({ brushId, note }) => [brushId, note]))
}

/**
 * Chooses anew which brushes stand in a pack by themselves; those of another workspace, and those that come with the product, are passed
 * over.
 * @param was Which they were when they were chosen, in their order.
 * @returns Whether they were those still; otherwise nothing is changed.
 */
export async function setSingle(
  db: Db,
  workspaceId: string,
  packId: string,
  { brushIds, was }: { brushIds: readonly string[]; was?: readonly string[] | undefined },
): Promise<boolean> {
  return db.transaction(async (tx) => {
    await lockPack(tx, workspaceId, packId)
    const now = (await listSingle(tx, workspaceId, packId)).map(({ id }) => id)
    if (was && was.join() !== now.join()) return false
    const owned = await tx
      .select({ id: brush.id })
      .from(brush)
      .where(and(eq(brush.workspaceId, workspaceId), eq(brush.starter, false), isAnyOf(brush.id, brushIds)))
    const ours = new Set(owned.map(({ id }) => id))
    const chosen = [...new Set(brushIds)].filter((id) => ours.has(id))
    await tx.update(packBrush).set({ ordinal: null }).where(ofPack(workspaceId, packId))
    if (chosen.length > 0)
      await tx
        .insert(packBrush)
        .values(chosen.map((brushId, ordinal) => ({ workspaceId, packId, brushId, ordinal })))
        .onConflictDoUpdate({ target: [packBrush.packId, packBrush.brushId], set: { ordinal: sql`excluded.ordinal` } })
    const saysNothing = and(isNull(packBrush.ordinal), eq(packBrush.note, ''), isNull(packBrush.looked))
    await tx.delete(packBrush).where(and(ofPack(workspaceId, packId), saysNothing))
    return true
  })
}

/**
 * Says something else of a brush in a pack.
 * @param was What was said when it was written.
 * @returns Whether that was so still; otherwise nothing is changed.
 */
export async function setNote(
  db: Db,
  workspaceId: string,
  packId: string,
  { brushId, note, was }: { brushId: string; note: string; was?: string | undefined },
): Promise<boolean> {
  return db.transaction(async (tx) => {
    await lockPack(tx, workspaceId, packId)
    const now = (await listNotes(tx, workspaceId, packId)).get(brushId) ?? ''
    if (was !== undefined && was !== now) return false
    await tx
      .insert(packBrush)
      .values({ workspaceId, packId, brushId, note })
      .onConflictDoUpdate({ target: [packBrush.packId, packBrush.brushId], set: { note } })
    return true
  })
}

/** Every brush that a pack holds, once: those by themselves, then those of its sets, in the pack's order. */
export async function listPackBrushes(db: Db, workspaceId: string, packId: string) {
  const rows = await db
    .select({ id: brush.id, name: brush.name, version: brush.version, setName: rackSet.name })
    .from(packSet)
    .innerJoin(rackSet, and(eq(rackSet.id, packSet.setId), isNull(rackSet.deletedAt)))
    .innerJoin(setItem, eq(setItem.setId, packSet.setId))
    .innerJoin(brush, and(eq(brush.id, setItem.brushId), isNull(brush.deletedAt)))
    .where(and(eq(packSet.workspaceId, workspaceId), eq(packSet.packId, packId)))
    .orderBy(packSet.ordinal, sql`${setItem.position} collate "C"`, asc(brush.id))
  const [single, notes] = await Promise.all([listSingle(db, workspaceId, packId), listNotes(db, workspaceId, packId)])
  const all = new Map(
    [...single.map((each) => ({ ...each, setName: '' })), ...rows].toReversed().map((row) => [row.id, row]),
  )
  return [...all.values()].toReversed().map((row) => ({ ...row, note: notes.get(row.id) ?? '' }))
}
