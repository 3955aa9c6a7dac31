import type { Recipe } from '@satchel/core/brush/recipe'
import type { FileSha, PixelSha } from '@satchel/core/hashes'
import { and, eq, sql } from 'drizzle-orm'
import { findVersion } from './brush-versions.ts'
import { listTipFrames } from './brushes.ts'
import type { Db } from './database.ts'
import { deletePicturesOf } from './orphans.ts'
import { insertBrushes, type NewBrush, saveBrush } from './save-brush.ts'
import { brush, brushVersion, tip, tipFrame } from './schema/all.ts'
import type { BrushSnapshot } from './schema/library.ts'

/**
 * Copies a brush as it is now. The copy remembers where it came from; its history begins anew.
 * @param options.tipFrom A brush whose tip the copy takes instead.
 * @returns The copy's id, or undefined when the brush, or the one with the tip, is not there.
 */
export async function copyBrush(
  db: Db,
  workspaceId: string,
  id: string,
  { name, maker, tipFrom = id }: { name: string; maker?: string | undefined; tipFrom?: string | undefined },
): Promise<string | undefined> {
  return db.transaction(async (tx) => {
    const [from] = await tx
      .select({ version: brush.version, name: brush.name, maker: brush.maker })
      .from(brush)
      .where(and(eq(brush.workspaceId, workspaceId), eq(brush.id, id)))
    const snapshot = from && (await findVersion(tx, workspaceId, id, from.version))
    const source = await findTip(tx, workspaceId, tipFrom)
    if (!snapshot || !source) return undefined
    const fitted = fitToFrames(snapshot, source.frames.length)
    const [copy] = await insertBrushes(tx, workspaceId, [
      { ...snapshot, ...fitted, ...source, name, maker: maker ?? snapshot.maker },
    ])
    if (copy === undefined) throw new Error('the copy was not inserted')
    await tx
      .update(brush)
      .set({ copiedFrom: { id, name: from.name, maker: from.maker } })
      .where(and(eq(brush.workspaceId, workspaceId), eq(brush.id, copy)))
    return copy
  })
}

/**
 * Gives a brush the tip of another, as a new version; everything else of it stays.
 * @param wish.from The version the change was made on.
 * @returns The new version's number; undefined when a brush is gone, or this one has moved on.
 */
export async function swapTip(
  db: Db,
  workspaceId: string,
  id: string,
  wish: { tipFrom: string; from: number },
): Promise<number | undefined> {
  return db.transaction(async (tx) => {
    const source = await findTip(tx, workspaceId, wish.tipFrom)
    return source && setTip(tx, workspaceId, id, { tip: source, from: wish.from })
  })
}

/** A tip's rows to be. */
export type NewTip = Pick<NewBrush, 'frames' | 'pixelKey' | 'alikeKey' | 'alikeMark' | 'fileKeys'>

/**
 * Gives a brush another tip, as a new version; everything else of it stays. Ask within a transaction.
 * @param wish.from The version the change was made on.
 * @param wish.change What of the recipe has to follow the pixels.
 * @returns The new version's number; undefined when the brush is gone or has moved on.
 */
export async function setTip(
  tx: Db,
  workspaceId: string,
  id: string,
  wish: { tip: NewTip; from: number; change?: (recipe: Recipe) => Recipe },
): Promise<number | undefined> {
  const snapshot = await findVersion(tx, workspaceId, id, wish.from)
  if (!snapshot) return undefined
  const { frames, ...facts } = wish.tip
  // keys of the file it came as stay with the brush, whatever its pixels are
  const [before] = await tx
    .select({ fileKeys: tip.fileKeys })
    .from(tip)
    .where(and(eq(tip.workspaceId, workspaceId), eq(tip.id, snapshot.tipId)))
  const [made] = await tx
    .insert(tip)
    .values({ workspaceId, fileKeys: before?.fileKeys ?? [], ...facts })
    .returning({ id: tip.id })
  if (!made) throw new Error('the tip was not inserted')
  await tx.insert(tipFrame).values(frames.map((frame, ordinal) => ({ workspaceId, tipId: made.id, ordinal, ...frame })))
  const { recipe, thumbnail } = fitToFrames(snapshot, frames.length)
  const to = { recipe: wish.change?.(recipe) ?? recipe, thumbnail, tipId: made.id }
  const version = await saveBrush(tx, workspaceId, id, { to, from: wish.from })
  if (version === undefined) await deletePicturesOf(tx, workspaceId, [{ tipId: made.id, blobSha: null }])
  return version
}

/** A brush's tip, as another brush may have it too. */
async function findTip(db: Db, workspaceId: string, brushId: string) {
  const [row] = await db
    .select({
      tipId: brush.tipId,
      pixelKey: tip.pixelKey,
      alikeKey: tip.alikeKey,
      alikeMark: tip.alikeMark,
      fileKeys: tip.fileKeys,
    })
    .from(brush)
    .innerJoin(tip, eq(tip.id, brush.tipId))
    .where(and(eq(brush.workspaceId, workspaceId), eq(brush.id, brushId)))
  if (!row) return undefined
  const { tipId, ...facts } = row
  return { ...facts, frames: await listTipFrames(db, workspaceId, tipId) }
}

/**
 * What of a brush counts frames, for another number of them: where rules go over a grid of another size, the first goes
 * over all; a thumbnail of a frame that is no more is the stroke again.
 */
function fitToFrames(
  { recipe, thumbnail }: Pick<BrushSnapshot, 'recipe' | 'thumbnail'>,
  frames: number,
): Pick<BrushSnapshot, 'recipe' | 'thumbnail'> {
  const counted = recipe.path.nextFrame.reduce((product, rule) => product * rule.frames, 1)
  const [first] = recipe.path.nextFrame
  const nextFrame: Recipe['path']['nextFrame'] =
    counted === frames ? recipe.path.nextFrame : [{ rule: first?.rule ?? 'inOrder', frames }]
  return {
    recipe: { ...recipe, path: { ...recipe.path, nextFrame } },
    thumbnail: thumbnail.from === 'frame' && thumbnail.frame >= frames ? { from: 'stroke' } : thumbnail,
  }
}

/** A frame that an earlier version of a brush has, and the current one has not. */
export type EarlierFrame = { version: number; place: number; blobSha: FileSha; pixelSha: PixelSha }

/** Frames of earlier versions that the brush has no more, the newest first, each picture once. */
export async function listEarlierFrames(
  db: Db,
  workspaceId: string,
  brushId: string,
  most: number,
): Promise<EarlierFrame[]> {
  const { rows } = await db.execute<EarlierFrame>(sql`
    select version, place, "blobSha", "pixelSha" from (
      select distinct on (f.pixel_sha) v.ordinal as version, f.ordinal as place,
        f.blob_sha as "blobSha", f.pixel_sha as "pixelSha"
      from ${brushVersion} v
      join ${tipFrame} f on f.tip_id = (v.snapshot ->> 'tipId')::uuid and f.workspace_id = ${workspaceId}
      where v.workspace_id = ${workspaceId} and v.brush_id = ${brushId}
        and f.pixel_sha not in (
          select g.pixel_sha from ${brush} b join ${tipFrame} g on g.tip_id = b.tip_id
          where b.workspace_id = ${workspaceId} and b.id = ${brushId})
      order by f.pixel_sha, v.ordinal desc
    ) gone order by version desc, place limit ${most}`)
  return rows
}
