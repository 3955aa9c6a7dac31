import type { FileSha } from '@satchel/core/hashes'
import { and, asc, eq, lt, type SQL } from 'drizzle-orm'
import type { Db } from './database.ts'
import { isAnyOf } from './many.ts'
import { blobPiece, gather, upload } from './schema/all.ts'

export type Upload = typeof upload.$inferSelect
/** What names a file where it comes from: chosen again, it goes on where it stopped. */
export type FileToCome = Pick<Upload, 'path' | 'sizeBytes' | 'modifiedMs'>

const isUpload = (workspaceId: string, gatherId: string, id: string) =>
  and(eq(upload.workspaceId, workspaceId), eq(upload.gatherId, gatherId), eq(upload.id, id))

/**
 * The upload of a file into an open ledger: the one that has begun, or a new one.
 * @param makeRoom Asked before a new one begins. @returns 'ended' where the ledger takes nothing any more.
 */
export async function openUpload(
  db: Db,
  { workspaceId, gatherId }: { workspaceId: string; gatherId: string },
  file: FileToCome,
  makeRoom: (tx: Db) => Promise<void>,
): Promise<Upload | 'ended'> {
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
    await makeRoom(tx)
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
  to: Upload,
  atByte: number,
  bytes: Uint8Array,
): Promise<number | undefined> {
  const { workspaceId, gatherId, id } = to
  return db.transaction(async (tx) => {
    const [row] = await tx
      .update(upload)
      .set({ receivedBytes: atByte + bytes.length })
      .where(and(isUpload(workspaceId, gatherId, id), eq(upload.receivedBytes, atByte)))
      .returning({ receivedBytes: upload.receivedBytes })
    if (row && bytes.length > 0)
      await tx.insert(blobPiece).values({ workspaceId, sha256: piecesOf(to), ordinal: atByte, bytes })
    return row?.receivedBytes
  })
}

/** The name that the pieces of an upload have until the file's own is known. */
export const piecesOf = ({ id }: Pick<Upload, 'id'>) => `upload ${id}` as FileSha

/** Forgets an upload with all that came of it. @returns Whether there was one. */
export async function forgetUpload(db: Db, workspaceId: string, gatherId: string, id: string): Promise<boolean> {
  return forget(db, workspaceId, isUpload(workspaceId, gatherId, id))
}

/** Forgets what a ledger waited for when it ended. */
export async function forgetUploads(db: Db, workspaceId: string, gatherId: string): Promise<void> {
  await forget(db, workspaceId, and(eq(upload.workspaceId, workspaceId), eq(upload.gatherId, gatherId)))
}

/** Forgets uploads that began before `until` and never became whole. */
export async function forgetOldUploads(db: Db, workspaceId: string, until: Date): Promise<void> {
  await forget(db, workspaceId, and(eq(upload.workspaceId, workspaceId), lt(upload.createdAt, until)))
}

async function forget(db: Db, workspaceId: string, which: SQL | undefined): Promise<boolean> {
  return db.transaction(async (tx) => {
    const gone = await tx.delete(upload).where(which).returning({ id: upload.id })
    const names = gone.map(piecesOf)
    await tx.delete(blobPiece).where(and(eq(blobPiece.workspaceId, workspaceId), isAnyOf(blobPiece.sha256, names)))
    return gone.length > 0
  })
}
