import { isOwnPicture, type Thumbnail } from '@satchel/core/brush/thumbnail'
import { findVersion } from '../db/brush-versions.ts'
import { listTipFrames } from '../db/brushes.ts'
import { deleteOrphanBlobs } from '../db/orphans.ts'
import { saveBrush } from '../db/save-brush.ts'
import type { Deps } from '../deps.ts'
import { Refusal } from '../errors.ts'
import { withFile } from '../pictures/thumbnail-file.ts'

/**
 * Gives a brush another thumbnail, as a new version.
 * @param change.png The picture of a region or of words; must show something.
 * @param change.from The version the change was made on.
 * @returns The new version's number; undefined when the brush is gone or has moved on.
 * @throws {Refusal} When the picture is missing, damaged or blank, or there is no such frame.
 */
export async function saveThumbnail(
  { db, blobs, workers }: Pick<Deps, 'db' | 'blobs' | 'workers'>,
  workspaceId: string,
  id: string,
  { thumbnail, png, from }: { thumbnail: Thumbnail; png: Uint8Array | undefined; from: number },
): Promise<number | undefined> {
  const old = await findVersion(db, workspaceId, id, from)
  if (!old) return undefined
  if (thumbnail.from === 'frame' && thumbnail.frame >= (await listTipFrames(db, workspaceId, old.tipId)).length)
    throw new Refusal('unfit', `The tip has no frame ${thumbnail.frame + 1}; choose one of its frames.`)
  if (!isOwnPicture(thumbnail)) return saveBrush(db, workspaceId, id, { to: { thumbnail: withFile(thumbnail) }, from })
  if (!png) throw new Refusal('unfit', 'The picture of the thumbnail is missing; choose the region or the words again.')
  const read = await workers.run('readThumbnail', { png })
  if ('refused' in read)
    throw new Refusal('unfit', `The thumbnail stays as it was. ${read.refused} Choose another region or other words.`)
  return db.transaction(async (tx) => {
    const { sha256 } = await blobs.put(tx, workspaceId, read.png, 'image/png')
    const version = await saveBrush(tx, workspaceId, id, { to: { thumbnail: withFile(thumbnail, sha256) }, from })
    if (version === undefined) await deleteOrphanBlobs(tx, workspaceId, [sha256])
    return version
  })
}
