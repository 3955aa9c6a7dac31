import type { FileSha } from '@satchel/core/hashes'
import { and, asc, count, desc, eq, isNull, ne, sql } from 'drizzle-orm'
import type { Db } from './database.ts'
import { scalar } from './scalar.ts'
import {
  brush,
  brushVersion,
  delivery,
  handOut,
  pack,
  packSet,
  rackSet,
  release,
  setItem,
  tip,
  tipFrame,
} from './schema/all.ts'

export type Pack = typeof pack.$inferSelect
export type Release = typeof release.$inferSelect
export type HandOut = typeof handOut.$inferSelect

/** Every pack with its number of brushes, latest release and hand-outs that are out. */
export async function listPacks(db: Db, workspaceId: string) {
  return db
    .select({
      id: pack.id,
      title: pack.title,
      maker: pack.maker,
      licence: pack.licence,
      coverBrushId: pack.coverBrushId,
      sets: scalar(sql`select count(*) from ${packSet} join ${rackSet} on ${rackSet.id} = ${packSet.setId}
        where ${packSet.packId} = ${pack.id} and ${rackSet.deletedAt} is null`).mapWith(Number),
      brushes: scalar(sql`select count(distinct ${setItem.brushId}) from ${packSet}
        join ${setItem} on ${setItem.setId} = ${packSet.setId} join ${brush} on ${brush.id} = ${setItem.brushId}
        join ${rackSet} on ${rackSet.id} = ${packSet.setId}
        where ${packSet.packId} = ${pack.id} and ${brush.deletedAt} is null and ${rackSet.deletedAt} is null`).mapWith(
        Number,
      ),
      latest: scalar<string | null>(sql`select ${release.version} from ${release}
        where ${release.packId} = ${pack.id} order by ${release.createdAt} desc limit 1`),
      out: scalar(sql`select count(*) from ${handOut} join ${release} on ${release.id} = ${handOut.releaseId}
        where ${release.packId} = ${pack.id} and ${isOut}`).mapWith(Number),
    })
    .from(pack)
    .where(and(eq(pack.workspaceId, workspaceId), isNull(pack.deletedAt)))
    .orderBy(sql`lower(${pack.title})`, asc(pack.id))
}

/** A hand-out whose link still works. */
export const isOut = sql`(${handOut.withdrawnAt} is null and (${handOut.endsAt} is null or ${handOut.endsAt} > now())
  and (${handOut.downloadLimit} is null or ${handOut.downloads} < ${handOut.downloadLimit}))`

export async function countOut(db: Db, workspaceId: string): Promise<number> {
  const [row] = await db
    .select({ n: count() })
    .from(handOut)
    .where(and(eq(handOut.workspaceId, workspaceId), isOut))
  return row?.n ?? 0
}

export async function findPack(db: Db, workspaceId: string, id: string): Promise<Pack | undefined> {
  const [row] = await db
    .select()
    .from(pack)
    .where(and(eq(pack.workspaceId, workspaceId), eq(pack.id, id), isNull(pack.deletedAt)))
  return row
}

export async function createPack(
  db: Db,
  workspaceId: string,
  values: { title: string; maker: string; licence: string },
): Promise<Pack> {
  const [row] = await db
    .insert(pack)
    .values({ workspaceId, ...values })
    .returning()
  if (!row) throw new Error('insert gave no row')
  return row
}

type Changed = 'title' | 'maker' | 'licence' | 'licenceText' | 'help' | 'coverBrushId' | 'deletedAt'
export type PackChange = { [Key in Changed]?: Pack[Key] | undefined }

/** @param was What some of it was when the change was made: where that is another by now, nothing is changed. */
export async function updatePack(
  db: Db,
  workspaceId: string,
  id: string,
  change: PackChange,
  was: { [Key in PackText]?: string | undefined } = {},
): Promise<Pack | undefined> {
  const asItWas = (Object.entries(was) as [PackText, string | undefined][]).flatMap(([key, text]) =>
    text === undefined ? [] : [eq(pack[key], text)],
  )
  const [row] = await db
    .update(pack)
    .set(change)
    .where(and(eq(pack.workspaceId, workspaceId), eq(pack.id, id), ...asItWas))
    .returning()
  return row
}

/** What of a pack is written by hand. */
type PackText = 'title' | 'maker' | 'licence' | 'licenceText' | 'help'

/** The sets a pack is made of, in the pack's order. */
export async function listPackSets(db: Db, workspaceId: string, packId: string) {
  return db
    .select({ id: rackSet.id, name: rackSet.name })
    .from(packSet)
    .innerJoin(rackSet, eq(rackSet.id, packSet.setId))
    .where(and(eq(packSet.workspaceId, workspaceId), eq(packSet.packId, packId), isNull(rackSet.deletedAt)))
    .orderBy(packSet.ordinal)
}

/**
 * Chooses a pack's sets anew; sets of another workspace are passed over.
 * @param was Which they were when they were chosen.
 * @returns Whether they were those still; otherwise nothing is changed.
 */
export async function setPackSets(
  db: Db,
  workspaceId: string,
  packId: string,
  { setIds, was }: { setIds: readonly string[]; was?: readonly string[] | undefined },
): Promise<boolean> {
  return db.transaction(async (tx) => {
    // two who choose at once take turns
    await tx
      .select({ id: pack.id })
      .from(pack)
      .where(and(eq(pack.workspaceId, workspaceId), eq(pack.id, packId)))
      .for('update')
    const now = new Set((await listPackSets(tx, workspaceId, packId)).map(({ id }) => id))
    if (was && (was.length !== now.size || !was.every((id) => now.has(id)))) return false
    await tx.delete(packSet).where(and(eq(packSet.workspaceId, workspaceId), eq(packSet.packId, packId)))
    const owned = await tx.select({ id: rackSet.id }).from(rackSet).where(eq(rackSet.workspaceId, workspaceId))
    const ours = new Set(owned.map((set) => set.id))
    const rows = setIds.filter((id) => ours.has(id)).map((setId, ordinal) => ({ workspaceId, packId, setId, ordinal }))
    if (rows.length > 0) await tx.insert(packSet).values(rows)
    return true
  })
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

/** A pack's hand-outs, newest first, with the version each gives. */
export async function listHandOuts(db: Db, workspaceId: string, packId: string) {
  return db
    .select({
      id: handOut.id,
      name: handOut.name,
      endsAt: handOut.endsAt,
      downloadLimit: handOut.downloadLimit,
      downloads: handOut.downloads,
      withdrawnAt: handOut.withdrawnAt,
      createdAt: handOut.createdAt,
      version: release.version,
      lastAt: sql<
        string | null
      >`(select max(${delivery.at}) from ${delivery} where ${delivery.handOutId} = ${handOut.id} and ${delivery.state} = 'sent')`,
    })
    .from(handOut)
    .innerJoin(release, eq(release.id, handOut.releaseId))
    .where(and(eq(handOut.workspaceId, workspaceId), eq(release.packId, packId)))
    .orderBy(desc(handOut.createdAt))
}

export async function insertHandOut(db: Db, values: typeof handOut.$inferInsert): Promise<HandOut> {
  const [row] = await db.insert(handOut).values(values).returning()
  if (!row) throw new Error('insert gave no row')
  return row
}

export async function updateHandOut(
  db: Db,
  workspaceId: string,
  id: string,
  change: { withdrawnAt?: Date | null; tokenHash?: string },
): Promise<HandOut | undefined> {
  const [row] = await db
    .update(handOut)
    .set(change)
    .where(and(eq(handOut.workspaceId, workspaceId), eq(handOut.id, id)))
    .returning()
  return row
}

/**
 * The hand-out behind a link, whatever its state, with its release. The link's hash is the key; it leads to exactly
 * one workspace, whose id comes with the row and bounds every further query.
 */
export async function findHandOutByToken(db: Db, tokenHash: string) {
  const [row] = await db
    .select({ handOut, release })
    .from(handOut)
    .innerJoin(release, eq(release.id, handOut.releaseId))
    .where(eq(handOut.tokenHash, tokenHash))
  return row
}
