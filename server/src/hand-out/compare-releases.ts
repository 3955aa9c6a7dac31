import type { Recipe } from '@satchel/core/brush/recipe'
import type { FileSha, PixelSha } from '@satchel/core/hashes'
import type { PackManifest } from '@satchel/core/pack/manifest'
import type { PictureFacts } from '@satchel/core/releases/difference'
import type { Db } from '../db/database.ts'
import { findKept } from '../db/mends.ts'
import type { Pack } from '../db/packs.ts'
import { findRelease, findReleaseText } from '../db/releases.ts'
import type { ReleaseBrush } from '../db/schema/packs.ts'
import { notFound } from '../errors.ts'
import type { Side } from '../workers/results.ts'
import { freeze } from './freeze.ts'

/** The pack as it is now, in the place of a release. */
export const NOW = 'now'

/** What of a brush is painted with. */
export type PaintedBrush = { recipe: Recipe; frames: FileSha[]; grain: FileSha | undefined }

/** The pack as it is now, to be compared. @throws {Refusal} If there is nothing in it that could be released. */
export async function openNow(db: Db, pack: Pack): Promise<{ side: Side; manifest: PackManifest }> {
  const { manifest, brushes, licenceText } = await freeze(db, pack, '')
  const pictures = await describePictures(db, pack.workspaceId, brushes)
  return { side: { manifestText: JSON.stringify(manifest), licenceText, pictures }, manifest }
}

/**
 * A release of a pack, or the pack as it is now, to be compared.
 * @throws {Refusal} If there is no such release, or nothing in the pack that could be released.
 */
export async function openSide(db: Db, pack: Pack, which: string): Promise<Side> {
  if (which === NOW) return (await openNow(db, pack)).side
  const release = await findReleaseText(db, pack.workspaceId, which)
  if (release?.packId !== pack.id) throw notFound('release')
  const { manifestText, licenceText, brushes } = release
  return { manifestText, licenceText, pictures: await describePictures(db, pack.workspaceId, brushes) }
}

/**
 * With what a brush of a release is painted, or of the pack as it is now; undefined where it has no such brush.
 * @throws {Refusal} As `openSide`.
 */
export async function findPainted(
  db: Db,
  pack: Pack,
  which: string,
  brushId: string,
): Promise<PaintedBrush | undefined> {
  const { manifest, brushes } = which === NOW ? await freeze(db, pack, '') : await openRelease(db, pack, which)
  const recipe = manifest.brushes.find(({ id }) => id === brushId)?.recipe
  const { blobs: frames = [], grainBlob: grain } = brushes.find(({ id }) => id === brushId) ?? {}
  return recipe && { recipe, frames, grain }
}

async function openRelease(db: Db, pack: Pack, id: string) {
  const release = await findRelease(db, pack.workspaceId, id)
  if (release?.packId !== pack.id) throw notFound('release')
  return release
}

async function describePictures(
  db: Db,
  workspaceId: string,
  brushes: readonly ReleaseBrush[],
): Promise<Map<PixelSha, PictureFacts>> {
  const sizes = await findKept(db, workspaceId, [...new Set(brushes.flatMap(({ blobs }) => blobs))])
  return new Map(
    brushes.flatMap(({ pixels, blobs, widths, heights }) =>
      pixels.flatMap((sha, i): [PixelSha, PictureFacts][] => {
        const [blob, width, height] = [blobs[i], widths[i], heights[i]]
        const sizeBytes = blob && sizes.get(blob)
        return width && height && sizeBytes ? [[sha, { width, height, sizeBytes }]] : []
      }),
    ),
  )
}
