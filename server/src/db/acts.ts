import { and, desc, eq, isNull, lt, or, sql } from 'drizzle-orm'
import type { Db } from './database.ts'
import { isAnyOf } from './many.ts'
import { type ActDone, brush, libraryAct } from './schema/all.ts'

export const NOTHING_DONE: ActDone = {
  ...{ binned: [], moves: [], covers: [], editions: [], versions: [], kept: [], apart: [] },
}

/** Keeps acts on a library from meeting one another. */
export const lockActs = async (tx: Db, workspaceId: string): Promise<void> => {
  await tx.execute(sql`select pg_advisory_xact_lock(hashtext(${`acts ${workspaceId}`}))`)
}

/** Holds brushes for a change, but those in the bin and those that came with the product. @returns How many are held. */
export async function holdBrushes(tx: Db, workspaceId: string, ids: readonly string[]): Promise<number> {
  const rows = await tx
    .select({ id: brush.id })
    .from(brush)
    .where(
      and(
        eq(brush.workspaceId, workspaceId),
        isAnyOf(brush.id, ids),
        isNull(brush.deletedAt),
        eq(brush.starter, false),
      ),
    )
    .orderBy(brush.id)
    .for('update')
  return rows.length
}

/** Notes an act, so that it can be taken back. @returns Its id. */
export async function insertAct(db: Db, workspaceId: string, said: string, done: ActDone): Promise<string> {
  const [row] = await db.insert(libraryAct).values({ workspaceId, said, done }).returning({ id: libraryAct.id })
  if (!row) throw new Error('insert gave no row')
  return row.id
}

const LISTED = 20

/** The newest acts that can be taken back. */
export const listActs = (db: Db, workspaceId: string) =>
  db
    .select({ id: libraryAct.id, said: libraryAct.said, createdAt: libraryAct.createdAt })
    .from(libraryAct)
    .where(and(eq(libraryAct.workspaceId, workspaceId), isNull(libraryAct.undoneAt)))
    .orderBy(desc(libraryAct.createdAt))
    .limit(LISTED)

/** An act that was not taken back yet, held for that. */
export async function holdAct(db: Db, workspaceId: string, id: string) {
  const [row] = await db
    .select({ said: libraryAct.said, done: libraryAct.done })
    .from(libraryAct)
    .where(and(eq(libraryAct.workspaceId, workspaceId), eq(libraryAct.id, id), isNull(libraryAct.undoneAt)))
    .for('update')
  return row
}

export const noteUndone = (db: Db, workspaceId: string, id: string) =>
  db
    .update(libraryAct)
    .set({ undoneAt: new Date() })
    .where(and(eq(libraryAct.workspaceId, workspaceId), eq(libraryAct.id, id)))

/** Forgets acts whose brushes are gone from the bin by now, and those that are older than anything in it may be. */
export const forgetActs = (
  db: Db,
  workspaceId: string,
  { binnedBefore, madeBefore }: { binnedBefore: Date; madeBefore: Date },
) =>
  db
    .delete(libraryAct)
    .where(
      and(
        eq(libraryAct.workspaceId, workspaceId),
        or(
          and(lt(libraryAct.createdAt, binnedBefore), sql`jsonb_array_length(${libraryAct.done} -> 'binned') > 0`),
          lt(libraryAct.createdAt, madeBefore),
        ),
      ),
    )
