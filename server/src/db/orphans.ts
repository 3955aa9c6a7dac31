import type { FileSha } from '@satchel/core/hashes'
import { and, eq, sql } from 'drizzle-orm'
import type { Db } from './database.ts'
import { letGo } from './file-places.ts'
import { isAnyOf } from './many.ts'
import { isNobodys } from './picture-owners.ts'
import { blob, blobPiece, brush, brushVersion, tip, tipFrame } from './schema/all.ts'

/** The pictures that a version of a brush may be the last to use; for `returning` of a delete. */
export const versionPictures = {
  tipId: sql<string>`${brushVersion.snapshot} ->> 'tipId'`,
  blobSha: sql<FileSha | null>`${brushVersion.snapshot} -> 'thumbnail' ->> 'blobSha'`,
}
type VersionPictures = { tipId: string; blobSha: FileSha | null }

/** Deletes the tips and files of versions that are gone, as far as nothing else uses them. */
export async function deletePicturesOf(db: Db, workspaceId: string, gone: readonly VersionPictures[]): Promise<void> {
  const tipIds = [...new Set(gone.map(({ tipId }) => tipId))]
  const blobs = new Set(gone.flatMap(({ blobSha }) => blobSha ?? []))
  if (tipIds.length > 0) {
    const orphans = await db
      .select({ id: tip.id })
      .from(tip)
      .where(
        and(
          eq(tip.workspaceId, workspaceId),
          isAnyOf(tip.id, tipIds),
          sql`not exists (select 1 from ${brush} where ${brush.tipId} = ${tip.id})`,
          sql`not exists (select 1 from ${brushVersion} where ${brushVersion.workspaceId} = ${tip.workspaceId} and ${brushVersion.snapshot} ->> 'tipId' = ${tip.id}::text)`,
        ),
      )
    const ids = orphans.map(({ id }) => id)
    const frames =
      ids.length === 0
        ? []
        : await db
            .delete(tipFrame)
            .where(and(eq(tipFrame.workspaceId, workspaceId), isAnyOf(tipFrame.tipId, ids)))
            .returning({ blobSha: tipFrame.blobSha })
    if (ids.length > 0) await db.delete(tip).where(and(eq(tip.workspaceId, workspaceId), isAnyOf(tip.id, ids)))
    for (const { blobSha } of frames) blobs.add(blobSha)
  }
  await deleteOrphanBlobs(db, workspaceId, [...blobs])
}

/** Deletes those of the named files that nobody owns; see `picture-owners.ts`. */
export async function deleteOrphanBlobs(db: Db, workspaceId: string, shas: readonly FileSha[]): Promise<void> {
  if (shas.length === 0) return
  await db.transaction(async (tx) => {
    const named = and(eq(blob.workspaceId, workspaceId), isAnyOf(blob.sha256, shas))
    // Whoever stores the same file just now, with who owns it in one transaction, is waited for; only then is it asked whose
    // each is. In one order, so that two who do this wait for each other, and never crosswise.
    await tx.select({ sha256: blob.sha256 }).from(blob).where(named).orderBy(blob.sha256).for('update')
    const orphans = await tx.select({ sha256: blob.sha256 }).from(blob).where(and(named, isNobodys))
    const gone = orphans.map((row) => row.sha256)
    if (gone.length === 0) return
    await tx.delete(blobPiece).where(and(eq(blobPiece.workspaceId, workspaceId), isAnyOf(blobPiece.sha256, gone)))
    const dropped = await tx
      .delete(blob)
      .where(and(eq(blob.workspaceId, workspaceId), isAnyOf(blob.sha256, gone)))
      .returning({ objectName: blob.objectName })
    await letGo(
      tx,
      dropped.flatMap(({ objectName }) => objectName ?? []),
    )
  })
}
