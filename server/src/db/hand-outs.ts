import { and, count, desc, eq, sql } from 'drizzle-orm'
import type { Db } from './database.ts'
import { delivery, handOut, release } from './schema/all.ts'

export type HandOut = typeof handOut.$inferSelect

/** A hand-out whose link still works. */
export const isOut = sql`(${handOut.withdrawnAt} is null and (${handOut.endsAt} is null or ${handOut.endsAt} > now())
  and (${handOut.downloadLimit} is null or ${handOut.downloads} < ${handOut.downloadLimit}))`

export async function countOut(db: Db, workspaceId: string): Promise<number> {
  const [row] = await db
    .select({ n: count() })
    .from(handOut)
    .where(and(eq(handOut.workspaceId, workspaceId), isOut))
  return row?.n ?? 0
}

/** A pack's hand-outs, newest first, with the version each gives. */
export async function listHandOuts(db: Db, workspaceId: string, packId: string) {
  return db
    .select({
      id: handOut.id,
      name: handOut.name,
      endsAt: handOut.endsAt,
      downloadLimit: handOut.downloadLimit,
      downloads: handOut.downloads,
      withdrawnAt: handOut.withdrawnAt,
      createdAt: handOut.createdAt,
      version: release.version,
      lastAt: sql<
        string | null
      >`(select max(${delivery.at}) from ${delivery} where ${delivery.handOutId} = ${handOut.id} and ${delivery.state} = 'sent')`,
    })
    .from(handOut)
    .innerJoin(release, eq(release.id, handOut.releaseId))
    .where(and(eq(handOut.workspaceId, workspaceId), eq(release.packId, packId)))
    .orderBy(desc(handOut.createdAt))
}

export async function insertHandOut(db: Db, values: typeof handOut.$inferInsert): Promise<HandOut> {
  const [row] = await db.insert(handOut).values(values).returning()
  if (!row) throw new Error('insert gave no row')
  return row
}

export async function updateHandOut(
  db: Db,
  workspaceId: string,
  id: string,
  change: { withdrawnAt?: Date | null; tokenHash?: string },
): Promise<HandOut | undefined> {
  const [row] = await db
    .update(handOut)
    .set(change)
    .where(and(eq(handOut.workspaceId, workspaceId), eq(handOut.id, id)))
    .returning()
  return row
}

/**
 * The hand-out behind a link, whatever its state, with its release. The link's hash is the key; it leads to exactly
 * one workspace, whose id comes with the row and bounds every further query.
 */
export async function findHandOutByToken(db: Db, tokenHash: string) {
  const [row] = await db
    .select({ handOut, release })
    .from(handOut)
    .innerJoin(release, eq(release.id, handOut.releaseId))
    .where(eq(handOut.tokenHash, tokenHash))
  return row
}
