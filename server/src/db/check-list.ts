import type { BrushFigures } from '@satchel/core/check-list/figures'
import { and, eq, gt, inArray, isNull, lte, sql } from 'drizzle-orm'
import type { Db } from './database.ts'
import { type ComparedTip, comparedTip, isFirstFrame } from './gather-duplicates.ts'
import { inParts, isAnyOf } from './many.ts'
import { idsInPack } from './pack-brushes.ts'
import {
  brush,
  brushFigures,
  brushVersion,
  letPass,
  material,
  packBrush,
  packSet,
  rackSet,
  tip,
  tipFrame,
} from './schema/all.ts'

export type Figures = BrushFigures | { refused: string }

/** What was measured of brushes, with the key that it is good for. */
export async function listFigures(db: Db, workspaceId: string, ids: readonly string[]) {
  const rows = await db
    .select({ brushId: brushFigures.brushId, key: brushFigures.key, figures: brushFigures.figures })
    .from(brushFigures)
    .where(and(eq(brushFigures.workspaceId, workspaceId), isAnyOf(brushFigures.brushId, ids)))
  return new Map(rows.map(({ brushId, ...row }) => [brushId, row]))
}

/** Keeps what was measured of a brush; of one that is gone meanwhile nothing. */
export async function saveFigures(
  db: Db,
  { workspaceId, brushId, key, figures }: { workspaceId: string; brushId: string; key: string; figures: Figures },
): Promise<void> {
  const there = db
    .select({ id: brush.id })
    .from(brush)
    .where(and(eq(brush.workspaceId, workspaceId), eq(brush.id, brushId)))
  if ((await there).length === 0) return
  await db
    .insert(brushFigures)
    .values({ workspaceId, brushId, key, figures })
    .onConflictDoUpdate({ target: brushFigures.brushId, set: { key, figures } })
}

/** The versions of brushes that were looked at last in a pack, by their ids. */
export async function listLooked(db: Db, workspaceId: string, packId: string): Promise<Map<string, number>> {
  const rows = await db
    .select({ brushId: packBrush.brushId, looked: packBrush.looked })
    .from(packBrush)
    .where(
      and(eq(packBrush.workspaceId, workspaceId), eq(packBrush.packId, packId), sql`${packBrush.looked} is not null`),
    )
  return new Map(rows.map(({ brushId, looked }) => [brushId, looked ?? 0]))
}

/** Notes that brushes of a pack were looked at as they are, or that none of them was. */
export async function setLooked(
  db: Db,
  workspaceId: string,
  packId: string,
  looked: readonly { brushId: string; looked: number | null }[],
): Promise<void> {
  const rows = looked.map((each) => ({ workspaceId, packId, ...each }))
  for (const some of inParts(packBrush, rows))
    await db
      .insert(packBrush)
      .values(some)
      .onConflictDoUpdate({ target: [packBrush.packId, packBrush.brushId], set: { looked: sql`excluded.looked` } })
}

/** Findings of a pack that are let pass, with the reasons, by what names them. */
export async function listLetPass(db: Db, workspaceId: string, packId: string): Promise<Map<string, string>> {
  const rows = await db
    .select({ finding: letPass.finding, reason: letPass.reason })
    .from(letPass)
    .where(and(eq(letPass.workspaceId, workspaceId), eq(letPass.packId, packId)))
  return new Map(rows.map(({ finding, reason }) => [finding, reason]))
}

/** Lets findings pass for a reason; without one they are looked at again. */
export async function setLetPass(
  db: Db,
  workspaceId: string,
  packId: string,
  { findings, reason }: { findings: readonly string[]; reason: string | null },
): Promise<void> {
  if (reason === null) {
    const those = inArray(letPass.finding, [...findings])
    await db.delete(letPass).where(and(eq(letPass.workspaceId, workspaceId), eq(letPass.packId, packId), those))
    return
  }
  const rows = [...new Set(findings)].map((finding) => ({ workspaceId, packId, finding, reason }))
  for (const some of inParts(letPass, rows))
    await db
      .insert(letPass)
      .values(some)
      .onConflictDoUpdate({ target: [letPass.packId, letPass.finding], set: { reason: sql`excluded.reason` } })
}

/** What sets and brushes of a library are called that a pack does not hold; starters are of the product, not of the library. */
export async function listElsewhere(db: Db, workspaceId: string, packId: string) {
  const inPack = db
    .select({ id: packSet.setId })
    .from(packSet)
    .where(and(eq(packSet.workspaceId, workspaceId), eq(packSet.packId, packId)))
  const [sets, brushes] = await Promise.all([
    db
      .select({ name: rackSet.name })
      .from(rackSet)
      .where(
        and(
          eq(rackSet.workspaceId, workspaceId),
          isNull(rackSet.deletedAt),
          eq(rackSet.starter, false),
          sql`${rackSet.id} not in ${inPack}`,
        ),
      ),
    db
      .selectDistinct({ name: brush.name })
      .from(brush)
      .where(
        and(
          eq(brush.workspaceId, workspaceId),
          isNull(brush.deletedAt),
          eq(brush.starter, false),
          sql`${brush.id} not in ${idsInPack(workspaceId, packId)}`,
        ),
      ),
  ])
  return { sets: sets.map(({ name }) => name), brushes: brushes.map(({ name }) => name) }
}

/** How the grains and strips of a workspace join themselves, by the names of their pixels. */
export async function listSeams(db: Db, workspaceId: string, pixels: readonly string[]) {
  const rows = await db
    .select({
      kind: material.kind,
      pixelSha: material.pixelSha,
      across: material.seamAcross,
      down: material.seamDown,
    })
    .from(material)
    .where(and(eq(material.workspaceId, workspaceId), isAnyOf(material.pixelSha, pixels), isNull(material.deletedAt)))
  return new Map(rows.map(({ kind, pixelSha, ...seam }) => [`${kind} ${pixelSha}`, seam]))
}

/** The first pictures of a pack's brushes, to find those that look alike. */
export async function listPackTips(
  db: Db,
  workspaceId: string,
  packId: string,
): Promise<(ComparedTip & { brushId: string })[]> {
  return db
    .select({
      brushId: brush.id,
      ...comparedTip,
    })
    .from(brush)
    .innerJoin(tip, eq(tip.id, brush.tipId))
    .innerJoin(tipFrame, isFirstFrame)
    .where(
      and(
        eq(brush.workspaceId, workspaceId),
        isNull(brush.deletedAt),
        sql`${brush.id} in ${idsInPack(workspaceId, packId)}`,
      ),
    )
    .orderBy(brush.createdAt, brush.id)
}

/** Earlier versions of brushes, the newest first, up to the one that each is at. */
export async function listVersionsBefore(db: Db, workspaceId: string, ids: readonly string[]) {
  return db
    .select({ brushId: brushVersion.brushId, ordinal: brushVersion.ordinal, snapshot: brushVersion.snapshot })
    .from(brushVersion)
    .innerJoin(brush, and(eq(brush.id, brushVersion.brushId), lte(brushVersion.ordinal, brush.version)))
    .where(and(eq(brushVersion.workspaceId, workspaceId), isAnyOf(brushVersion.brushId, ids), gt(brush.version, 1)))
    .orderBy(brushVersion.brushId, sql`${brushVersion.ordinal} desc`)
}
