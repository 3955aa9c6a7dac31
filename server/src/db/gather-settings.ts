import type { PixelSha } from '@satchel/core/hashes'
import { and, eq, isNotNull, sql } from 'drizzle-orm'
import type { Db } from './database.ts'
import { lineOrder } from './gather-lines.ts'
import type { GatherLine } from './gathers.ts'
import { isAnyOf } from './many.ts'
import { gather, gatherLine } from './schema/all.ts'
import type { LineBrush, LineGrain, LineMend, LineSettings } from './schema/gather.ts'
import type { StoredFrame } from './schema/library.ts'

const inGather = (workspaceId: string, gatherId: string) =>
  and(eq(gatherLine.workspaceId, workspaceId), eq(gatherLine.gatherId, gatherId))

/** The lines of a ledger that are settings of a brush. */
export async function listSettingsLines(db: Db, workspaceId: string, gatherId: string) {
  const rows = await db
    .select({
      id: gatherLine.id,
      folder: gatherLine.folder,
      path: gatherLine.path,
      name: gatherLine.name,
      decided: gatherLine.decided,
      outcome: gatherLine.outcome,
      reason: gatherLine.reason,
      settings: gatherLine.settings,
      frames: gatherLine.frames,
      fullFrames: gatherLine.fullFrames,
      grain: gatherLine.grain,
    })
    .from(gatherLine)
    .where(and(inGather(workspaceId, gatherId), isNotNull(gatherLine.settings)))
    .orderBy(...lineOrder)
  return rows.flatMap(({ settings, ...row }) => (settings ? [{ ...row, settings }] : []))
}
export type SettingsLine = Awaited<ReturnType<typeof listSettingsLines>>[number]

/** The pictures of a ledger that settings may mean. */
export async function listPictureLines(db: Db, workspaceId: string, gatherId: string) {
  const rows = await db
    .select({
      id: gatherLine.id,
      folder: gatherLine.folder,
      path: gatherLine.path,
      name: gatherLine.name,
      fileHash: gatherLine.fileHash,
      frames: gatherLine.frames,
      isPart: gatherLine.isPart,
      pixelKey: gatherLine.pixelKey,
      alikeKey: gatherLine.alikeKey,
      alikeMark: gatherLine.alikeMark,
      seamAcross: gatherLine.seamAcross,
      seamDown: gatherLine.seamDown,
      decided: gatherLine.decided,
    })
    .from(gatherLine)
    .where(and(inGather(workspaceId, gatherId), isNotNull(gatherLine.fileHash)))
    .orderBy(...lineOrder)
  return rows
}
export type PictureLine = Awaited<ReturnType<typeof listPictureLines>>[number]

/** What a settings line becomes: a brush, or the sentence that says what it lacks. */
export type JoinedLine = { id: string; outcome: GatherLine['outcome']; reason: string } & (
  | {
      brush: LineBrush
      frames: StoredFrame[]
      grain: LineGrain | null
      picture: Pick<PictureLine, 'pixelKey' | 'alikeKey' | 'alikeMark'>
    }
  | { brush: null }
)

export async function setJoinedLine(db: Db, workspaceId: string, line: JoinedLine): Promise<void> {
  const { id, outcome, reason, brush } = line
  const first = brush ? line.frames[0] : undefined
  const content = brush
    ? { brush, frames: line.frames, grain: line.grain, ...line.picture, width: first?.width, height: first?.height }
    : { ...{ brush, frames: [], grain: null, pixelKey: null, alikeKey: null, alikeMark: null, duplicate: null } }
  await db
    .update(gatherLine)
    .set({
      ...content,
      fullFrames: null,
      // what the curator has decided stays
      outcome: sql`case when ${gatherLine.decided} and ${brush !== null} then ${gatherLine.outcome} else ${outcome} end`,
      reason,
    })
    .where(and(eq(gatherLine.workspaceId, workspaceId), eq(gatherLine.id, id)))
}

/** Marks pictures that belong to brushes, and frees those that do so no more. */
export async function setParts(
  db: Db,
  workspaceId: string,
  ids: readonly string[],
  { isPart, reason }: { isPart: boolean; reason: string },
): Promise<void> {
  if (ids.length === 0) return
  await db
    .update(gatherLine)
    .set({
      isPart,
      reason,
      ...(isPart ? { duplicate: null } : {}),
      outcome: sql`case when ${gatherLine.decided} then ${gatherLine.outcome} else ${isPart ? 'skip' : 'take'} end`,
    })
    .where(and(eq(gatherLine.workspaceId, workspaceId), isAnyOf(gatherLine.id, ids)))
}

export async function setMended(
  db: Db,
  workspaceId: string,
  lines: readonly { id: string; mended: LineSettings['mended'] }[],
): Promise<void> {
  await db.execute(sql`
    update ${gatherLine} set settings = jsonb_set(${gatherLine.settings}, '{mended}', c.mended::jsonb)
    from unnest(${sql.param(lines.map(({ id }) => id))}::uuid[],
      ${sql.param(lines.map(({ mended }) => JSON.stringify(mended)))}::text[]) as c(id, mended)
    where ${gatherLine.workspaceId} = ${workspaceId} and ${gatherLine.id} = c.id and ${gatherLine.settings} is not null`)
}

/** The mends of an open ledger, held until the transaction ends. */
export async function holdLineMends(db: Db, workspaceId: string, gatherId: string): Promise<LineMend[] | undefined> {
  const [row] = await db
    .select({ mends: gather.mends })
    .from(gather)
    .where(and(eq(gather.workspaceId, workspaceId), eq(gather.id, gatherId), eq(gather.state, 'open')))
    .for('update')
  return row?.mends
}

export async function setLineMends(db: Db, workspaceId: string, gatherId: string, mends: LineMend[]): Promise<void> {
  await db
    .update(gather)
    .set({ mends })
    .where(and(eq(gather.workspaceId, workspaceId), eq(gather.id, gatherId)))
}

/** The pixels of a line's first frame, as a recipe names its grain. */
export const grainNameOf = ({ frames }: Pick<PictureLine, 'frames'>): PixelSha | undefined => frames[0]?.pixelSha
