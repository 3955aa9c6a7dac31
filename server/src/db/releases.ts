import type { FileSha } from '@satchel/core/hashes'
import { and, desc, eq, isNull, ne, sql } from 'drizzle-orm'
import type { Db } from './database.ts'
import { brush, brushVersion, packSet, rackSet, release, setItem, tip, tipFrame } from './schema/all.ts'

export type Release = typeof release.$inferSelect

export async function insertRelease(db: Db, values: typeof release.$inferInsert): Promise<Release | undefined> {
  const [row] = await db.insert(release).values(values).onConflictDoNothing().returning()
  return row
}

export async function findRelease(db: Db, workspaceId: string, id: string): Promise<Release | undefined> {
  const [row] = await db
    .select()
    .from(release)
    .where(and(eq(release.workspaceId, workspaceId), eq(release.id, id)))
  return row
}

/** The newest release of a pack that can be had. */
export async function findNewestRelease(db: Db, workspaceId: string, packId: string): Promise<Release | undefined> {
  const [row] = await db
    .select()
    .from(release)
    .where(and(eq(release.workspaceId, workspaceId), eq(release.packId, packId), eq(release.state, 'ready')))
    .orderBy(desc(release.createdAt))
    .limit(1)
  return row
}

/** Says how far a release is. One that is ready stays so, whatever a server says that was silent for too long. */
export async function setReleaseState(
  db: Db,
  workspaceId: string,
  id: string,
  end: { state: 'ready'; zipSha: FileSha; zipBytes: number; zipFiles: number } | { state: 'failed' | 'building' },
): Promise<void> {
  await db
    .update(release)
    .set(end)
    .where(and(eq(release.workspaceId, workspaceId), eq(release.id, id), ne(release.state, 'ready')))
}

/** A pack's releases, newest first, without their snapshots. */
export async function listReleases(db: Db, workspaceId: string, packId: string) {
  return db
    .select({
      id: release.id,
      version: release.version,
      notes: release.notes,
      state: release.state,
      zipBytes: release.zipBytes,
      zipFiles: release.zipFiles,
      createdAt: release.createdAt,
      brushes: sql<number>`jsonb_array_length(${release.brushes})`.mapWith(Number),
    })
    .from(release)
    .where(and(eq(release.workspaceId, workspaceId), eq(release.packId, packId)))
    .orderBy(desc(release.createdAt))
}

/** Everything of a pack's brushes that a release freezes, once a brush, with its frames in order. */
export async function loadPackBrushes(db: Db, workspaceId: string, packId: string) {
  const rows = await db
    .selectDistinct({
      id: brush.id,
      name: brush.name,
      maker: brush.maker,
      licence: brush.licence,
      tags: brush.tags,
      snapshot: brushVersion.snapshot,
      tipId: brush.tipId,
      fileKeys: tip.fileKeys,
    })
    .from(packSet)
    .innerJoin(rackSet, and(eq(rackSet.id, packSet.setId), isNull(rackSet.deletedAt)))
    .innerJoin(setItem, eq(setItem.setId, packSet.setId))
    .innerJoin(brush, and(eq(brush.id, setItem.brushId), isNull(brush.deletedAt)))
    .innerJoin(brushVersion, and(eq(brushVersion.brushId, brush.id), eq(brushVersion.ordinal, brush.version)))
    .innerJoin(tip, eq(tip.id, brush.tipId))
    .where(and(eq(packSet.workspaceId, workspaceId), eq(packSet.packId, packId)))
  const frames = await db
    .selectDistinct({
      tipId: tipFrame.tipId,
      ordinal: tipFrame.ordinal,
      blobSha: tipFrame.blobSha,
      pixelSha: tipFrame.pixelSha,
      width: tipFrame.width,
      height: tipFrame.height,
      name: tipFrame.name,
    })
    .from(packSet)
    .innerJoin(setItem, eq(setItem.setId, packSet.setId))
    .innerJoin(brush, eq(brush.id, setItem.brushId))
    .innerJoin(tip, eq(tip.id, brush.tipId))
    .innerJoin(tipFrame, eq(tipFrame.tipId, tip.id))
    .where(and(eq(packSet.workspaceId, workspaceId), eq(packSet.packId, packId)))
    .orderBy(tipFrame.tipId, tipFrame.ordinal)
  const byTip = new Map<string, typeof frames>()
  for (const frame of frames) byTip.set(frame.tipId, [...(byTip.get(frame.tipId) ?? []), frame])
  return rows.map(({ snapshot: { recipe, thumbnail }, ...row }) => ({
    ...row,
    recipe,
    thumbnail,
    frames: byTip.get(row.tipId) ?? [],
  }))
}
