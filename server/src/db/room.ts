import { and, count, eq, gt, sql, sum } from 'drizzle-orm'
import type { Db } from './database.ts'
import { blob, job, phoneLink, upload } from './schema/all.ts'

/** What a workspace takes up just now. */
export type RoomTaken = {
  /** All of its files, those on their way as large as they will be, bytes. */
  bytes: number
  /** Files that have come in part: how many, and how large they will be together, bytes. */
  uploads: number
  uploadBytes: number
  phoneLinks: number
  jobsWaiting: number
}

const asNumber = (value: string | number | null | undefined) => Number(value ?? 0)

/** All files of a workspace together, bytes. */
export async function countStored(db: Db, workspaceId: string): Promise<number> {
  const [stored] = await db
    .select({ bytes: sum(blob.sizeBytes) })
    .from(blob)
    .where(eq(blob.workspaceId, workspaceId))
  return asNumber(stored?.bytes)
}

/** How many files a workspace has stored. */
export async function countFiles(db: Db, workspaceId: string): Promise<number> {
  const [stored] = await db.select({ files: count() }).from(blob).where(eq(blob.workspaceId, workspaceId))
  return stored?.files ?? 0
}

export async function countRoom(db: Db, workspaceId: string): Promise<RoomTaken> {
  // one after the other: inside a transaction there is one connection, which answers one question at a time
  const stored = await countStored(db, workspaceId)
  const [coming] = await db
    .select({ count: count(), size: sum(upload.sizeBytes) })
    .from(upload)
    .where(eq(upload.workspaceId, workspaceId))
  const [links] = await db
    .select({ count: count() })
    .from(phoneLink)
    .where(and(eq(phoneLink.workspaceId, workspaceId), gt(phoneLink.endsAt, sql`now()`)))
  const [waiting] = await db
    .select({ count: count() })
    .from(job)
    .where(and(eq(job.workspaceId, workspaceId), eq(job.state, 'queued')))
  return {
    bytes: stored + asNumber(coming?.size),
    uploads: coming?.count ?? 0,
    uploadBytes: asNumber(coming?.size),
    phoneLinks: links?.count ?? 0,
    jobsWaiting: waiting?.count ?? 0,
  }
}
