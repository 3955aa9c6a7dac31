import { and, desc, eq, inArray, lt } from 'drizzle-orm'
import type { Db } from './database.ts'
import { parcel } from './schema/all.ts'

export type Parcel = typeof parcel.$inferSelect

export async function insertParcel(db: Db, values: typeof parcel.$inferInsert): Promise<Parcel> {
  const [row] = await db.insert(parcel).values(values).returning()
  if (!row) throw new Error('a parcel was not stored')
  return row
}

export async function findParcel(db: Db, workspaceId: string, id: string): Promise<Parcel | undefined> {
  const [row] = await db
    .select()
    .from(parcel)
    .where(and(eq(parcel.workspaceId, workspaceId), eq(parcel.id, id)))
  return row
}

/** All parcels of a workspace, the newest first. */
export async function listParcels(db: Db, workspaceId: string): Promise<Parcel[]> {
  return db.select().from(parcel).where(eq(parcel.workspaceId, workspaceId)).orderBy(desc(parcel.createdAt))
}

export async function setParcelMade(
  db: Db,
  { workspaceId, id }: Pick<Parcel, 'workspaceId' | 'id'>,
  made: { fileName: string; mediaType: string; sizeBytes: number },
): Promise<void> {
  await db
    .update(parcel)
    .set(made)
    .where(and(eq(parcel.workspaceId, workspaceId), eq(parcel.id, id)))
}

export async function deleteParcel(db: Db, workspaceId: string, id: string): Promise<boolean> {
  const gone = await db
    .delete(parcel)
    .where(and(eq(parcel.workspaceId, workspaceId), eq(parcel.id, id)))
    .returning({ id: parcel.id })
  return gone.length > 0
}

/** Forgets the parcels of all workspaces that were asked for before a time. */
export async function forgetOldParcels(db: Db, until: Date): Promise<void> {
  await db.delete(parcel).where(lt(parcel.createdAt, until))
}

/** Those of some ids, of whatever workspace, that are still known. */
export async function findKnownParcels(db: Db, ids: readonly string[]): Promise<Set<string>> {
  if (ids.length === 0) return new Set()
  const rows = await db
    .select({ id: parcel.id })
    .from(parcel)
    .where(inArray(parcel.id, [...ids]))
  return new Set(rows.map(({ id }) => id))
}
