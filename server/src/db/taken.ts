import { groupBy } from '@satchel/core/group-by'
import { and, eq, isNotNull, isNull, sql } from 'drizzle-orm'
import type { Db } from './database.ts'
import { inParts, isAnyOf } from './many.ts'
import { brush, brushVersion, gatherLine, takenBrush, takenPack, tip, tipFrame } from './schema/all.ts'
import type { BrushSnapshot, StoredFrame } from './schema/library.ts'
import type { LineSource, LineTaken, TakenSet } from './schema/taken.ts'

export type TakenPack = typeof takenPack.$inferSelect
export type TakenBrush = Pick<typeof takenBrush.$inferSelect, 'origin' | 'brushId' | 'base' | 'release' | 'signer'>

/** What was taken of brushes before, by what their makers' libraries call them. */
export async function findTaken(
  db: Db,
  workspaceId: string,
  origins: readonly string[],
): Promise<Map<string, TakenBrush>> {
  if (origins.length === 0) return new Map()
  const rows = await db
    .select({
      origin: takenBrush.origin,
      brushId: takenBrush.brushId,
      base: takenBrush.base,
      release: takenBrush.release,
      signer: takenBrush.signer,
    })
    .from(takenBrush)
    .where(and(eq(takenBrush.workspaceId, workspaceId), isAnyOf(takenBrush.origin, origins)))
  return new Map(rows.map((row) => [row.origin, row]))
}

/** Which brushes of those origins are still here, without all that is known of them. */
export async function findBrushIds(
  db: Db,
  workspaceId: string,
  origins: readonly string[],
): Promise<Map<string, string>> {
  if (origins.length === 0) return new Map()
  const rows = await db
    .select({ origin: takenBrush.origin, brushId: takenBrush.brushId })
    .from(takenBrush)
    .where(and(eq(takenBrush.workspaceId, workspaceId), isAnyOf(takenBrush.origin, origins)))
  return new Map(rows.flatMap(({ origin, brushId }) => (brushId ? [[origin, brushId] as const] : [])))
}

/** Keeps others from taking the same in while one act does. */
export const lockTaking = async (tx: Db, workspaceId: string): Promise<void> => {
  await tx.execute(sql`select pg_advisory_xact_lock(hashtext(${`taking ${workspaceId}`}))`)
}

/** A brush with all that a newer one is joined with. */
export type WholeBrush = {
  id: string
  version: number
  deletedAt: Date | null
  snapshot: BrushSnapshot
  frames: StoredFrame[]
  fileKeys: [key: string, value: string][]
}

/** Brushes with their recipes, frames and keys; those in the bin too. @param hold Whether nobody else may change them meanwhile. */
export async function loadWholeBrushes(
  db: Db,
  workspaceId: string,
  ids: readonly string[],
  { hold = false } = {},
): Promise<Map<string, WholeBrush>> {
  if (ids.length === 0) return new Map()
  const mine = and(eq(brush.workspaceId, workspaceId), isAnyOf(brush.id, ids))
  if (hold) await db.select({ id: brush.id }).from(brush).where(mine).orderBy(brush.id).for('update')
  const rows = await db
    .select({
      id: brush.id,
      version: brush.version,
      deletedAt: brush.deletedAt,
      snapshot: brushVersion.snapshot,
      tipId: brush.tipId,
      fileKeys: tip.fileKeys,
    })
    .from(brush)
    .innerJoin(brushVersion, and(eq(brushVersion.brushId, brush.id), eq(brushVersion.ordinal, brush.version)))
    .innerJoin(tip, eq(tip.id, brush.tipId))
    .where(mine)
  const frames = await db
    .select({
      tipId: tipFrame.tipId,
      blobSha: tipFrame.blobSha,
      pixelSha: tipFrame.pixelSha,
      width: tipFrame.width,
      height: tipFrame.height,
      name: tipFrame.name,
    })
    .from(tipFrame)
    .where(
      and(
        eq(tipFrame.workspaceId, workspaceId),
        isAnyOf(
          tipFrame.tipId,
          rows.map(({ tipId }) => tipId),
        ),
      ),
    )
    .orderBy(tipFrame.tipId, tipFrame.ordinal)
  const byTip = groupBy(frames, ({ tipId }) => tipId)
  return new Map(
    rows.map(({ tipId, ...row }) => [
      row.id,
      { ...row, frames: (byTip.get(tipId) ?? []).map(({ tipId: _, ...frame }) => frame) },
    ]),
  )
}

/** Which brush one is here, of which pack, and how its maker gives it. */
export type Origin = Pick<TakenBrush, 'origin' | 'base' | 'release' | 'signer'> & { packId: string; brushId: string }

/** Notes where brushes came from; what was noted before is kept for taking the ledger back. */
export async function noteOrigins(
  db: Db,
  workspaceId: string,
  gatherId: string,
  origins: readonly Origin[],
): Promise<void> {
  // of the same brush twice the last counts: one statement writes a row once
  const once = new Map(origins.map((each) => [each.origin, each]))
  for (const some of inParts(takenBrush, [...once.values()]))
    await db
      .insert(takenBrush)
      .values(some.map((each) => ({ workspaceId, setBy: gatherId, ...each })))
      .onConflictDoUpdate({
        target: [takenBrush.workspaceId, takenBrush.origin],
        set: {
          packId: sql`excluded.pack_id`,
          brushId: sql`excluded.brush_id`,
          release: sql`excluded.release`,
          signer: sql`excluded.signer`,
          base: sql`excluded.base`,
          setBy: gatherId,
          // what one act writes twice goes back to what stood there before it
          previous: sql`case when ${takenBrush.setBy} = ${gatherId} then ${takenBrush.previous} else
            jsonb_build_object('packId', ${takenBrush.packId}, 'brushId', ${takenBrush.brushId},
              'release', ${takenBrush.release}, 'signer', ${takenBrush.signer}, 'base', ${takenBrush.base}) end`,
        },
      })
}

/** The packs of those keys, of which something was taken in. */
export async function findTakenPacks(
  db: Db,
  workspaceId: string,
  keys: readonly string[],
): Promise<Map<string, TakenPack>> {
  const rows = await db
    .select()
    .from(takenPack)
    .where(and(eq(takenPack.workspaceId, workspaceId), isAnyOf(takenPack.key, keys)))
  return new Map(rows.map((row) => [row.key, row]))
}

/** Notes a release of a pack as the newest of which something was taken. @returns The pack's id here. */
export async function noteTakenPack(
  db: Db,
  workspaceId: string,
  gatherId: string,
  { key, title, release, sets, exchange }: LineSource & { sets: TakenSet[] },
): Promise<string> {
  const [row] = await db
    .insert(takenPack)
    .values({ workspaceId, key, title, release, sets, setBy: gatherId, ...(exchange ? { exchange } : {}) })
    .onConflictDoUpdate({
      target: [takenPack.workspaceId, takenPack.key],
      set: {
        title,
        release,
        sets,
        takenAt: new Date(),
        setBy: gatherId,
        ...(exchange ? { exchange } : {}),
        previous: sql`case when ${takenPack.setBy} = ${gatherId} then ${takenPack.previous} else
          jsonb_build_object('title', ${takenPack.title}, 'release', ${takenPack.release}, 'sets', ${takenPack.sets}) end`,
      },
    })
    .returning({ id: takenPack.id })
  if (!row) throw new Error('insert gave no row')
  return row.id
}

/**
 * Puts back what a ledger has noted of origins, but of brushes that stay as it made them.
 * @param but Brushes that were changed since, and are not taken back.
 */
export async function forgetOrigins(
  db: Db,
  workspaceId: string,
  gatherId: string,
  but: readonly string[],
): Promise<void> {
  const isIts = and(eq(takenBrush.workspaceId, workspaceId), eq(takenBrush.setBy, gatherId))
  const goesBack = sql`not coalesce(${takenBrush.brushId} = any(${sql.param(but)}::uuid[]), false)`
  await db.delete(takenBrush).where(and(isIts, goesBack, isNull(takenBrush.previous)))
  await db
    .update(takenBrush)
    .set({
      packId: sql`(${takenBrush.previous} ->> 'packId')::uuid`,
      brushId: sql`(select ${brush.id} from ${brush} where ${brush.id} = (${takenBrush.previous} ->> 'brushId')::uuid)`,
      release: sql`${takenBrush.previous} ->> 'release'`,
      signer: sql`${takenBrush.previous} ->> 'signer'`,
      base: sql`${takenBrush.previous} -> 'base'`,
      setBy: null,
      previous: null,
    })
    .where(and(isIts, goesBack, isNotNull(takenBrush.previous)))
  const isItsPack = and(eq(takenPack.workspaceId, workspaceId), eq(takenPack.setBy, gatherId))
  await db
    .update(takenPack)
    .set({
      title: sql`${takenPack.previous} ->> 'title'`,
      release: sql`${takenPack.previous} ->> 'release'`,
      sets: sql`${takenPack.previous} -> 'sets'`,
      setBy: null,
      previous: null,
    })
    .where(and(isItsPack, isNotNull(takenPack.previous)))
  await db
    .delete(takenPack)
    .where(
      and(
        isItsPack,
        isNull(takenPack.previous),
        sql`not exists (select 1 from ${takenBrush} where ${takenBrush.packId} = ${takenPack.id})`,
      ),
    )
}

/** The lines of a ledger that may be brushes which were taken before, and whether that was noted of them. */
export async function listOriginLines(
  db: Db,
  workspaceId: string,
  gatherId: string,
): Promise<{ id: string; origin: string; isNoted: boolean }[]> {
  const rows = await db
    .select({ id: gatherLine.id, origin: gatherLine.origin, isNoted: sql<boolean>`${gatherLine.taken} is not null` })
    .from(gatherLine)
    .where(
      and(eq(gatherLine.workspaceId, workspaceId), eq(gatherLine.gatherId, gatherId), isNotNull(gatherLine.origin)),
    )
  return rows.flatMap(({ id, origin, isNoted }) => (origin ? [{ id, origin, isNoted }] : []))
}

/** How a line stands to what is here, and what follows where the curator has not decided. */
export type FoundTaken = { id: string; taken: LineTaken | null; outcome: 'take' | 'skip' }

/** Notes how many lines stand, in one statement. */
export async function setLinesTaken(db: Db, workspaceId: string, found: readonly FoundTaken[]): Promise<void> {
  if (found.length === 0) return
  await db.execute(sql`update ${gatherLine} set taken = nullif(found.taken, 'null'::jsonb),
      outcome = case when decided or ${gatherLine}.outcome = 'refuse' then ${gatherLine}.outcome else found.outcome end
    from jsonb_to_recordset(${JSON.stringify(found)}::jsonb) as found(id uuid, taken jsonb, outcome text)
    where ${gatherLine.workspaceId} = ${workspaceId} and ${gatherLine.id} = found.id`)
}
