import type { KnownFile, LookPlan } from '@satchel/core/followed/look'
import type { DayCounts } from '@satchel/core/followed/told'
import type { Follower } from '@satchel/core/forms/followed'
import { and, asc, count, eq, isNotNull, isNull, ne, or, sql } from 'drizzle-orm'
import type { Db } from './database.ts'
import { inParts, isAnyOf } from './many.ts'
import {
  type ActDone,
  brush,
  followedDay,
  followedFile,
  followedFolder,
  followedPart,
  gather,
  gatherFile,
  libraryAct,
} from './schema/all.ts'

export type FollowedFolder = typeof followedFolder.$inferSelect
export type FollowedFile = typeof followedFile.$inferSelect
export type FollowedPart = typeof followedPart.$inferSelect

type NewFolder = { userId: string; name: string; by: Follower; zone: string; place?: string | undefined }

/** A folder that somebody follows: the one at that place that they follow already, or a new one. */
export async function followFolder(
  db: Db,
  workspaceId: string,
  wish: NewFolder,
): Promise<{ id: string; isNew: boolean }> {
  const { userId, by, name, zone, place } = wish
  const [row] = await db
    .insert(followedFolder)
    .values({ workspaceId, userId, by, name, zone, ...(place ? { place } : {}) })
    .onConflictDoUpdate({
      target: [followedFolder.workspaceId, followedFolder.userId, followedFolder.by, followedFolder.place],
      set: { name, zone },
    })
    .returning({ id: followedFolder.id, isNew: sql<boolean>`xmax = 0` })
  if (!row) throw new Error(`${by} of ${userId} follows no ${name}`)
  return row
}

export async function countFollowed(db: Db, workspaceId: string): Promise<number> {
  const [row] = await db.select({ n: count() }).from(followedFolder).where(eq(followedFolder.workspaceId, workspaceId))
  return row?.n ?? 0
}

export async function findFollowed(db: Db, workspaceId: string, id: string): Promise<FollowedFolder | undefined> {
  const [row] = await db
    .select()
    .from(followedFolder)
    .where(and(eq(followedFolder.workspaceId, workspaceId), eq(followedFolder.id, id)))
  return row
}

/** A folder, held for a change of what is known of it: looks and readings come one after the other. */
export async function holdFollowed(tx: Db, workspaceId: string, id: string): Promise<FollowedFolder | undefined> {
  const [row] = await tx
    .select()
    .from(followedFolder)
    .where(and(eq(followedFolder.workspaceId, workspaceId), eq(followedFolder.id, id)))
    .for('update')
  return row
}

/** Follows a folder no more. @returns Its name; undefined where it is not there. */
export async function deleteFollowed(db: Db, workspaceId: string, id: string): Promise<string | undefined> {
  const [row] = await db
    .delete(followedFolder)
    .where(and(eq(followedFolder.workspaceId, workspaceId), eq(followedFolder.id, id)))
    .returning({ name: followedFolder.name })
  return row?.name
}

const inFolder = (workspaceId: string, folderId: string) =>
  and(eq(followedFile.workspaceId, workspaceId), eq(followedFile.folderId, folderId))

export async function listKnownFiles(db: Db, workspaceId: string, folderId: string): Promise<KnownFile[]> {
  const rows = await db
    .select({
      id: followedFile.id,
      path: followedFile.path,
      sha256: followedFile.seenSha,
      goneAt: followedFile.goneAt,
    })
    .from(followedFile)
    .where(inFolder(workspaceId, folderId))
    .orderBy(asc(followedFile.path), asc(followedFile.id))
  return rows.map(({ goneAt, ...row }) => ({ ...row, isGone: goneAt !== null }))
}

/** Rows of ids with what becomes of each, as one parameter. */
const asRows = (rows: readonly object[]) => sql`jsonb_to_recordset(${JSON.stringify(rows)}::jsonb)`

/**
 * Notes what a look came to. @returns How many files went by another name, and how many more are gone of those that brushes came out of: fewer
 * than none where some are back.
 */
export async function noteLook(
  tx: Db,
  workspaceId: string,
  folderId: string,
  plan: LookPlan,
): Promise<Pick<DayCounts, 'renamed' | 'gone'>> {
  const here = sql`${followedFile.workspaceId} = ${workspaceId} and ${followedFile.folderId} = ${folderId}`
  const gone = await tx
    .update(followedFile)
    .set({ goneAt: sql`now()` })
    .where(and(here, isAnyOf(followedFile.id, plan.gone), isNull(followedFile.goneAt)))
    .returning({ id: followedFile.id })
  const back = await tx
    .select({ id: followedFile.id })
    .from(followedFile)
    .where(
      and(
        here,
        isAnyOf(
          followedFile.id,
          [...plan.moved, ...plan.changed].map(({ id }) => id),
        ),
        isNotNull(followedFile.goneAt),
      ),
    )
  const withBrushes = async (files: readonly { id: string }[]) =>
    new Set((await loadParts(tx, workspaceId, files.map(({ id }) => id))).map(({ fileId }) => fileId)).size // biome-ignore format: one count
  const missed = (await withBrushes(gone)) - (await withBrushes(back))
  // names may change places: each lets go of its own before any takes another
  const was = await tx
    .update(followedFile)
    .set({ goneAt: sql`coalesce(${followedFile.goneAt}, now())` })
    .where(and(here, isAnyOf(followedFile.id, plan.moved.map(({ id }) => id)))) // biome-ignore format: one condition
    .returning({ id: followedFile.id, path: followedFile.path })
  const paths = new Map(was.map(({ id, path }) => [id, path]))
  await tx.execute(sql`update ${followedFile} set path = m.path, gone_at = null
    from ${asRows(plan.moved)} as m(id uuid, path text) where ${here} and ${followedFile.id} = m.id`)
  const changed = plan.changed.map(({ id, file }) => ({ id, sha: file.sha256, size: file.sizeBytes }))
  await tx.execute(sql`update ${followedFile} set seen_sha = c.sha, size_bytes = c.size, gone_at = null
    from ${asRows(changed)} as c(id uuid, sha text, size bigint) where ${here} and ${followedFile.id} = c.id`)
  const fresh = plan.fresh.map(({ path, sha256, sizeBytes }) => ({ workspaceId, folderId, path, seenSha: sha256, sizeBytes })) // biome-ignore format: one row
  for (const some of inParts(followedFile, fresh)) await tx.insert(followedFile).values(some)
  // who is back is asked about no more
  await tx.execute(sql`update ${followedFile} set maybe_id = null where ${here} and maybe_id is not null
    and exists (select 1 from ${followedFile} as back where back.id = ${followedFile}.maybe_id and back.gone_at is null)`)
  // of what nothing came there is nothing to remember
  await tx
    .delete(followedFile)
    .where(
      and(
        here,
        isNotNull(followedFile.goneAt),
        sql`not exists (select 1 from ${followedPart} where ${followedPart.fileId} = ${followedFile.id})`,
        sql`not exists (select 1 from ${gatherFile} where ${gatherFile.followedId} = ${followedFile.id})`,
      ),
    )
  await tx
    .update(followedFolder)
    .set({ lookedAt: sql`now()` })
    .where(and(eq(followedFolder.workspaceId, workspaceId), eq(followedFolder.id, folderId)))
  return {
    renamed: plan.moved.filter(({ id, path }) => paths.get(id) !== path).length,
    gone: missed,
  }
}

/** Files of a folder whose bytes are wanted: they are others than what was read, and none of these is on its way. */
const isWanted = and(
  isNull(followedFile.goneAt),
  or(isNull(followedFile.readSha), ne(followedFile.readSha, followedFile.seenSha)),
  sql`not exists (select 1 from ${gatherFile} join ${gather} on ${gather.id} = ${gatherFile.gatherId}
    where ${gatherFile.followedId} = ${followedFile.id} and ${gatherFile.blobSha} = ${followedFile.seenSha}
      and ${gather.folderId} is not null)`,
)

export const listWanted = async (db: Db, workspaceId: string, folderId: string): Promise<string[]> =>
  (
    await db
      .select({ path: followedFile.path })
      .from(followedFile)
      .where(and(inFolder(workspaceId, folderId), isWanted))
      .orderBy(asc(followedFile.path))
  ).map(({ path }) => path)

/** A file whose bytes are wanted just now. */
export async function findWanted(
  db: Db,
  workspaceId: string,
  folderId: string,
  { path, sha256 }: { path: string; sha256: string },
): Promise<{ id: string } | undefined> {
  const isIt = and(eq(followedFile.path, path), eq(followedFile.seenSha, sha256))
  const [row] = await db
    .select({ id: followedFile.id })
    .from(followedFile)
    .where(and(inFolder(workspaceId, folderId), isIt, isWanted))
  return row
}

export const loadFollowedFiles = (db: Db, workspaceId: string, ids: readonly string[]): Promise<FollowedFile[]> =>
  db
    .select()
    .from(followedFile)
    .where(and(eq(followedFile.workspaceId, workspaceId), isAnyOf(followedFile.id, ids)))

export const loadParts = (db: Db, workspaceId: string, fileIds: readonly string[]): Promise<FollowedPart[]> =>
  db
    .select()
    .from(followedPart)
    .where(and(eq(followedPart.workspaceId, workspaceId), isAnyOf(followedPart.fileId, fileIds)))

/** Parts of files that are gone, whose brushes are in the library: a new file may be one of them. */
export const listGoneParts = (db: Db, workspaceId: string, folderId: string) =>
  db
    .select({ id: followedPart.id, fileId: followedFile.id, path: followedFile.path, part: followedPart.part, brushId: followedPart.brushId, pixelKey: followedPart.pixelKey }) // biome-ignore format: one row
    .from(followedPart)
    .innerJoin(followedFile, eq(followedFile.id, followedPart.fileId))
    .innerJoin(brush, eq(brush.id, followedPart.brushId))
    .where(and(inFolder(workspaceId, folderId), isNotNull(followedFile.goneAt), isNull(brush.deletedAt)))
    .orderBy(asc(followedFile.path), asc(followedPart.part))

export type NewPart = Omit<typeof followedPart.$inferInsert, 'id' | 'workspaceId'>

/** Notes which brushes files give their pixels to; what stood in the same place of a file before is that no more. */
export async function noteParts(db: Db, workspaceId: string, parts: readonly NewPart[]): Promise<void> {
  const rows = parts.map((part) => ({ workspaceId, ...part }))
  for (const some of inParts(followedPart, rows))
    await db
      .insert(followedPart)
      .values(some)
      .onConflictDoUpdate({
        target: [followedPart.fileId, followedPart.part],
        set: {
          brushId: sql`excluded.brush_id`,
          pixelKey: sql`excluded.pixel_key`,
          reading: sql`excluded.reading`,
        },
      })
}

/** What a file was read as; nothing is asked about it any more, but for the file that it may be. */
export async function noteRead(
  db: Db,
  workspaceId: string,
  id: string,
  { readSha, reason, maybeId }: { readSha: string; reason: string; maybeId: string | null },
): Promise<void> {
  await db
    .update(followedFile)
    .set({ readSha, reason, maybeId })
    .where(and(eq(followedFile.workspaceId, workspaceId), eq(followedFile.id, id)))
}

/** A file is what another one was: it has that one's brushes, and the other is no more. */
export async function takeOverParts(db: Db, workspaceId: string, from: string, to: string): Promise<void> {
  const of = (id: string) => and(eq(followedPart.workspaceId, workspaceId), eq(followedPart.fileId, id))
  await db.delete(followedPart).where(of(to))
  await db.update(followedPart).set({ fileId: to }).where(of(from))
  await db.delete(followedFile).where(and(eq(followedFile.workspaceId, workspaceId), eq(followedFile.id, from)))
  await db
    .update(followedFile)
    .set({ maybeId: null })
    .where(and(eq(followedFile.workspaceId, workspaceId), or(eq(followedFile.id, to), eq(followedFile.maybeId, from))))
}

/** That a file is not the one it was asked about. @returns Whether that was asked. */
export async function denyMaybe(db: Db, workspaceId: string, folderId: string, fileId: string): Promise<boolean> {
  const rows = await db
    .update(followedFile)
    .set({ maybeId: null })
    .where(and(inFolder(workspaceId, folderId), eq(followedFile.id, fileId), isNotNull(followedFile.maybeId)))
    .returning({ id: followedFile.id })
  return rows.length > 0
}

/** Nothing is asked any more of files that were taken in as new ones. */
export const denyAll = (db: Db, workspaceId: string, fileIds: readonly string[]) =>
  db
    .update(followedFile)
    .set({ maybeId: null })
    .where(and(eq(followedFile.workspaceId, workspaceId), isAnyOf(followedFile.id, fileIds)))

/** Adds to what a day has brought; what turns out to be something else is taken off. */
export async function addToDay(
  tx: Db,
  workspaceId: string,
  { folderId, day }: { folderId: string; day: string },
  counts: Partial<DayCounts>,
): Promise<void> {
  const some = Object.entries(counts).filter(([, n]) => n !== 0) as [keyof DayCounts, number][]
  if (some.length === 0) return
  await tx
    .insert(followedDay)
    .values({ workspaceId, folderId, day, ...Object.fromEntries(some.map(([kind, n]) => [kind, Math.max(0, n)])) })
    .onConflictDoUpdate({
      target: [followedDay.folderId, followedDay.day],
      set: Object.fromEntries(some.map(([kind, n]) => [kind, sql`greatest(0, ${followedDay[kind]} + ${n})`])),
    })
}

const isDay = (workspaceId: string, folderId: string, day: string) =>
  and(eq(followedDay.workspaceId, workspaceId), eq(followedDay.folderId, folderId), eq(followedDay.day, day))

/** The act of a day that was not taken back, with what it has changed. */
export async function findDayAct(tx: Db, workspaceId: string, { folderId, day }: { folderId: string; day: string }) {
  const [row] = await tx
    .select({ id: libraryAct.id, done: libraryAct.done })
    .from(followedDay)
    .innerJoin(libraryAct, eq(libraryAct.id, followedDay.actId))
    .where(and(isDay(workspaceId, folderId, day), eq(libraryAct.workspaceId, workspaceId), isNull(libraryAct.undoneAt)))
    .for('update', { of: libraryAct })
  return row
}

export const changeAct = (tx: Db, workspaceId: string, id: string, to: { said: string; done: ActDone }) =>
  tx
    .update(libraryAct)
    .set(to)
    .where(and(eq(libraryAct.workspaceId, workspaceId), eq(libraryAct.id, id)))

/** Notes by which act what a day has brought is taken back; the day has a line then, whatever else came of it. */
export const setDayAct = (
  tx: Db,
  workspaceId: string,
  { folderId, day }: { folderId: string; day: string },
  actId: string, // biome-ignore format: one line
) =>
  tx
    .insert(followedDay)
    .values({ workspaceId, folderId, day, actId })
    .onConflictDoUpdate({ target: [followedDay.folderId, followedDay.day], set: { actId } })

/** How far a folder's files are read, and what its days brought so far. */
export async function findFollowing(db: Db, workspaceId: string, folderId: string, day: string) {
  const reading = await db
    .select({ n: sql<number>`count(*)`.mapWith(Number) })
    .from(gatherFile)
    .innerJoin(gather, eq(gather.id, gatherFile.gatherId))
    .where(and(eq(gather.workspaceId, workspaceId), eq(gather.folderId, folderId), eq(gather.state, 'open')))
  // asked afterwards: where nothing is read any more, all that came of it is in there
  const [counts] = await db
    .select()
    .from(followedDay)
    .where(isDay(workspaceId, folderId, day))
  return { counts, reading: reading[0]?.n ?? 0 }
}
