import { and, count, desc, eq, gte, inArray, isNotNull, isNull, lt, sql } from 'drizzle-orm'
import type { Db } from './database.ts'
import { findGrain } from './materials.ts'
import { brush, brushVersion, rackSet, setItem, tip, tipFrame } from './schema/all.ts'
import type { BrushSnapshot, StoredFrame } from './schema/library.ts'

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
const isCurrent = and(eq(brushVersion.brushId, brush.id), eq(brushVersion.ordinal, brush.version))

/** What the filters offer: readings, makers and tags with how many brushes have each. */
export async function listFacets(db: Db, workspaceId: string) {
  const here = and(eq(brush.workspaceId, workspaceId), isNull(brush.deletedAt))
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
  const [frames, grain, sets, versions] = await Promise.all([
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
  return { ...facts, recipe: snapshot.recipe, pictures: frames, grain: grain ?? null, sets, versions }
}

export async function listTipFrames(db: Db, workspaceId: string, tipId: string): Promise<StoredFrame[]> {
  return db
    .select({ blobSha: tipFrame.blobSha, pixelSha: tipFrame.pixelSha, width: tipFrame.width, height: tipFrame.height })
    .from(tipFrame)
    .where(and(eq(tipFrame.workspaceId, workspaceId), eq(tipFrame.tipId, tipId)))
    .orderBy(tipFrame.ordinal)
}

/** What rendering a brush's stroke needs, of its current version or another one. */
export async function findBrushForStroke(db: Db, workspaceId: string, id: string, version?: number) {
  const which =
    version === undefined ? isCurrent : and(eq(brushVersion.brushId, brush.id), eq(brushVersion.ordinal, version))
  const [row] = await db
    .select({ snapshot: brushVersion.snapshot, tipId: brush.tipId })
    .from(brush)
    .innerJoin(brushVersion, which)
    .where(and(eq(brush.workspaceId, workspaceId), eq(brush.id, id)))
  if (!row) return undefined
  const { recipe } = row.snapshot
  const [frames, grain] = await Promise.all([
    listTipFrames(db, workspaceId, row.tipId),
    findGrain(db, workspaceId, recipe.ground.grain?.sha256),
  ])
  return { recipe, frames, grain }
}

export type NewBrush = BrushSnapshot & {
  frames: StoredFrame[]
  pixelKey: string
  nearBits: string | null
  nearSignature: Uint8Array | null
}

const ROWS_AT_ONCE = 500

/** Adds brushes with their tips and first versions. @returns Their ids, in the order given. */
export async function insertBrushes(db: Db, workspaceId: string, brushes: readonly NewBrush[]): Promise<string[]> {
  const ids: string[] = []
  for (let at = 0; at < brushes.length; at += ROWS_AT_ONCE) {
    const part = brushes.slice(at, at + ROWS_AT_ONCE)
    const tips = await db
      .insert(tip)
      .values(part.map(({ pixelKey, nearBits, nearSignature }) => ({ workspaceId, pixelKey, nearBits, nearSignature })))
      .returning({ id: tip.id })
    const withTips = part.map((each, i) => ({ each, tipId: tips[i]?.id ?? '' }))
    await db
      .insert(tipFrame)
      .values(
        withTips.flatMap(({ each, tipId }) =>
          each.frames.map((frame, ordinal) => ({ workspaceId, tipId, ordinal, ...frame })),
        ),
      )
    const rows = await db
      .insert(brush)
      .values(
        withTips.map(({ each, tipId }) => ({ workspaceId, tipId, frames: each.frames.length, ...toColumns(each) })),
      )
      .returning({ id: brush.id })
    await db
      .insert(brushVersion)
      .values(
        rows.map(({ id }, i) => ({ workspaceId, brushId: id, ordinal: 1, snapshot: toSnapshot(part[i] as NewBrush) })),
      )
    ids.push(...rows.map((row) => row.id))
  }
  return ids
}

function toSnapshot({ name, maker, licence, tags, recipe }: BrushSnapshot): BrushSnapshot {
  return { name, maker, licence, tags, recipe }
}

/** The columns that follow from a snapshot. */
function toColumns({ name, maker, licence, tags, recipe }: BrushSnapshot) {
  return {
    name,
    maker,
    licence,
    tags,
    reading: recipe.colour.reading,
    behaviour: recipe.colour.behaviour,
    sizePx: recipe.mark.sizePx,
    grainSha: recipe.ground.grain?.sha256 ?? null,
    ribbon: recipe.path.ribbon !== undefined,
    searchText: [name, maker, ...tags].join(' ').toLowerCase(),
  }
}

/**
 * Saves a change as a new version; versions that had been undone are gone then.
 * @param change.from The version the change was made on: where another change came between, nothing is saved.
 * @returns The new version's number, or undefined when the brush is gone or has moved on.
 */
export async function saveBrush(
  db: Db,
  workspaceId: string,
  id: string,
  change: { snapshot: BrushSnapshot; from: number },
): Promise<number | undefined> {
  return db.transaction(async (tx) => {
    const version = change.from + 1
    const moved = await tx
      .update(brush)
      .set({ ...toColumns(change.snapshot), version, updatedAt: new Date() })
      .where(
        and(
          eq(brush.workspaceId, workspaceId),
          eq(brush.id, id),
          eq(brush.version, change.from),
          isNull(brush.deletedAt),
        ),
      )
      .returning({ id: brush.id })
    if (moved.length === 0) return undefined
    await tx
      .delete(brushVersion)
      .where(
        and(
          eq(brushVersion.workspaceId, workspaceId),
          eq(brushVersion.brushId, id),
          gte(brushVersion.ordinal, version),
        ),
      )
    await tx.insert(brushVersion).values({ workspaceId, brushId: id, ordinal: version, snapshot: change.snapshot })
    return version
  })
}

/** Goes to another saved version, back or forward. @returns Whether there is such a version. */
export async function goToVersion(db: Db, workspaceId: string, id: string, ordinal: number): Promise<boolean> {
  return db.transaction(async (tx) => {
    const [version] = await tx
      .select({ snapshot: brushVersion.snapshot })
      .from(brushVersion)
      .where(
        and(eq(brushVersion.workspaceId, workspaceId), eq(brushVersion.brushId, id), eq(brushVersion.ordinal, ordinal)),
      )
    if (!version) return false
    const moved = await tx
      .update(brush)
      .set({ ...toColumns(version.snapshot), version: ordinal, updatedAt: new Date() })
      .where(and(eq(brush.workspaceId, workspaceId), eq(brush.id, id)))
      .returning({ id: brush.id })
    return moved.length > 0
  })
}

/** Puts brushes into the bin, or brings them back. @returns How many changed. */
export async function binBrushes(db: Db, workspaceId: string, ids: string[], deleted: boolean): Promise<number> {
  const rows = await db
    .update(brush)
    .set({ deletedAt: deleted ? new Date() : null })
    .where(
      and(
        eq(brush.workspaceId, workspaceId),
        inArray(brush.id, ids),
        deleted ? isNull(brush.deletedAt) : isNotNull(brush.deletedAt),
      ),
    )
    .returning({ id: brush.id })
  return rows.length
}

/** Adds and takes away tags on many brushes, as one new version of each. @returns How many changed. */
export async function tagBrushes(
  db: Db,
  workspaceId: string,
  ids: string[],
  change: { add: string[]; remove: string[] },
): Promise<number> {
  const rows = await db
    .select({ id: brush.id, snapshot: brushVersion.snapshot, version: brush.version })
    .from(brush)
    .innerJoin(brushVersion, isCurrent)
    .where(and(eq(brush.workspaceId, workspaceId), inArray(brush.id, ids), isNull(brush.deletedAt)))
  let changed = 0
  for (const { id, version, snapshot } of rows) {
    const tags = [...new Set([...snapshot.tags, ...change.add])].filter((tag) => !change.remove.includes(tag)).sort()
    if (tags.join('\n') === snapshot.tags.join('\n')) continue
    if (await saveBrush(db, workspaceId, id, { snapshot: { ...snapshot, tags }, from: version })) changed++
  }
  return changed
}

/** Deletes for good what has lain in the bin since before `until`. @returns The blobs that may now be nobody's. */
export async function emptyBin(db: Db, workspaceId: string, until: Date): Promise<string[]> {
  const gone = await db
    .delete(brush)
    .where(and(eq(brush.workspaceId, workspaceId), lt(brush.deletedAt, until)))
    .returning({ tipId: brush.tipId })
  const tipIds = gone.map((row) => row.tipId)
  if (tipIds.length === 0) return []
  const frames = await db
    .delete(tipFrame)
    .where(and(eq(tipFrame.workspaceId, workspaceId), inArray(tipFrame.tipId, tipIds)))
    .returning({ blobSha: tipFrame.blobSha })
  await db.delete(tip).where(and(eq(tip.workspaceId, workspaceId), inArray(tip.id, tipIds)))
  return [...new Set(frames.map((frame) => frame.blobSha))]
}
