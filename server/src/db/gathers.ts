import type { PictureUse } from '@satchel/core/grain/picture-use'
import type { FileSha } from '@satchel/core/hashes'
import { and, asc, count, eq, isNull, ne, sql } from 'drizzle-orm'
import type { Db } from './database.ts'
import { inParts, isAnyOf } from './many.ts'
import { filesOf } from './picture-owners.ts'
import { brush, gather, gatherFile, gatherLine, tip, tipFrame } from './schema/all.ts'
import type { Duplicate, TakenRows } from './schema/gather.ts'
import type { StoredFrame } from './schema/library.ts'

export type GatherLine = typeof gatherLine.$inferSelect
export type NewGatherLine = typeof gatherLine.$inferInsert
export type GatherFile = typeof gatherFile.$inferSelect
export type Outcome = GatherLine['outcome']

/** The open gather of a workspace, if there is one. */
export async function findOpenGather(db: Db, workspaceId: string) {
  const [row] = await db
    .select()
    .from(gather)
    .where(and(eq(gather.workspaceId, workspaceId), eq(gather.state, 'open')))
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

/** Adds an uploaded file to a gather that is still open. @returns The file, or undefined when it was closed meanwhile. */
export async function addGatherFile(db: Db, file: typeof gatherFile.$inferInsert): Promise<GatherFile | undefined> {
  return db.transaction(async (tx) => {
    const [open] = await tx
      .select({ id: gather.id })
      .from(gather)
      .where(and(eq(gather.workspaceId, file.workspaceId), eq(gather.id, file.gatherId), eq(gather.state, 'open')))
      .for('share')
    if (!open) return undefined
    const [row] = await tx.insert(gatherFile).values(file).returning()
    return row
  })
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

export async function addGatherLines(db: Db, lines: NewGatherLine[]): Promise<void> {
  for (const some of inParts(gatherLine, lines)) await db.insert(gatherLine).values(some)
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

/** The ledger's lines in the order they are shown: by folder, then path. */
export async function listGatherLines(db: Db, workspaceId: string, gatherId: string) {
  return db
    .select({
      id: gatherLine.id,
      folder: gatherLine.folder,
      path: gatherLine.path,
      name: gatherLine.name,
      kind: gatherLine.kind,
      outcome: gatherLine.outcome,
      reason: gatherLine.reason,
      width: gatherLine.width,
      height: gatherLine.height,
      frames: sql<number>`jsonb_array_length(${gatherLine.frames})`.mapWith(Number),
      picture: sql<string | null>`${gatherLine.frames} -> 0 ->> 'blobSha'`,
      reading: sql<string | null>`${gatherLine.brush} -> 'recipe' -> 'colour' ->> 'reading'`,
      shrunk: sql<boolean>`${gatherLine.fullFrames} is not null`,
      setName: gatherLine.setName,
      use: gatherLine.use,
      seamAcross: gatherLine.seamAcross,
      seamDown: gatherLine.seamDown,
      grainName: sql<string | null>`${gatherLine.grain} ->> 'name'`,
      duplicate: gatherLine.duplicate,
    })
    .from(gatherLine)
    .where(and(eq(gatherLine.workspaceId, workspaceId), eq(gatherLine.gatherId, gatherId)))
    .orderBy(sql`${gatherLine.folder} collate "C"`, sql`${gatherLine.path} collate "C"`, asc(gatherLine.ordinal))
}

/** Whole lines, for taking in and for smaller copies. */
export async function loadGatherLines(
  db: Db,
  workspaceId: string,
  gatherId: string,
  ids?: string[],
): Promise<GatherLine[]> {
  return db
    .select()
    .from(gatherLine)
    .where(
      and(
        eq(gatherLine.workspaceId, workspaceId),
        eq(gatherLine.gatherId, gatherId),
        ids ? isAnyOf(gatherLine.id, ids) : undefined,
      ),
    )
    .orderBy(sql`${gatherLine.folder} collate "C"`, sql`${gatherLine.path} collate "C"`, asc(gatherLine.ordinal))
}

/** The curator's decision on lines that hold a brush. @returns How many changed. */
export async function decideGatherLines(
  db: Db,
  where: { workspaceId: string; gatherId: string; ids: string[] },
  change: {
    outcome?: 'take' | 'skip' | undefined
    setName?: string | undefined
    name?: string | undefined
    use?: PictureUse | undefined
  },
): Promise<number> {
  const rows = await db
    .update(gatherLine)
    .set({ ...change, ...(change.outcome ? { decided: true } : {}) })
    .where(
      and(
        eq(gatherLine.workspaceId, where.workspaceId),
        eq(gatherLine.gatherId, where.gatherId),
        isAnyOf(gatherLine.id, where.ids),
        sql`jsonb_array_length(${gatherLine.frames}) > 0`,
        ne(gatherLine.outcome, 'refuse'),
      ),
    )
    .returning({ id: gatherLine.id })
  return rows.length
}

/**
 * Puts other frames in the place of a line's own: a smaller copy, with `fullFrames` kept for later, or the full ones.
 * @returns Whether the line was still there; it is locked until the transaction ends.
 */
export async function setLineFrames(
  db: Db,
  line: { workspaceId: string; id: string },
  change: { frames: StoredFrame[]; fullFrames: StoredFrame[] | null; pixelKey: string },
): Promise<boolean> {
  const [first] = change.frames
  const changed = await db
    .update(gatherLine)
    .set({ ...change, width: first?.width ?? 0, height: first?.height ?? 0 })
    .where(and(eq(gatherLine.workspaceId, line.workspaceId), eq(gatherLine.id, line.id)))
    .returning({ id: gatherLine.id })
  return changed.length > 0
}

/** What is found of a line: of which one it is a copy, and what follows where the curator has not decided. */
export type FoundDuplicate = { id: string; duplicate: Duplicate | null; outcome: Outcome | null }

/** Notes the duplicates of many lines in one statement. */
export async function setLineDuplicates(db: Db, workspaceId: string, found: readonly FoundDuplicate[]): Promise<void> {
  if (found.length === 0) return
  await db.execute(sql`update ${gatherLine} set duplicate = nullif(found.duplicate, 'null'::jsonb),
      outcome = coalesce(found.outcome, ${gatherLine}.outcome)
    from jsonb_to_recordset(${JSON.stringify(found)}::jsonb) as found(id uuid, duplicate jsonb, outcome text)
    where ${gatherLine.workspaceId} = ${workspaceId} and ${gatherLine.id} = found.id`)
}

/** How many lines of a ledger are to be taken in. */
export async function countTaken(db: Db, workspaceId: string, gatherId: string): Promise<number> {
  const [row] = await db
    .select({ n: count() })
    .from(gatherLine)
    .where(
      and(eq(gatherLine.workspaceId, workspaceId), eq(gatherLine.gatherId, gatherId), eq(gatherLine.outcome, 'take')),
    )
  return row?.n ?? 0
}

/** Everything new tips are compared with: the library's tips, each with the name of a brush that uses it. */
export async function listTipHashes(db: Db, workspaceId: string) {
  return db
    .select({
      pixelKey: tip.pixelKey,
      nearBits: tip.nearBits,
      nearSignature: tip.nearSignature,
      name: brush.name,
      reading: brush.reading,
      blobSha: tipFrame.blobSha,
    })
    .from(brush)
    .innerJoin(tip, eq(tip.id, brush.tipId))
    .innerJoin(tipFrame, and(eq(tipFrame.tipId, tip.id), eq(tipFrame.ordinal, 0)))
    .where(and(eq(brush.workspaceId, workspaceId), sql`${brush.deletedAt} is null`, eq(brush.starter, false)))
    .orderBy(asc(brush.createdAt))
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
  const files = await db
    .delete(gatherFile)
    .where(and(eq(gatherFile.workspaceId, workspaceId), eq(gatherFile.gatherId, gatherId)))
    .returning()
  return [...new Set([...filesOf('gatherFile', files), ...filesOf('gatherLine', lines)])]
}
