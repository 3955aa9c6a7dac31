import { and, asc, count, eq, lt } from 'drizzle-orm'
import pg from 'pg'
import type { Db } from './database.ts'
import { gather, upload, uploadPiece } from './schema/all.ts'

export type Upload = typeof upload.$inferSelect
/** What names a file where it comes from: chosen again, it goes on where it stopped. */
export type FileToCome = Pick<Upload, 'path' | 'sizeBytes' | 'modifiedMs'>

/** Uploads of one ledger that have begun and are not whole. */
const UNFINISHED_MAX = 100

const isUpload = (workspaceId: string, gatherId: string, id: string) =>
  and(eq(upload.workspaceId, workspaceId), eq(upload.gatherId, gatherId), eq(upload.id, id))

/**
 * The upload of a file into an open ledger: the one that has begun, or a new one.
 * @returns 'ended' where the ledger takes nothing any more, 'many' where too many have begun.
 */
export async function openUpload(
  db: Db,
  { workspaceId, gatherId }: { workspaceId: string; gatherId: string },
  file: FileToCome,
): Promise<Upload | 'ended' | 'many'> {
  return db.transaction(async (tx) => {
    const [open] = await tx
      .select({ id: gather.id })
      .from(gather)
      .where(and(eq(gather.workspaceId, workspaceId), eq(gather.id, gatherId), eq(gather.state, 'open')))
      .for('update')
    if (!open) return 'ended'
    const ofGather = and(eq(upload.workspaceId, workspaceId), eq(upload.gatherId, gatherId))
    const { path, sizeBytes, modifiedMs } = file
    const [begun] = await tx
      .select()
      .from(upload)
      .where(and(ofGather, eq(upload.path, path), eq(upload.sizeBytes, sizeBytes), eq(upload.modifiedMs, modifiedMs)))
    if (begun) return begun
    const [all] = await tx.select({ n: count() }).from(upload).where(ofGather)
    if ((all?.n ?? 0) >= UNFINISHED_MAX) return 'many'
    const [made] = await tx.insert(upload).values({ workspaceId, gatherId, path, sizeBytes, modifiedMs }).returning()
    if (!made) throw new Error('no upload was made')
    return made
  })
}

export async function findUpload(
  db: Db,
  workspaceId: string,
  gatherId: string,
  id: string,
): Promise<Upload | undefined> {
  const [row] = await db
    .select()
    .from(upload)
    .where(isUpload(workspaceId, gatherId, id))
  return row
}

/** Uploads of a ledger that have begun and are not whole, in the order they began. */
export const listUploads = (db: Db, workspaceId: string, gatherId: string) =>
  db
    .select({
      id: upload.id,
      path: upload.path,
      sizeBytes: upload.sizeBytes,
      receivedBytes: upload.receivedBytes,
    })
    .from(upload)
    .where(and(eq(upload.workspaceId, workspaceId), eq(upload.gatherId, gatherId)))
    .orderBy(asc(upload.createdAt), asc(upload.id))

/**
 * Adds the piece that begins at a byte. @returns How much is there now; undefined where it is not that byte's turn: the
 * piece has come already, or somebody else sends the same file.
 */
export async function addUploadPiece(
  db: Db,
  { workspaceId, gatherId, id }: Upload,
  atByte: number,
  bytes: Uint8Array,
): Promise<number | undefined> {
  return db.transaction(async (tx) => {
    const [row] = await tx
      .update(upload)
      .set({ receivedBytes: atByte + bytes.length })
      .where(and(isUpload(workspaceId, gatherId, id), eq(upload.receivedBytes, atByte)))
      .returning({ receivedBytes: upload.receivedBytes })
    if (row && bytes.length > 0) await tx.insert(uploadPiece).values({ workspaceId, uploadId: id, atByte, bytes })
    return row?.receivedBytes
  })
}

/** What an upload has brought, as a query for COPY: one column of bytes in their order. */
export const uploadedBytes = ({ workspaceId, id }: Upload): string =>
  `select bytes from upload_piece where workspace_id = ${pg.escapeLiteral(workspaceId)} and upload_id = ${pg.escapeLiteral(id)} order by at_byte`

/** Forgets an upload with all that came of it. @returns Whether there was one. */
export async function forgetUpload(db: Db, workspaceId: string, gatherId: string, id: string): Promise<boolean> {
  const gone = await db
    .delete(upload)
    .where(isUpload(workspaceId, gatherId, id))
    .returning({ id: upload.id })
  return gone.length > 0
}

/** Forgets what a ledger waited for when it ended. */
export async function forgetUploads(db: Db, workspaceId: string, gatherId: string): Promise<void> {
  await db.delete(upload).where(and(eq(upload.workspaceId, workspaceId), eq(upload.gatherId, gatherId)))
}

/** Forgets uploads that began before `until` and never became whole. */
export async function forgetOldUploads(db: Db, workspaceId: string, until: Date): Promise<void> {
  await db.delete(upload).where(and(eq(upload.workspaceId, workspaceId), lt(upload.createdAt, until)))
}
