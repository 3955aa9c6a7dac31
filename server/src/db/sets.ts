import type { SetMark } from '@satchel/core/forms/set-marks'
import { and, asc, eq, isNotNull, isNull, sql } from 'drizzle-orm'
import { generateKeyBetween, generateNKeysBetween } from 'fractional-indexing'
import type { Db } from './database.ts'
import { entryOf, inParts, isAnyOf } from './many.ts'
import { brush, rackSet, setCount, setItem } from './schema/all.ts'

/** Fractional keys sort by code point, whatever the database's own language. */
const byPosition = sql`${rackSet.position} collate "C"`

/** The rack: every set in order, with the number of brushes that are not in the bin: entries are counted as they come, those in the bin each time. */
export async function listSets(db: Db, workspaceId: string) {
  const entries = db
    .select({ setId: setCount.setId, n: sql<number>`sum(${setCount.change})`.as('entries') })
    .from(setCount)
    .where(eq(setCount.workspaceId, workspaceId))
    .groupBy(setCount.setId)
    .as('kept')
  const binned = db
    .select({ setId: setItem.setId, n: sql<number>`count(*)`.as('binned') })
    .from(brush)
    .innerJoin(setItem, eq(setItem.brushId, brush.id))
    .where(and(eq(brush.workspaceId, workspaceId), isNotNull(brush.deletedAt)))
    .groupBy(setItem.setId)
    .as('gone')
  return db
    .select({
      id: rackSet.id,
      name: rackSet.name,
      hidden: rackSet.hidden,
      folder: rackSet.folder,
      starter: rackSet.starter,
      note: rackSet.note,
      mark: rackSet.mark,
      count: sql<number>`(coalesce(${entries.n}, 0) - coalesce(${binned.n}, 0))::int`,
    })
    .from(rackSet)
    .leftJoin(entries, eq(entries.setId, rackSet.id))
    .leftJoin(binned, eq(binned.setId, rackSet.id))
    .where(and(eq(rackSet.workspaceId, workspaceId), isNull(rackSet.deletedAt)))
    .orderBy(byPosition)
}

/** Whether there is such a set on the rack. */
export async function findSet(db: Db, workspaceId: string, id: string): Promise<boolean> {
  const rows = await db
    .select({ id: rackSet.id })
    .from(rackSet)
    .where(and(eq(rackSet.workspaceId, workspaceId), eq(rackSet.id, id), isNull(rackSet.deletedAt)))
  return rows.length > 0
}

/** A set with its name; undefined where it is none of the workspace's, or in no rack any more. */
export async function findNamedSet(db: Db, workspaceId: string, id: string) {
  const [row] = await db
    .select({ id: rackSet.id, name: rackSet.name })
    .from(rackSet)
    .where(and(eq(rackSet.workspaceId, workspaceId), eq(rackSet.id, id), isNull(rackSet.deletedAt)))
  return row
}

async function lastPosition(db: Db, workspaceId: string): Promise<string | null> {
  const [row] = await db
    .select({ position: rackSet.position })
    .from(rackSet)
    .where(eq(rackSet.workspaceId, workspaceId))
    .orderBy(sql`${rackSet.position} collate "C" desc`)
    .limit(1)
  return row?.position ?? null
}

type SetFacts = { folder?: string; starter?: boolean }

/** Makes a set at the end of the rack; those who make one at the same moment take turns, so that each has its own place. */
export const createSet = (db: Db, workspaceId: string, name: string, facts: SetFacts = {}) =>
  db.transaction(async (tx) => {
    await tx.execute(sql`select pg_advisory_xact_lock(hashtext(${`rack ${workspaceId}`}))`)
    const position = generateKeyBetween(await lastPosition(tx, workspaceId), null)
    const [row] = await tx
      .insert(rackSet)
      .values({ workspaceId, name, position, ...facts })
      .returning({ id: rackSet.id, name: rackSet.name })
    if (!row) throw new Error('insert gave no row')
    return row
  })

/**
 * The sets of those names, ignoring case; missing ones are made, in the order given.
 * @param folderOf What a new set is grouped under on the rack, if anything.
 * @returns Ids by lower-case names, and the ids of the sets that were made.
 */
export async function ensureSets(
  db: Db,
  workspaceId: string,
  names: readonly string[],
  folderOf: (name: string) => string = () => '',
): Promise<{ ids: Map<string, string>; made: string[] }> {
  const found = await db
    .select({ id: rackSet.id, name: rackSet.name })
    .from(rackSet)
    .where(and(eq(rackSet.workspaceId, workspaceId), isNull(rackSet.deletedAt), eq(rackSet.starter, false)))
    .orderBy(byPosition)
  const ids = new Map<string, string>()
  for (const set of found) if (!ids.has(set.name.toLowerCase())) ids.set(set.name.toLowerCase(), set.id)
  const made: string[] = []
  for (const name of names) {
    if (ids.has(name.toLowerCase())) continue
    const { id } = await createSet(db, workspaceId, name, { folder: folderOf(name) })
    ids.set(name.toLowerCase(), id)
    made.push(id)
  }
  return { ids, made }
}

/** Of some sets those that are the curator's own, and on the rack. */
const isOwnAmong = (workspaceId: string, ids: readonly string[]) =>
  and(
    eq(rackSet.workspaceId, workspaceId),
    isAnyOf(rackSet.id, ids),
    isNull(rackSet.deletedAt),
    eq(rackSet.starter, false),
  )

/** Those of some sets that are the curator's own, and on the rack. */
export async function ownSetsAmong(db: Db, workspaceId: string, ids: readonly string[]): Promise<Set<string>> {
  const rows = await db.select({ id: rackSet.id }).from(rackSet).where(isOwnAmong(workspaceId, ids))
  return new Set(rows.map(({ id }) => id))
}

/** A set that the curator may change: the starter library's stay as they are. */
const isOwn = (workspaceId: string, id: string) =>
  and(eq(rackSet.workspaceId, workspaceId), eq(rackSet.id, id), eq(rackSet.starter, false))

/** Changes a set's name, note or mark, or whether it is hidden. @returns The set, or undefined when there is none to change. */
export async function updateSet(
  db: Db,
  workspaceId: string,
  id: string,
  change: {
    name?: string | undefined
    hidden?: boolean | undefined
    note?: string | undefined
    mark?: SetMark | '' | undefined
    deletedAt?: Date | null | undefined
  },
) {
  const [row] = await db
    .update(rackSet)
    .set(change)
    .where(isOwn(workspaceId, id))
    .returning({ id: rackSet.id, name: rackSet.name, hidden: rackSet.hidden })
  return row
}

/** Puts sets inside one that holds sets, or takes them out where its name is empty. @returns How many of them are there now. */
export async function putInside(db: Db, workspaceId: string, ids: readonly string[], folder: string): Promise<number> {
  const rows = await db
    .update(rackSet)
    .set({ folder })
    .where(isOwnAmong(workspaceId, ids))
    .returning({ id: rackSet.id })
  return rows.length
}

/** Moves a set behind another, or to the front when `afterId` is null. */
export async function moveSet(db: Db, workspaceId: string, id: string, afterId: string | null): Promise<boolean> {
  return db.transaction(async (tx) => {
    await tx.execute(sql`select pg_advisory_xact_lock(hashtext(${`rack ${workspaceId}`}))`)
    const sets = await tx
      .select({ id: rackSet.id, position: rackSet.position })
      .from(rackSet)
      .where(eq(rackSet.workspaceId, workspaceId))
      .orderBy(byPosition)
      .for('update')
    const others = sets.filter((set) => set.id !== id)
    const at = afterId === null ? -1 : others.findIndex((set) => set.id === afterId)
    if (others.length === sets.length || (afterId !== null && at < 0)) return false
    const position = generateKeyBetween(others[at]?.position ?? null, others[at + 1]?.position ?? null)
    await tx
      .update(rackSet)
      .set({ position })
      .where(and(eq(rackSet.workspaceId, workspaceId), eq(rackSet.id, id)))
    return true
  })
}

/** Puts brushes at the end of a set, in the order given; those already in it stay where they are. @returns How many were added; undefined for no such set. */
export async function addToSet(
  db: Db,
  workspaceId: string,
  setId: string,
  brushIds: readonly string[],
): Promise<number | undefined> {
  return db.transaction(async (tx) => {
    const [set] = await tx
      .select({ id: rackSet.id })
      .from(rackSet)
      .where(and(isOwn(workspaceId, setId), isNull(rackSet.deletedAt)))
      .for('update')
    if (!set) return undefined
    const owned = await tx
      .select({ id: brush.id })
      .from(brush)
      .where(and(eq(brush.workspaceId, workspaceId), isAnyOf(brush.id, brushIds)))
    const ours = new Set(owned.map((row) => row.id))
    const kept = brushIds.filter((id) => ours.has(id))
    return addItems(tx, workspaceId, setId, kept)
  })
}

/** Puts brushes of this workspace at the end of a set of it. @returns How many were added. */
export async function addItems(
  db: Db,
  workspaceId: string,
  setId: string,
  brushIds: readonly string[],
): Promise<number> {
  const [last] = await db
    .select({ position: setItem.position })
    .from(setItem)
    .where(and(eq(setItem.workspaceId, workspaceId), eq(setItem.setId, setId)))
    .orderBy(sql`${setItem.position} collate "C" desc`)
    .limit(1)
  const positions = generateNKeysBetween(last?.position ?? null, null, brushIds.length)
  const rows = brushIds.map((brushId, i) => ({ workspaceId, setId, brushId, position: entryOf(positions, i) }))
  let added = 0
  for (const some of inParts(setItem, rows)) {
    const made = await db.insert(setItem).values(some).onConflictDoNothing().returning({ id: setItem.brushId })
    added += made.length
  }
  return added
}

export async function removeFromSet(
  db: Db,
  workspaceId: string,
  setId: string,
  brushIds: readonly string[],
): Promise<number | undefined> {
  const found = await db.select({ id: rackSet.id }).from(rackSet).where(isOwn(workspaceId, setId))
  if (found.length === 0) return undefined
  const rows = await db
    .delete(setItem)
    .where(and(eq(setItem.workspaceId, workspaceId), eq(setItem.setId, setId), isAnyOf(setItem.brushId, brushIds)))
    .returning({ id: setItem.brushId })
  return rows.length
}

async function isSet(db: Db, workspaceId: string, id: string): Promise<boolean> {
  const rows = await db
    .select({ id: rackSet.id })
    .from(rackSet)
    .where(and(eq(rackSet.workspaceId, workspaceId), eq(rackSet.id, id)))
  return rows.length > 0
}

/** A copy of a set under a new name, with the same brushes in the same order. */
export async function copySet(db: Db, workspaceId: string, id: string, name: string) {
  return db.transaction(async (tx) => {
    if (!(await isSet(tx, workspaceId, id))) return undefined
    const copy = await createSet(tx, workspaceId, name)
    await tx.insert(setItem).select(
      tx
        .select({
          workspaceId: setItem.workspaceId,
          setId: sql<string>`${copy.id}::uuid`.as('set_id'),
          brushId: setItem.brushId,
          position: setItem.position,
        })
        .from(setItem)
        .where(and(eq(setItem.workspaceId, workspaceId), eq(setItem.setId, id))),
    )
    return copy
  })
}

/** The brushes of sets, in the sets' own order; those in the bin are left out. */
export async function listSetBrushes(db: Db, workspaceId: string, setIds: readonly string[]) {
  if (setIds.length === 0) return []
  return db
    .select({ setId: setItem.setId, brushId: setItem.brushId })
    .from(setItem)
    .innerJoin(brush, eq(brush.id, setItem.brushId))
    .where(and(eq(setItem.workspaceId, workspaceId), isAnyOf(setItem.setId, setIds), isNull(brush.deletedAt)))
    .orderBy(sql`${setItem.position} collate "C"`, asc(setItem.brushId))
}
