import { and, eq, inArray, sql } from 'drizzle-orm'
import type { Db } from './database.ts'
import { blob, blobPiece, gatherFile, gatherLine, material, release, tipFrame } from './schema/all.ts'

/** Deletes those of the named blobs that no tip, open gather or release refers to. */
export async function deleteOrphanBlobs(db: Db, workspaceId: string, shas: string[]): Promise<void> {
  if (shas.length === 0) return
  const orphans = await db
    .select({ sha256: blob.sha256 })
    .from(blob)
    .where(
      and(
        eq(blob.workspaceId, workspaceId),
        inArray(blob.sha256, shas),
        sql`not exists (select 1 from ${tipFrame} where ${tipFrame.workspaceId} = ${blob.workspaceId} and ${tipFrame.blobSha} = ${blob.sha256})`,
        sql`not exists (select 1 from ${gatherFile} where ${gatherFile.workspaceId} = ${blob.workspaceId} and ${gatherFile.blobSha} = ${blob.sha256})`,
        sql`not exists (select 1 from ${gatherLine}, jsonb_array_elements(${gatherLine.frames} || coalesce(${gatherLine.fullFrames}, '[]')) as f
          where ${gatherLine.workspaceId} = ${blob.workspaceId} and f ->> 'blobSha' = ${blob.sha256})`,
        sql`not exists (select 1 from ${gatherLine} where ${gatherLine.workspaceId} = ${blob.workspaceId} and ${gatherLine.grain} ->> 'blobSha' = ${blob.sha256})`,
        sql`not exists (select 1 from ${material} where ${material.workspaceId} = ${blob.workspaceId} and ${material.blobSha} = ${blob.sha256})`,
        sql`not exists (select 1 from ${release}, jsonb_array_elements(${release.brushes}) as b
          where ${release.workspaceId} = ${blob.workspaceId} and (b -> 'blobs' ? ${blob.sha256} or b ->> 'grainBlob' = ${blob.sha256}))`,
        sql`not exists (select 1 from ${release} where ${release.workspaceId} = ${blob.workspaceId} and ${release.zipSha} = ${blob.sha256})`,
      ),
    )
  const gone = orphans.map((row) => row.sha256)
  if (gone.length === 0) return
  await db.delete(blobPiece).where(and(eq(blobPiece.workspaceId, workspaceId), inArray(blobPiece.sha256, gone)))
  await db.delete(blob).where(and(eq(blob.workspaceId, workspaceId), inArray(blob.sha256, gone)))
}
