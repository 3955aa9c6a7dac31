import type { FileSha } from '@satchel/core/hashes'
import { and, desc, eq, lt } from 'drizzle-orm'
import type { Db } from './database.ts'
import { deleteOrphanBlobs } from './orphans.ts'
import { parcel } from './schema/all.ts'

export type Parcel = typeof parcel.$inferSelect
type Named = Pick<Parcel, 'workspaceId' | 'id'>
const isIt = ({ workspaceId, id }: Named) => and(eq(parcel.workspaceId, workspaceId), eq(parcel.id, id))

export async function insertParcel(db: Db, values: typeof parcel.$inferInsert): Promise<Parcel> {
  const [row] = await db.insert(parcel).values(values).returning()
  if (!row) throw new Error('a parcel was not stored')
  return row
}

export async function findParcel(db: Db, workspaceId: string, id: string): Promise<Parcel | undefined> {
  const [row] = await db.select().from(parcel).where(isIt({ workspaceId, id }))
  return row
}

/** All parcels of a workspace, the newest first. */
export async function listParcels(db: Db, workspaceId: string): Promise<Parcel[]> {
  return db.select().from(parcel).where(eq(parcel.workspaceId, workspaceId)).orderBy(desc(parcel.createdAt))
}

export type MadeFile = { fileName: string; mediaType: string; sizeBytes: number; blobSha: FileSha }

/** Says that its file is there. @returns Whether anybody still waits for it. */
export async function setParcelMade(db: Db, named: Named, made: MadeFile): Promise<boolean> {
  const rows = await db.update(parcel).set(made).where(isIt(named)).returning({ id: parcel.id })
  return rows.length > 0
}

/** Forgets a parcel with its file. @returns Whether it was there. */
export const deleteParcel = (db: Db, named: Named): Promise<boolean> =>
  db.transaction(async (tx) => {
    const gone = await tx.delete(parcel).where(isIt(named)).returning({ blobSha: parcel.blobSha })
    await deleteOrphanBlobs(
      tx,
      named.workspaceId,
      gone.flatMap(({ blobSha }) => blobSha ?? []),
    )
    return gone.length > 0
  })

/** Forgets the parcels of a workspace that were asked for before a time. */
export async function forgetOldParcels(db: Db, workspaceId: string, until: Date): Promise<void> {
  const old = await db
    .select({ id: parcel.id })
    .from(parcel)
    .where(and(eq(parcel.workspaceId, workspaceId), lt(parcel.createdAt, until)))
  for (const { id } of old) await deleteParcel(db, { workspaceId, id })
}
