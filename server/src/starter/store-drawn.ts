import { printAlike } from '@satchel/core/alike/alike-print'
import type { Pixels } from '@satchel/core/raster/pixels'
import type { DrawnBrush } from '@satchel/drawn/tuning'
import type { Db } from '../db/database.ts'
import type { NewBrush } from '../db/save-brush.ts'
import type { StoredFrame } from '../db/schema/library.ts'
import type { Deps } from '../deps.ts'
import { toPixelKey, toReadFrame } from '../workers/read-tip.ts'

type Where = { db: Db; blobs: Deps['blobs']; workspaceId: string }

/** Stores a drawn picture as a file of a workspace. */
export async function storePicture(pixels: Pixels, { db, blobs, workspaceId }: Where): Promise<StoredFrame> {
  const { png, pixelSha, width, height } = toReadFrame(pixels)
  const { sha256 } = await blobs.put(db, workspaceId, png, 'image/png')
  return { blobSha: sha256, pixelSha, width, height }
}

/** Stores a drawn brush's frames. @returns The row that is to be added. */
export async function storeDrawn(
  { name, tags, frames, recipe }: DrawnBrush,
  { maker, licence }: { maker: string; licence: string },
  where: Where,
): Promise<NewBrush> {
  const stored: StoredFrame[] = []
  for (const frame of frames) stored.push(await storePicture(frame, where))
  const alike = frames[0] && printAlike(frames[0], recipe.colour.reading)
  return {
    name,
    tags,
    recipe,
    maker,
    licence,
    frames: stored,
    pixelKey: toPixelKey(stored.map((frame) => frame.pixelSha)),
    alikeKey: alike?.key ?? null,
    alikeMark: alike?.mark ?? null,
  }
}
