import type { Recipe } from '@satchel/core/brush/recipe'
import type { FileSha, PixelSha } from '@satchel/core/hashes'
import type { Contents, PictureFacts } from '@satchel/core/releases/difference'
import type { Db } from '../db/database.ts'
import { findKept } from '../db/mends.ts'
import type { Pack } from '../db/packs.ts'
import { findRelease } from '../db/releases.ts'
import type { ReleaseBrush } from '../db/schema/packs.ts'
import { notFound } from '../errors.ts'
import { freeze } from './freeze.ts'

/** The pack as it is now, in the place of a release. */
export const NOW = 'now'

/** What of a brush is painted with. */
export type PaintedBrush = { recipe: Recipe; frames: FileSha[]; grain: FileSha | undefined }

/** One side of a comparison: all that it holds, and with what its brushes paint, by their ids. */
export type Side = { contents: Contents; brushes: ReadonlyMap<string, PaintedBrush> }

/**
 * A release of a pack, or the pack as it is now, to be compared.
 * @throws {Refusal} If there is no such release, or nothing in the pack that could be released.
 */
export async function openSide(db: Db, pack: Pack, which: string): Promise<Side> {
  const { manifest, brushes, licenceText } =
    which === NOW ? await freeze(db, pack, '') : await openRelease(db, pack, which)
  const stored = new Map(brushes.map((brush) => [brush.id, brush]))
  return {
    contents: { manifest, licenceText, pictures: await describePictures(db, pack.workspaceId, brushes) },
    brushes: new Map(
      manifest.brushes.map(({ id, recipe }) => {
        const { blobs: frames = [], grainBlob: grain } = stored.get(id) ?? {}
        return [id, { recipe, frames, grain }]
      }),
    ),
  }
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
