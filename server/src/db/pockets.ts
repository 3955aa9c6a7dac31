import { and, asc, eq, isNull, sql } from 'drizzle-orm'
import { generateKeyBetween, generateNKeysBetween } from 'fractional-indexing'
import type { Db } from './database.ts'
import { entryOf, inParts, isAnyOf } from './many.ts'
import { brush, pocket, pocketItem, rackSet, setItem } from './schema/all.ts'

/** Fractional keys sort by code point, whatever the database's own language. */
const byPosition = sql`${pocketItem.position} collate "C"`

/** All pockets by age, each with its entries in order; brushes in the bin are left out. */
export async function listPockets(db: Db, workspaceId: string) {
  const [pockets, items] = await Promise.all([
    db
      .select({ id: pocket.id, name: pocket.name })
      .from(pocket)
      .where(and(eq(pocket.workspaceId, workspaceId), isNull(pocket.deletedAt)))
      .orderBy(asc(pocket.createdAt), asc(pocket.id)),
    db
      .select({
        id: pocketItem.id,
        pocketId: pocketItem.pocketId,
        brushId: pocketItem.brushId,
        sizePx: pocketItem.sizePx,
        label: pocketItem.label,
        name: brush.name,
        behaviour: brush.behaviour,
        version: brush.version,
        updatedAt: brush.updatedAt,
      })
      .from(pocketItem)
      .innerJoin(brush, eq(brush.id, pocketItem.brushId))
      .where(and(eq(pocketItem.workspaceId, workspaceId), isNull(brush.deletedAt)))
      .orderBy(byPosition),
  ])
  return pockets.map((each) => ({ ...each, items: items.filter((item) => item.pocketId === each.id) }))
}

/** What the pockets are called. */
export async function listPocketNames(db: Db, workspaceId: string): Promise<string[]> {
  const rows = await db
    .select({ name: pocket.name })
    .from(pocket)
    .where(and(eq(pocket.workspaceId, workspaceId), isNull(pocket.deletedAt)))
  return rows.map(({ name }) => name)
}

/** Makes a pocket, with all brushes of a set at their own sizes if one is named. */
export async function createPocket(
  db: Db,
  workspaceId: string,
  { name, setId }: { name: string; setId?: string | undefined },
): Promise<string> {
  return db.transaction(async (tx) => {
    const [made] = await tx.insert(pocket).values({ workspaceId, name }).returning({ id: pocket.id })
    if (!made) throw new Error('insert gave no row')
    if (setId) {
      const brushes = await tx
        .select({ brushId: brush.id, sizePx: brush.sizePx })
        .from(setItem)
        .innerJoin(rackSet, and(eq(rackSet.id, setItem.setId), eq(rackSet.workspaceId, workspaceId)))
        .innerJoin(brush, and(eq(brush.id, setItem.brushId), isNull(brush.deletedAt)))
        .where(eq(setItem.setId, setId))
        .orderBy(sql`${setItem.position} collate "C"`)
      await insertItems(tx, workspaceId, made.id, brushes)
    }
    return made.id
  })
}

type NewItem = { brushId: string; sizePx: number; label?: string }

/** Pins brushes at the end of a pocket. @returns Whether there is such a pocket. */
export async function pinBrushes(
  db: Db,
  workspaceId: string,
  pocketId: string,
  ids: readonly string[],
): Promise<boolean> {
  return db.transaction(async (tx) => {
    const [there] = await tx
      .select({ id: pocket.id })
      .from(pocket)
      .where(and(eq(pocket.workspaceId, workspaceId), eq(pocket.id, pocketId), isNull(pocket.deletedAt)))
      .for('update')
    if (!there) return false
    const brushes = await tx
      .select({ brushId: brush.id, sizePx: brush.sizePx })
      .from(brush)
      .where(and(eq(brush.workspaceId, workspaceId), isAnyOf(brush.id, ids), isNull(brush.deletedAt)))
    const order = new Map(ids.map((id, i) => [id, i]))
    brushes.sort((a, b) => (order.get(a.brushId) ?? 0) - (order.get(b.brushId) ?? 0))
    await insertItems(tx, workspaceId, pocketId, brushes)
    return true
  })
}

/** Puts entries at the end of a pocket. @returns Their ids. */
export async function insertItems(
  db: Db,
  workspaceId: string,
  pocketId: string,
  items: readonly NewItem[],
): Promise<string[]> {
  if (items.length === 0) return []
  const [last] = await db
    .select({ position: pocketItem.position })
    .from(pocketItem)
    .where(eq(pocketItem.pocketId, pocketId))
    .orderBy(sql`${pocketItem.position} collate "C" desc`)
    .limit(1)
  const positions = generateNKeysBetween(last?.position ?? null, null, items.length)
  const rows = items.map((item, i) => ({ workspaceId, pocketId, ...item, position: entryOf(positions, i) }))
  const added: string[] = []
  for (const some of inParts(pocketItem, rows)) {
    const made = await db.insert(pocketItem).values(some).returning({ id: pocketItem.id })
    added.push(...made.map(({ id }) => id))
  }
  return added
}

/** Changes a pocket's name, or puts it away and brings it back. @returns Whether there is such a pocket. */
export async function updatePocket(
  db: Db,
  workspaceId: string,
  id: string,
  change: { name?: string; deletedAt?: Date | null },
): Promise<boolean> {
  const rows = await db
    .update(pocket)
    .set(change)
    .where(and(eq(pocket.workspaceId, workspaceId), eq(pocket.id, id)))
    .returning({ id: pocket.id })
  return rows.length > 0
}

export async function updatePocketItem(
  db: Db,
  workspaceId: string,
  id: string,
  change: { sizePx?: number | undefined; label?: string | undefined },
): Promise<boolean> {
  const rows = await db
    .update(pocketItem)
    .set(change)
    .where(and(eq(pocketItem.workspaceId, workspaceId), eq(pocketItem.id, id)))
    .returning({ id: pocketItem.id })
  return rows.length > 0
}

export async function removePocketItems(db: Db, workspaceId: string, ids: readonly string[]): Promise<void> {
  if (ids.length === 0) return
  await db.delete(pocketItem).where(and(eq(pocketItem.workspaceId, workspaceId), isAnyOf(pocketItem.id, ids)))
}

export async function removePocketItem(db: Db, workspaceId: string, id: string): Promise<boolean> {
  const rows = await db
    .delete(pocketItem)
    .where(and(eq(pocketItem.workspaceId, workspaceId), eq(pocketItem.id, id)))
    .returning({ id: pocketItem.id })
  return rows.length > 0
}

/** Puts an entry after another of its pocket, or first. @returns Whether both are there. */
export async function movePocketItem(
  db: Db,
  workspaceId: string,
  id: string,
  afterId: string | null,
): Promise<boolean> {
  return db.transaction(async (tx) => {
    const [moved] = await tx
      .select({ pocketId: pocketItem.pocketId })
      .from(pocketItem)
      .where(and(eq(pocketItem.workspaceId, workspaceId), eq(pocketItem.id, id)))
    if (!moved) return false
    await tx.select({ id: pocket.id }).from(pocket).where(eq(pocket.id, moved.pocketId)).for('update')
    const others = await tx
      .select({ id: pocketItem.id, position: pocketItem.position })
      .from(pocketItem)
      .where(and(eq(pocketItem.pocketId, moved.pocketId), sql`${pocketItem.id} <> ${id}`))
      .orderBy(byPosition)
    const at = afterId === null ? -1 : others.findIndex((item) => item.id === afterId)
    if (afterId !== null && at < 0) return false
    const position = generateKeyBetween(others[at]?.position ?? null, others[at + 1]?.position ?? null)
    await tx.update(pocketItem).set({ position }).where(eq(pocketItem.id, id))
    return true
  })
}
