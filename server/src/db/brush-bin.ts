import { and, eq, inArray, isNotNull, isNull, lt } from 'drizzle-orm'
import type { Db } from './database.ts'
import { isAnyOf } from './many.ts'
import { deletePicturesOf, versionPictures } from './orphans.ts'
import { brush, brushVersion } from './schema/all.ts'

/** Puts brushes into the bin, or brings them back; what came with the product stays. @returns How many changed. */
export async function binBrushes(db: Db, workspaceId: string, ids: string[], deleted: boolean): Promise<number> {
  const rows = await db
    .update(brush)
    .set({ deletedAt: deleted ? new Date() : null })
    .where(
      and(
        eq(brush.workspaceId, workspaceId),
        isAnyOf(brush.id, ids),
        eq(brush.starter, false),
        deleted ? isNull(brush.deletedAt) : isNotNull(brush.deletedAt),
      ),
    )
    .returning({ id: brush.id })
  return rows.length
}

/** Deletes for good what has lain in the bin since before `until`, with the pictures that nothing else uses. */
export async function emptyBin(db: Db, workspaceId: string, until: Date): Promise<void> {
  const binned = and(eq(brush.workspaceId, workspaceId), lt(brush.deletedAt, until))
  const versions = await db
    .delete(brushVersion)
    // by the brush alone: told the workspace once more, the database walks all versions of it for each brush
    .where(inArray(brushVersion.brushId, db.select({ id: brush.id }).from(brush).where(binned)))
    .returning(versionPictures)
  await db.delete(brush).where(binned)
  await deletePicturesOf(db, workspaceId, versions)
}
