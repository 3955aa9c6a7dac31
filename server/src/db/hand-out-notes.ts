import { and, count, desc, eq } from 'drizzle-orm'
import { alias } from 'drizzle-orm/pg-core'
import type { Db } from './database.ts'
import { handOut, handOutNote, release } from './schema/all.ts'

/** Who holds a link writes no more than that. */
const NOTES_MOST = 20
/** A page of a pack shows no more. */
const SHOWN_MOST = 500

/**
 * Keeps what somebody with a link writes; the same note, sent again, is there once.
 * @returns False where that link has brought as many as are taken.
 */
export async function keepHandOutNote(db: Db, note: typeof handOutNote.$inferInsert): Promise<boolean> {
  return db.transaction(async (tx) => {
    const its = and(eq(handOutNote.workspaceId, note.workspaceId), eq(handOutNote.handOutId, note.handOutId))
    // those of one link come one after another, so that no two are counted as the last
    await tx
      .select({ id: handOut.id })
      .from(handOut)
      .where(and(eq(handOut.workspaceId, note.workspaceId), eq(handOut.id, note.handOutId)))
      .for('update')
    const [known] = await tx
      .select({ id: handOutNote.id })
      .from(handOutNote)
      .where(and(its, eq(handOutNote.sentId, note.sentId)))
    if (known) return true
    const [there] = await tx.select({ n: count() }).from(handOutNote).where(its)
    if ((there?.n ?? 0) >= NOTES_MOST) return false
    await tx.insert(handOutNote).values(note)
    return true
  })
}

/** The release a note is about. */
const about = alias(release, 'about')

/** What people wrote of a pack, newest first. */
export async function listHandOutNotes(db: Db, workspaceId: string, packId: string) {
  const { id, app, text, createdAt, readAt } = handOutNote
  return db
    .select({ id, app, text, createdAt, readAt, name: handOut.name, version: about.version })
    .from(handOutNote)
    .innerJoin(handOut, eq(handOut.id, handOutNote.handOutId))
    .innerJoin(release, eq(release.id, handOut.releaseId))
    .leftJoin(about, eq(about.id, handOutNote.releaseId))
    .where(and(eq(handOutNote.workspaceId, workspaceId), eq(release.packId, packId)))
    .orderBy(desc(handOutNote.createdAt), handOutNote.id)
    .limit(SHOWN_MOST)
}

/** Whether a note is done with. @returns Whether it is there. */
export async function markHandOutNote(db: Db, workspaceId: string, id: string, isRead: boolean): Promise<boolean> {
  const rows = await db
    .update(handOutNote)
    .set({ readAt: isRead ? new Date() : null })
    .where(and(eq(handOutNote.workspaceId, workspaceId), eq(handOutNote.id, id)))
    .returning({ id: handOutNote.id })
  return rows.length > 0
}
