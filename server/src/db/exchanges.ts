import { and, asc, desc, eq, isNotNull, isNull } from 'drizzle-orm'
import type { Db } from './database.ts'
import { published, takenPack } from './schema/all.ts'

/** Packs that were taken from exchanges, and which release of each is here. */
export const listTakenThere = (db: Db, workspaceId: string) =>
  db
    .select({
      id: takenPack.id,
      title: takenPack.title,
      release: takenPack.release,
      exchange: takenPack.exchange,
      seenThere: takenPack.seenThere,
    })
    .from(takenPack)
    .where(and(eq(takenPack.workspaceId, workspaceId), isNotNull(takenPack.exchange)))
    .orderBy(asc(takenPack.title), asc(takenPack.id))

/** Notes the newest release that was seen of a pack where it came from. */
export const noteSeenThere = (db: Db, workspaceId: string, id: string, seenThere: string) =>
  db
    .update(takenPack)
    .set({ seenThere })
    .where(and(eq(takenPack.workspaceId, workspaceId), eq(takenPack.id, id)))

export type Published = typeof published.$inferSelect

/** Notes where a release stands; of one item one row, whatever release it is of. */
export async function notePublished(db: Db, row: typeof published.$inferInsert): Promise<void> {
  const { workspaceId, host, item } = row
  const isIt = and(eq(published.workspaceId, workspaceId), eq(published.host, host), eq(published.item, item))
  await db.transaction(async (tx) => {
    await tx.delete(published).where(isIt)
    await tx.insert(published).values(row)
  })
}

/** Where a pack was published, what was last first. */
export const listPublished = (db: Db, workspaceId: string, packId: string): Promise<Published[]> =>
  db
    .select()
    .from(published)
    .where(and(eq(published.workspaceId, workspaceId), eq(published.packId, packId)))
    .orderBy(desc(published.publishedAt))

export async function findPublished(db: Db, workspaceId: string, id: string): Promise<Published | undefined> {
  const [row] = await db
    .select()
    .from(published)
    .where(and(eq(published.workspaceId, workspaceId), eq(published.id, id), isNull(published.withdrawnAt)))
  return row
}

export const noteWithdrawn = (db: Db, workspaceId: string, id: string) =>
  db
    .update(published)
    .set({ withdrawnAt: new Date() })
    .where(and(eq(published.workspaceId, workspaceId), eq(published.id, id)))
