import { and, eq, gte, isNull, sql } from 'drizzle-orm'
import { isCurrent } from './brushes.ts'
import type { Db } from './database.ts'
import { entryOf, inParts, isAnyOf } from './many.ts'
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
    const tips = await db
      .insert(tip)
      .values(
        part.map(({ pixelKey, alikeKey, alikeMark, fileKeys = [] }) => ({
          workspaceId,
          pixelKey,
          alikeKey,
          alikeMark,
          fileKeys,
        })),
      )
      .returning({ id: tip.id })
    const withTips = part.map((each, i) => ({ each, snapshot: toSnapshot(each, entryOf(tips, i).id) }))
    const frames = withTips.flatMap(({ each, snapshot }) =>
      each.frames.map((frame, ordinal) => ({ workspaceId, tipId: snapshot.tipId, ordinal, ...frame })),
    )
    for (const some of inParts(tipFrame, frames)) await db.insert(tipFrame).values(some)
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
    .where(and(eq(brush.workspaceId, workspaceId), isAnyOf(brush.id, ids), isNull(brush.deletedAt)))
  let changed = 0
  for (const { id, version, snapshot } of rows) {
    const tags = [...new Set([...snapshot.tags, ...change.add])].filter((tag) => !change.remove.includes(tag)).sort()
    if (tags.join('\n') === snapshot.tags.join('\n')) continue
    if (await saveBrush(db, workspaceId, id, { to: { tags }, from: version })) changed++
  }
  return changed
}
