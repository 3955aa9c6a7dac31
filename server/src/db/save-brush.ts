import { and, eq, gte, isNull, sql } from 'drizzle-orm'
import type { Db } from './database.ts'
import { countAnew, entryOf, inParts, MANY_ROWS } from './many.ts'
import { deletePicturesOf, versionPictures } from './orphans.ts'
import { brush, brushVersion, tip, tipFrame } from './schema/all.ts'
import type { BrushSnapshot, StoredFrame, StoredThumbnail } from './schema/library.ts'

export type NewBrush = Omit<BrushSnapshot, 'tipId' | 'thumbnail'> & {
  /** By default the stroke. */
  thumbnail?: StoredThumbnail
  frames: StoredFrame[]
  pixelKey: string
  alikeKey: Uint8Array | null
  alikeMark: Uint8Array | null
  fileKeys?: [key: string, value: string][]
  starter?: boolean
}

const ROWS_AT_ONCE = 500

/** Adds brushes with their tips and first versions. @returns Their ids, in the order given. */
export async function insertBrushes(db: Db, workspaceId: string, brushes: readonly NewBrush[]): Promise<string[]> {
  const ids: string[] = []
  for (let at = 0; at < brushes.length; at += ROWS_AT_ONCE) {
    const part = brushes.slice(at, at + ROWS_AT_ONCE)
    const tips = await insertTips(db, workspaceId, part)
    const withTips = part.map((each, i) => ({ each, snapshot: toSnapshot(each, entryOf(tips, i)) }))
    const rows = await db
      .insert(brush)
      .values(
        withTips.map(({ each, snapshot }) => ({
          workspaceId,
          frames: each.frames.length,
          starter: each.starter ?? false,
          ...toColumns(snapshot),
        })),
      )
      .returning({ id: brush.id })
    await db
      .insert(brushVersion)
      .values(withTips.map(({ snapshot }, i) => ({ workspaceId, brushId: entryOf(rows, i).id, ordinal: 1, snapshot })))
    ids.push(...rows.map((row) => row.id))
  }
  if (brushes.length >= MANY_ROWS) await countAnew(db, [brush, brushVersion, tip, tipFrame])
  return ids
}

function toSnapshot({ name, maker, licence, tags, recipe, thumbnail }: NewBrush, tipId: string): BrushSnapshot {
  return { name, maker, licence, tags, recipe, tipId, thumbnail: thumbnail ?? { from: 'stroke' } }
}

/** The columns that follow from a snapshot. */
function toColumns({ name, maker, licence, tags, recipe, tipId }: BrushSnapshot) {
  return {
    tipId,
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

/** The columns that follow when a brush goes to a snapshot with perhaps another tip. */
const movedColumns = (snapshot: BrushSnapshot) => ({
  ...toColumns(snapshot),
  frames: sql`(select count(*) from ${tipFrame} where ${tipFrame.tipId} = ${snapshot.tipId})`,
  updatedAt: new Date(),
})

/**
 * Saves a change as a new version; versions that had been undone are gone then, with what only they used.
 * @param change.to What becomes different; all else stays as it is in the version it was made on.
 * @param change.from The version the change was made on: where another change came between, nothing is saved.
 * @returns The new version's number, or undefined when the brush is gone or has moved on.
 */
export async function saveBrush(
  db: Db,
  workspaceId: string,
  id: string,
  change: { to: Partial<BrushSnapshot>; from: number },
): Promise<number | undefined> {
  return db.transaction(async (tx) => {
    const version = change.from + 1
    const ofBrush = and(eq(brushVersion.workspaceId, workspaceId), eq(brushVersion.brushId, id))
    const [old] = await tx
      .select({ snapshot: brushVersion.snapshot })
      .from(brushVersion)
      .where(and(ofBrush, eq(brushVersion.ordinal, change.from)))
    if (!old) return undefined
    const snapshot = { ...old.snapshot, ...change.to }
    const moved = await tx
      .update(brush)
      .set({ ...movedColumns(snapshot), version })
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
    const undone = await tx
      .delete(brushVersion)
      .where(and(ofBrush, gte(brushVersion.ordinal, version)))
      .returning(versionPictures)
    await tx.insert(brushVersion).values({ workspaceId, brushId: id, ordinal: version, snapshot })
    await deletePicturesOf(tx, workspaceId, undone)
    return version
  })
}

/** A whole version that a brush goes to, from the one it is at. */
export type BrushSave = { id: string; from: number; snapshot: BrushSnapshot; label?: string }

/**
 * Saves a version of each of many brushes, a few statements for all of them; otherwise as `saveBrush`. Those that have moved on, or
 * are gone, stay as they are.
 * @returns The ids of those that were saved.
 */
export async function saveBrushes(db: Db, workspaceId: string, saves: readonly BrushSave[]): Promise<Set<string>> {
  const saved = new Set<string>()
  for (let at = 0; at < saves.length; at += ROWS_AT_ONCE) {
    const part = saves.slice(at, at + ROWS_AT_ONCE)
    const isSaved = await moveBrushes(
      db,
      workspaceId,
      part.map((save) => ({ ...save, to: save.from + 1 })),
    )
    const done = part.filter(({ id }) => isSaved.has(id))
    const ofThese = sql`(${brushVersion.brushId}, ${brushVersion.ordinal}) in (
      select v.brush_id, v.ordinal from jsonb_to_recordset(${JSON.stringify(done.map(({ id, from }) => ({ id, from })))}::jsonb)
        as s(id uuid, "from" integer) join ${brushVersion} v on v.brush_id = s.id and v.ordinal > s."from")`
    const undone = await db
      .delete(brushVersion)
      .where(and(eq(brushVersion.workspaceId, workspaceId), ofThese))
      .returning(versionPictures)
    const versions = done.map(({ id, from, snapshot, label = '' }) => ({
      ...{ workspaceId, brushId: id, ordinal: from + 1 },
      ...{ snapshot, label },
    }))
    for (const some of inParts(brushVersion, versions)) await db.insert(brushVersion).values(some)
    await deletePicturesOf(db, workspaceId, undone)
    for (const id of isSaved) saved.add(id)
  }
  return saved
}

/**
 * Brings brushes that are at a version to another one, whose snapshot is given, in one statement; those in the bin stay as they are.
 * @returns The ids of those that were there.
 */
async function moveBrushes(
  db: Db,
  workspaceId: string,
  moves: readonly { id: string; from: number; to: number; snapshot: BrushSnapshot }[],
): Promise<Set<string>> {
  const rows = moves.map(({ id, from, to, snapshot }) => ({ id, from, to, ...toColumns(snapshot) }))
  const moved = await db.execute<{ id: string }>(sql`
    update ${brush} set version = s."to", updated_at = now(), tip_id = s."tipId", name = s.name, maker = s.maker,
      licence = s.licence, tags = array(select jsonb_array_elements_text(s.tags)), reading = s.reading, behaviour = s.behaviour,
      size_px = s."sizePx", grain_sha = s."grainSha", ribbon = s.ribbon, search_text = s."searchText",
      frames = (select count(*) from ${tipFrame} where ${tipFrame.tipId} = s."tipId")
    from jsonb_to_recordset(${JSON.stringify(rows)}::jsonb) as s(id uuid, "from" integer, "to" integer, "tipId" uuid, name text,
      maker text, licence text, tags jsonb, reading text, behaviour text, "sizePx" real, "grainSha" text, ribbon boolean,
      "searchText" text)
    where ${brush.workspaceId} = ${workspaceId} and ${brush.id} = s.id and ${brush.version} = s."from" and ${brush.deletedAt} is null
    returning ${brush.id} as id`)
  return new Set(moved.rows.map(({ id }) => id))
}

/**
 * Goes back from versions to earlier ones, as one act; later ones can be redone.
 * @returns The ids of brushes that were at the version they are to leave.
 */
export async function goBack(
  db: Db,
  workspaceId: string,
  brushes: readonly { id: string; from: number; to: number }[],
): Promise<Set<string>> {
  const back = new Set<string>()
  for (let at = 0; at < brushes.length; at += ROWS_AT_ONCE) {
    const part = brushes.slice(at, at + ROWS_AT_ONCE)
    const wanted = JSON.stringify(part.map(({ id, to }) => ({ id, ordinal: to })))
    const rows = await db
      .select({ id: brushVersion.brushId, snapshot: brushVersion.snapshot })
      .from(brushVersion)
      .where(
        and(
          eq(brushVersion.workspaceId, workspaceId),
          sql`(${brushVersion.brushId}, ${brushVersion.ordinal}) in (
            select w.id, w.ordinal from jsonb_to_recordset(${wanted}::jsonb) as w(id uuid, ordinal integer))`,
        ),
      )
    const snapshots = new Map(rows.map(({ id, snapshot }) => [id, snapshot]))
    const moves = part.flatMap(({ id, from, to }) => {
      const snapshot = snapshots.get(id)
      return snapshot ? [{ id, from, to, snapshot }] : []
    })
    for (const id of await moveBrushes(db, workspaceId, moves)) back.add(id)
  }
  return back
}

/** Adds tips with their frames. @returns Their ids, in the order given. */
export async function insertTips(
  db: Db,
  workspaceId: string,
  tips: readonly Pick<NewBrush, 'frames' | 'pixelKey' | 'alikeKey' | 'alikeMark' | 'fileKeys'>[],
): Promise<string[]> {
  if (tips.length === 0) return []
  const ids: string[] = []
  const rows = tips.map(({ pixelKey, alikeKey, alikeMark, fileKeys = [] }) => ({
    workspaceId,
    pixelKey,
    alikeKey,
    alikeMark,
    fileKeys,
  }))
  for (const some of inParts(tip, rows)) {
    const made = await db.insert(tip).values(some).returning({ id: tip.id })
    ids.push(...made.map(({ id }) => id))
  }
  const frames = tips.flatMap((each, i) =>
    each.frames.map((frame, ordinal) => ({ workspaceId, tipId: entryOf(ids, i), ordinal, ...frame })),
  )
  for (const some of inParts(tipFrame, frames)) await db.insert(tipFrame).values(some)
  return ids
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
      .set({ ...movedColumns(version.snapshot), version: ordinal })
      .where(and(eq(brush.workspaceId, workspaceId), eq(brush.id, id)))
      .returning({ id: brush.id })
    return moved.length > 0
  })
}
