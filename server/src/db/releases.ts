import type { FileSha } from '@satchel/core/hashes'
import { and, desc, eq, isNull, ne, type SQL, sql } from 'drizzle-orm'
import { isCurrent } from './brushes.ts'
import type { Db } from './database.ts'
import { idsInPack } from './pack-brushes.ts'
import { brush, brushVersion, release, tip, tipFrame } from './schema/all.ts'

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

/** A release with its manifest as the text it is stored as: whoever reads it brings it up to date. */
export async function findReleaseText(db: Db, workspaceId: string, id: string) {
  const [row] = await db
    .select({
      packId: release.packId,
      manifestText: sql<string>`${release.manifest}::text`,
      licenceText: release.licenceText,
      brushes: release.brushes,
    })
    .from(release)
    .where(and(eq(release.workspaceId, workspaceId), eq(release.id, id)))
  return row
}

/** The newest release of a pack that can be had: one that is built, and was not taken back. */
export async function findNewestRelease(db: Db, workspaceId: string, packId: string): Promise<Release | undefined> {
  const [row] = await db
    .select()
    .from(release)
    .where(
      and(
        eq(release.workspaceId, workspaceId),
        eq(release.packId, packId),
        eq(release.state, 'ready'),
        isNull(release.recalledAt),
      ),
    )
    .orderBy(desc(release.createdAt))
    .limit(1)
  return row
}

/**
 * Takes a release back, for good.
 * @returns Whether it was there, and not taken back before.
 */
export async function recallRelease(db: Db, workspaceId: string, id: string, reason: string): Promise<boolean> {
  const rows = await db
    .update(release)
    .set({ recalledAt: new Date(), recallReason: reason })
    .where(and(eq(release.workspaceId, workspaceId), eq(release.id, id), isNull(release.recalledAt)))
    .returning({ id: release.id })
  return rows.length > 0
}

/** A download as it is stored, and what lies where in it. */
export type StoredDownload = { zipSha: FileSha; zipBytes: number; zipFiles: number; contentsSha: FileSha }
/** How far a download is. */
export type DownloadEnd = ({ state: 'ready' } & StoredDownload) | { state: 'failed' | 'building' }

/** Says how far a release is. One that is ready stays so, whatever a server says that was silent for too long. */
export async function setReleaseState(db: Db, workspaceId: string, id: string, end: DownloadEnd): Promise<void> {
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
      recalledAt: release.recalledAt,
      recallReason: release.recallReason,
      letPass: release.letPass,
      createdAt: release.createdAt,
      brushes: sql<number>`jsonb_array_length(${release.brushes})`.mapWith(Number),
    })
    .from(release)
    .where(and(eq(release.workspaceId, workspaceId), eq(release.packId, packId)))
    .orderBy(desc(release.createdAt))
}

/** Everything of a pack's brushes that a release freezes, once a brush, with its frames in order. */
export const loadPackBrushes = (db: Db, workspaceId: string, packId: string) =>
  loadBrushes(db, workspaceId, idsInPack(workspaceId, packId))

/**
 * The same of any brushes of a workspace.
 * @param ids A query in brackets that gives their ids.
 */
export async function loadBrushes(db: Db, workspaceId: string, ids: SQL) {
  const inPack = and(eq(brush.workspaceId, workspaceId), isNull(brush.deletedAt), sql`${brush.id} in ${ids}`)
  const rows = await db
    .select({
      id: brush.id,
      name: brush.name,
      maker: brush.maker,
      licence: brush.licence,
      tags: brush.tags,
      version: brush.version,
      snapshot: brushVersion.snapshot,
      tipId: brush.tipId,
      fileKeys: tip.fileKeys,
    })
    .from(brush)
    .innerJoin(brushVersion, isCurrent)
    .innerJoin(tip, eq(tip.id, brush.tipId))
    .where(inPack)
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
    .from(brush)
    .innerJoin(tipFrame, eq(tipFrame.tipId, brush.tipId))
    .where(inPack)
    .orderBy(tipFrame.tipId, tipFrame.ordinal)
  const byTip = new Map<string, typeof frames>()
  for (const frame of frames) {
    const known = byTip.get(frame.tipId)
    if (known) known.push(frame)
    else byTip.set(frame.tipId, [frame])
  }
  return rows.map(({ snapshot: { recipe, thumbnail }, ...row }) => ({
    ...row,
    recipe,
    thumbnail,
    frames: byTip.get(row.tipId) ?? [],
  }))
}
export type LoadedBrush = Awaited<ReturnType<typeof loadPackBrushes>>[number]
