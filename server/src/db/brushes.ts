import { and, count, desc, eq, isNull, sql } from 'drizzle-orm'
import type { Db } from './database.ts'
import { findGrain } from './materials.ts'
import { brush, brushVersion, rackSet, setItem, tipFrame } from './schema/all.ts'
import type { StoredFrame } from './schema/library.ts'
import { findSourceOf } from './sources.ts'

const summary = {
  id: brush.id,
  name: brush.name,
  maker: brush.maker,
  licence: brush.licence,
  tags: brush.tags,
  reading: brush.reading,
  behaviour: brush.behaviour,
  grainSha: brush.grainSha,
  ribbon: brush.ribbon,
  sizePx: brush.sizePx,
  frames: brush.frames,
  version: brush.version,
  tipId: brush.tipId,
  updatedAt: brush.updatedAt,
}

/** A brush's current version, which holds its recipe. */
export const isCurrent = and(eq(brushVersion.brushId, brush.id), eq(brushVersion.ordinal, brush.version))

/** What the filters offer: readings, makers and tags with how many brushes have each. */
export async function listFacets(db: Db, workspaceId: string) {
  const here = and(eq(brush.workspaceId, workspaceId), isNull(brush.deletedAt), eq(brush.starter, false))
  const [readings, makers, tags] = await Promise.all([
    db
      .select({ value: brush.reading, n: count() })
      .from(brush)
      .where(here)
      .groupBy(brush.reading)
      .orderBy(brush.reading),
    db.select({ value: brush.maker, n: count() }).from(brush).where(here).groupBy(brush.maker).orderBy(brush.maker),
    db
      .select({ value: sql<string>`unnest(${brush.tags})`.as('value'), n: count() })
      .from(brush)
      .where(here)
      .groupBy(sql`1`)
      .orderBy(sql`1`),
  ])
  return { readings, makers: makers.filter((maker) => maker.value !== ''), tags }
}

/** One brush with its recipe, its frames and the sets it is in. */
export async function findBrush(db: Db, workspaceId: string, id: string) {
  const [row] = await db
    .select({
      ...summary,
      snapshot: brushVersion.snapshot,
      deletedAt: brush.deletedAt,
      createdAt: brush.createdAt,
      copiedFrom: brush.copiedFrom,
    })
    .from(brush)
    .innerJoin(brushVersion, isCurrent)
    .where(and(eq(brush.workspaceId, workspaceId), eq(brush.id, id)))
  if (!row) return undefined
  const [source, frames, grain, sets, versions] = await Promise.all([
    findSourceOf(db, workspaceId, id),
    listTipFrames(db, workspaceId, row.tipId),
    findGrain(db, workspaceId, row.grainSha ?? undefined),
    db
      .select({ id: rackSet.id, name: rackSet.name })
      .from(setItem)
      .innerJoin(rackSet, eq(rackSet.id, setItem.setId))
      .where(and(eq(setItem.workspaceId, workspaceId), eq(setItem.brushId, id), isNull(rackSet.deletedAt)))
      .orderBy(sql`${rackSet.position} collate "C"`),
    db
      .select({ ordinal: brushVersion.ordinal, createdAt: brushVersion.createdAt, label: brushVersion.label })
      .from(brushVersion)
      .where(and(eq(brushVersion.workspaceId, workspaceId), eq(brushVersion.brushId, id)))
      .orderBy(desc(brushVersion.ordinal)),
  ])
  const { snapshot, ...facts } = row
  const { recipe, thumbnail } = snapshot
  return { ...facts, recipe, thumbnail, pictures: frames, grain: grain ?? null, source: source ?? null, sets, versions }
}

export async function listTipFrames(db: Db, workspaceId: string, tipId: string): Promise<StoredFrame[]> {
  return db
    .select({
      blobSha: tipFrame.blobSha,
      pixelSha: tipFrame.pixelSha,
      width: tipFrame.width,
      height: tipFrame.height,
      name: tipFrame.name,
    })
    .from(tipFrame)
    .where(and(eq(tipFrame.workspaceId, workspaceId), eq(tipFrame.tipId, tipId)))
    .orderBy(tipFrame.ordinal)
}

/** What rendering a brush's stroke needs, of its current version or another one. */
export async function findBrushForStroke(db: Db, workspaceId: string, id: string, version?: number) {
  const which =
    version === undefined ? isCurrent : and(eq(brushVersion.brushId, brush.id), eq(brushVersion.ordinal, version))
  const [row] = await db
    .select({ snapshot: brushVersion.snapshot })
    .from(brush)
    .innerJoin(brushVersion, which)
    .where(and(eq(brush.workspaceId, workspaceId), eq(brush.id, id)))
  if (!row) return undefined
  const { recipe, tipId, thumbnail } = row.snapshot
  const [frames, grain] = await Promise.all([
    listTipFrames(db, workspaceId, tipId),
    findGrain(db, workspaceId, recipe.ground.grain?.sha256),
  ])
  return { recipe, thumbnail, frames, grain }
}
