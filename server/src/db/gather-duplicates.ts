import { MARK_SIZE_BYTES, markArea } from '@satchel/core/alike/mark-bytes'
import type { PaintReading } from '@satchel/core/brush/recipe'
import type { PictureUse } from '@satchel/core/grain/picture-use'
import type { FileSha } from '@satchel/core/hashes'
import { and, asc, eq, isNotNull, isNull, sql } from 'drizzle-orm'
import type { Db } from './database.ts'
import { lineOrder } from './gather-lines.ts'
import type { Outcome } from './gathers.ts'
import { isAnyOf } from './many.ts'
import { brush, gatherLine, tip, tipFrame } from './schema/all.ts'
import type { Duplicate } from './schema/gather.ts'

/** A tip as it is compared with others. Its mark is loaded only where its key is near another one's. */
export type ComparedTip = {
  markId: string
  pixelKey: string
  alikeKey: Uint8Array | null
  name: string
  reading: PaintReading
  blobSha: FileSha | null
}

/** A line of a ledger with its tip, in the order of the ledger. */
export type ComparedLine = ComparedTip & {
  id: string
  use: PictureUse
  /** The area of the mark itself, px²: margins make it no larger. */
  markArea: number
  decided: boolean
  outcome: Outcome
  duplicate: Duplicate | null
}

/** Tips and lines that are read at once: more would hold up others while they are parsed. */
const AT_ONCE = 500

/** Everything new tips are compared with: the library's tips, each with the name of a brush that uses it. */
export async function listComparedTips(db: Db, workspaceId: string): Promise<ComparedTip[]> {
  const ids = await db
    .select({ id: brush.id })
    .from(brush)
    .where(and(eq(brush.workspaceId, workspaceId), isNull(brush.deletedAt), eq(brush.starter, false)))
    .orderBy(asc(brush.createdAt), asc(brush.id))
  const tips: ComparedTip[] = []
  for (let at = 0; at < ids.length; at += AT_ONCE)
    tips.push(
      ...(await loadComparedTips(
        db,
        workspaceId,
        ids.slice(at, at + AT_ONCE).map(({ id }) => id),
      )),
    )
  return tips
}

/** What of a brush, its tip and its first frame is compared. */
export const comparedTip = {
  markId: tip.id,
  pixelKey: tip.pixelKey,
  alikeKey: tip.alikeKey,
  name: brush.name,
  reading: sql<PaintReading>`${brush.reading}`,
  blobSha: tipFrame.blobSha,
}
export const isFirstFrame = and(eq(tipFrame.tipId, tip.id), eq(tipFrame.ordinal, 0))

const loadComparedTips = (db: Db, workspaceId: string, brushIds: readonly string[]): Promise<ComparedTip[]> =>
  db
    .select(comparedTip)
    .from(brush)
    .innerJoin(tip, eq(tip.id, brush.tipId))
    .innerJoin(tipFrame, isFirstFrame)
    .where(and(eq(brush.workspaceId, workspaceId), isAnyOf(brush.id, brushIds)))
    .orderBy(asc(brush.createdAt), asc(brush.id))

/** The lines of a ledger that hold a picture. */
export async function listComparedLines(db: Db, workspaceId: string, gatherId: string): Promise<ComparedLine[]> {
  const ids = await db
    .select({ id: gatherLine.id })
    .from(gatherLine)
    .where(
      and(
        eq(gatherLine.workspaceId, workspaceId),
        eq(gatherLine.gatherId, gatherId),
        isNotNull(gatherLine.pixelKey),
        eq(gatherLine.isPart, false),
        // what was taken before is no copy of itself
        isNull(gatherLine.taken),
      ),
    )
    .orderBy(...lineOrder)
  const lines: ComparedLine[] = []
  for (let at = 0; at < ids.length; at += AT_ONCE) {
    const some = ids.slice(at, at + AT_ONCE).map(({ id }) => id)
    const rows = await db
      .select({
        id: gatherLine.id,
        markId: gatherLine.id,
        pixelKey: gatherLine.pixelKey,
        alikeKey: gatherLine.alikeKey,
        name: gatherLine.name,
        reading: sql<PaintReading>`coalesce(${gatherLine.brush} -> 'recipe' -> 'colour' ->> 'reading', 'dark')`,
        blobSha: sql<FileSha | null>`${gatherLine.frames} -> 0 ->> 'blobSha'`,
        use: gatherLine.use,
        markArea: sql<number>`substring(${gatherLine.alikeMark} for ${MARK_SIZE_BYTES})`.mapWith((bytes) =>
          bytes ? markArea(bytes) : 0,
        ),
        decided: gatherLine.decided,
        outcome: gatherLine.outcome,
        duplicate: gatherLine.duplicate,
      })
      .from(gatherLine)
      .where(and(eq(gatherLine.workspaceId, workspaceId), isAnyOf(gatherLine.id, some)))
      .orderBy(...lineOrder)
    lines.push(...(rows as ComparedLine[]))
  }
  return lines
}

/** The kept marks of tips and lines, by their mark's id. */
export async function loadMarks(
  db: Db,
  workspaceId: string,
  tips: readonly ComparedTip[],
): Promise<Map<string, Uint8Array>> {
  const ids = tips.map(({ markId }) => markId)
  const ofLines = await db
    .select({ id: gatherLine.id, mark: gatherLine.alikeMark })
    .from(gatherLine)
    .where(and(eq(gatherLine.workspaceId, workspaceId), isAnyOf(gatherLine.id, ids)))
  const ofTips = await db
    .select({ id: tip.id, mark: tip.alikeMark })
    .from(tip)
    .where(and(eq(tip.workspaceId, workspaceId), isAnyOf(tip.id, ids)))
  return new Map([...ofLines, ...ofTips].flatMap(({ id, mark }) => (mark ? [[id, mark] as const] : [])))
}

/** Tips of the library that were never measured. */
export async function listUnmeasuredTips(db: Db, workspaceId: string, limit: number) {
  const rows = await db
    .selectDistinct({ id: tip.id, blobSha: tipFrame.blobSha, reading: sql<PaintReading>`${brush.reading}` })
    .from(tip)
    .innerJoin(brush, eq(brush.tipId, tip.id))
    .innerJoin(tipFrame, and(eq(tipFrame.tipId, tip.id), eq(tipFrame.ordinal, 0)))
    .where(
      and(eq(tip.workspaceId, workspaceId), isNull(tip.alikeKey), isNull(brush.deletedAt), eq(brush.starter, false)),
    )
    .limit(limit)
  return rows
}

export async function setTipMarks(
  db: Db,
  workspaceId: string,
  measured: readonly { id: string; key: Uint8Array; mark: Uint8Array }[],
): Promise<void> {
  for (const { id, key, mark } of measured)
    await db
      .update(tip)
      .set({ alikeKey: key, alikeMark: mark })
      .where(and(eq(tip.workspaceId, workspaceId), eq(tip.id, id)))
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
