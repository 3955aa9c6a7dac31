import type { FileSha } from '@satchel/core/hashes'
import { and, asc, count, eq, isNull } from 'drizzle-orm'
import type { Db } from './database.ts'
import { isAnyOf } from './many.ts'
import { filesOf } from './picture-owners.ts'
import { gather, gatherFile, gatherLine } from './schema/all.ts'
import type { TakenRows } from './schema/gather.ts'
import { forgetUpload, forgetUploads } from './uploads.ts'

export type GatherLine = typeof gatherLine.$inferSelect
export type NewGatherLine = typeof gatherLine.$inferInsert
export type GatherFile = typeof gatherFile.$inferSelect
export type Outcome = GatherLine['outcome']

/** The open gather of a workspace, if there is one. */
export async function findOpenGather(db: Db, workspaceId: string) {
  const [row] = await db
    .select()
    .from(gather)
    .where(and(eq(gather.workspaceId, workspaceId), eq(gather.state, 'open'), isNull(gather.folderId)))
    .orderBy(asc(gather.createdAt))
    .limit(1)
  return row
}

export async function findGather(db: Db, workspaceId: string, id: string) {
  const [row] = await db
    .select()
    .from(gather)
    .where(and(eq(gather.workspaceId, workspaceId), eq(gather.id, id)))
  return row
}

/** The open gather of a workspace, made where there is none; whoever asks at the same moment gets the same one. */
export async function openGather(db: Db, workspaceId: string): Promise<typeof gather.$inferSelect> {
  const found = await findOpenGather(db, workspaceId)
  if (found) return found
  const [made] = await db.insert(gather).values({ workspaceId }).onConflictDoNothing().returning()
  return made ?? openGather(db, workspaceId)
}

/** The gather that files of a followed folder are read by. */
export async function openFolderGather(db: Db, workspaceId: string, folderId: string): Promise<{ id: string }> {
  const find = () =>
    db
      .select({ id: gather.id })
      .from(gather)
      .where(and(eq(gather.workspaceId, workspaceId), eq(gather.folderId, folderId), eq(gather.state, 'open')))
  const [found] = await find()
  if (found) return found
  const [made] = await db
    .insert(gather)
    .values({ workspaceId, folderId })
    .onConflictDoNothing()
    .returning({ id: gather.id })
  return made ?? openFolderGather(db, workspaceId, folderId)
}

/** Ends an open gather. @returns Whether it was still open: only one caller gets true. */
export async function endGather(
  db: Db,
  workspaceId: string,
  id: string,
  state: 'taken' | 'cancelled',
): Promise<boolean> {
  const ended = await db
    .update(gather)
    .set({ state, endedAt: new Date() })
    .where(and(eq(gather.workspaceId, workspaceId), eq(gather.id, id), eq(gather.state, 'open')))
    .returning({ id: gather.id })
  return ended.length > 0
}

/** Notes what taking a ledger in added. */
export async function noteTaken(db: Db, workspaceId: string, id: string, added: TakenRows): Promise<void> {
  await db
    .update(gather)
    .set({ added })
    .where(and(eq(gather.workspaceId, workspaceId), eq(gather.id, id)))
}

/** Forgets what taking in added. @returns What it was, to one caller only. */
export async function forgetTaken(db: Db, workspaceId: string, id: string): Promise<TakenRows | undefined> {
  const [row] = await db
    .select({ added: gather.added })
    .from(gather)
    .where(and(eq(gather.workspaceId, workspaceId), eq(gather.id, id)))
    .for('update')
  if (!row?.added) return undefined
  await db
    .update(gather)
    .set({ added: null })
    .where(and(eq(gather.workspaceId, workspaceId), eq(gather.id, id)))
  return row.added
}

/**
 * Adds an uploaded file to a gather that is still open; one that came in pieces is no upload any more, and keeps its id.
 * @returns The file, or undefined when the gather was closed meanwhile.
 */
export async function addGatherFile(db: Db, file: typeof gatherFile.$inferInsert): Promise<GatherFile | undefined> {
  return db.transaction(async (tx) => {
    const [open] = await tx
      .select({ id: gather.id })
      .from(gather)
      .where(and(eq(gather.workspaceId, file.workspaceId), eq(gather.id, file.gatherId), eq(gather.state, 'open')))
      .for('share')
    if (!open) return undefined
    if (file.id) await forgetUpload(tx, file.workspaceId, file.gatherId, file.id)
    const [row] = await tx.insert(gatherFile).values(file).onConflictDoNothing().returning()
    return row ?? (file.id ? findGatherFile(tx, file.workspaceId, file.gatherId, file.id) : undefined)
  })
}

export async function findGatherFile(
  db: Db,
  workspaceId: string,
  gatherId: string,
  id: string,
): Promise<GatherFile | undefined> {
  const [row] = await db
    .select()
    .from(gatherFile)
    .where(and(eq(gatherFile.workspaceId, workspaceId), eq(gatherFile.gatherId, gatherId), eq(gatherFile.id, id)))
  return row
}

/** After a server died in the middle: files it was reading wait again, and what it had written of them goes. */
export async function resetHalfReadFiles(db: Db, workspaceId: string, gatherId: string): Promise<void> {
  const half = await db
    .update(gatherFile)
    .set({ state: 'waiting', attempt: null })
    .where(
      and(eq(gatherFile.workspaceId, workspaceId), eq(gatherFile.gatherId, gatherId), eq(gatherFile.state, 'reading')),
    )
    .returning({ id: gatherFile.id })
  const ids = half.map((file) => file.id)
  if (ids.length > 0)
    await db.delete(gatherLine).where(and(eq(gatherLine.workspaceId, workspaceId), isAnyOf(gatherLine.fileId, ids)))
}

/** Takes the next waiting file for an attempt of the reading job; two readers never get the same one. */
export async function claimGatherFile(
  db: Db,
  { workspaceId, gatherId, attempt }: { workspaceId: string; gatherId: string; attempt: number },
): Promise<GatherFile | undefined> {
  const next = db
    .select({ id: gatherFile.id })
    .from(gatherFile)
    .where(
      and(eq(gatherFile.workspaceId, workspaceId), eq(gatherFile.gatherId, gatherId), eq(gatherFile.state, 'waiting')),
    )
    .orderBy(asc(gatherFile.createdAt), asc(gatherFile.id))
    .limit(1)
    .for('update', { skipLocked: true })
  const [row] = await db
    .update(gatherFile)
    .set({ state: 'reading', attempt })
    .where(eq(gatherFile.id, next))
    .returning()
  return row
}

const isReadBy = ({ workspaceId, id, attempt }: GatherFile) =>
  and(
    eq(gatherFile.workspaceId, workspaceId),
    eq(gatherFile.id, id),
    eq(gatherFile.state, 'reading'),
    attempt === null ? isNull(gatherFile.attempt) : eq(gatherFile.attempt, attempt),
  )

/** Marks a file as read. */
export async function finishGatherFile(db: Db, file: GatherFile): Promise<void> {
  await db.update(gatherFile).set({ state: 'read' }).where(isReadBy(file))
}

/**
 * Holds a file for the rest of a transaction that adds lines of it. @returns Whether it is still read by this attempt: a
 * server that was silent for too long finds that another one has taken it up.
 */
export async function holdGatherFile(db: Db, file: GatherFile): Promise<boolean> {
  const held = await db.select({ id: gatherFile.id }).from(gatherFile).where(isReadBy(file)).for('share')
  return held.length > 0
}

export async function countGatherFiles(db: Db, workspaceId: string, gatherId: string) {
  const rows = await db
    .select({ state: gatherFile.state, n: count() })
    .from(gatherFile)
    .where(and(eq(gatherFile.workspaceId, workspaceId), eq(gatherFile.gatherId, gatherId)))
    .groupBy(gatherFile.state)
  const of = (state: GatherFile['state']) => rows.find((row) => row.state === state)?.n ?? 0
  const read = of('read')
  return { total: read + of('waiting') + of('reading'), read }
}

/** Removes all that a gather holds. @returns The names of the blobs that may now be nobody's. */
export async function clearGather(db: Db, workspaceId: string, gatherId: string): Promise<FileSha[]> {
  // Waits for lines that are being written just now, and keeps new ones out: what they hold must be seen here too.
  await db
    .select({ id: gatherFile.id })
    .from(gatherFile)
    .where(and(eq(gatherFile.workspaceId, workspaceId), eq(gatherFile.gatherId, gatherId)))
    .for('update')
  const lines = await db
    .delete(gatherLine)
    .where(and(eq(gatherLine.workspaceId, workspaceId), eq(gatherLine.gatherId, gatherId)))
    .returning()
  await forgetUploads(db, workspaceId, gatherId)
  const files = await db
    .delete(gatherFile)
    .where(and(eq(gatherFile.workspaceId, workspaceId), eq(gatherFile.gatherId, gatherId)))
    .returning()
  return [...new Set([...filesOf('gatherFile', files), ...filesOf('gatherLine', lines)])]
}
