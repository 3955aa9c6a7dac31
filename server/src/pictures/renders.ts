import type { PaintReading, Recipe } from '@satchel/core/brush/recipe'
import type { FileSha } from '@satchel/core/hashes'
import { ENGINE_VERSION } from '@satchel/core/stroke/engine-version'
import type { StoredThumbnail } from '../db/schema/library.ts'
import type { Deps } from '../deps.ts'
import { PRINTED_SIZES } from '../workers/print.ts'
import type { PrintedKind } from '../workers/results.ts'

/** What to render: files of the frames and the grain, and how. */
export type StrokeWish = {
  frames: FileSha[]
  grain?: FileSha | undefined
  recipe: Recipe
  width: number
  height: number
  what: 'list' | 'gauge'
}

/** A rendered stroke as PNG, from the cache or a process of the pool. `key` names it for ever. */
export async function strokePicture(
  { renders, blobs, workers }: Pick<Deps, 'renders' | 'blobs' | 'workers'>,
  workspaceId: string,
  { frames, grain, recipe, width, height, what }: StrokeWish,
): Promise<{ key: string; png: Uint8Array }> {
  const key = renders.key({ engine: ENGINE_VERSION, frames, grain, recipe, width, height, what })
  const png = await renders.get(key, async () => {
    const read = (sha: FileSha) => blobs.read(workspaceId, sha)
    const pictures = {
      frames: await Promise.all(frames.map(read)),
      grain: grain === undefined ? undefined : await read(grain),
    }
    return workers.run('renderStroke', { ...pictures, recipe, width, height, what })
  })
  return { key, png }
}

/**
 * What stands for a brush in tiles and packs, as PNG: a picture made for it, else its stroke or frame, rendered once.
 * `key` names it for ever.
 */
export async function thumbnailPicture(
  { renders, blobs, workers }: Pick<Deps, 'renders' | 'blobs' | 'workers'>,
  workspaceId: string,
  {
    thumbnail,
    frames,
    grain,
    recipe,
  }: Pick<StrokeWish, 'frames' | 'grain' | 'recipe'> & { thumbnail: StoredThumbnail },
): Promise<{ key: string; png: Uint8Array }> {
  const read = (sha: FileSha) => blobs.read(workspaceId, sha)
  if ('blobSha' in thumbnail) return { key: thumbnail.blobSha, png: await read(thumbnail.blobSha) }
  const frame = thumbnail.from === 'frame' ? thumbnail.frame : undefined
  const key = renders.key({ thumbnail: ENGINE_VERSION, frames, grain, recipe, frame })
  const png = await renders.get(key, async () =>
    workers.run('renderThumbnail', {
      frames: await Promise.all(frames.map(read)),
      grain: grain === undefined ? undefined : await read(grain),
      recipe,
      frame,
    }),
  )
  return { key, png }
}

/** What is printed of a brush as PNG, opaque, from the cache or a process of the pool. */
export async function printedPicture(
  { renders, blobs, workers }: Pick<Deps, 'renders' | 'blobs' | 'workers'>,
  workspaceId: string,
  { frames, grain, recipe, what }: Pick<StrokeWish, 'frames' | 'grain' | 'recipe'> & { what: PrintedKind },
): Promise<Uint8Array> {
  const read = (sha: FileSha) => blobs.read(workspaceId, sha)
  const shown = what === 'tip' ? frames.slice(0, 1) : frames
  const key = renders.key({
    printed: what,
    size: PRINTED_SIZES[what],
    engine: ENGINE_VERSION,
    frames: shown,
    grain,
    recipe,
  })
  return renders.get(key, async () =>
    workers.run('renderPrinted', {
      frames: await Promise.all(shown.map(read)),
      grain: grain === undefined ? undefined : await read(grain),
      recipe,
      what,
    }),
  )
}

/** A tip as it paints, small, as PNG; black on nothing, or in its own colours. */
export async function tipPicture(
  { renders, blobs, workers }: Pick<Deps, 'renders' | 'blobs' | 'workers'>,
  workspaceId: string,
  { blobSha, reading, sidePx }: { blobSha: FileSha; reading: PaintReading; sidePx: number },
): Promise<{ key: string; png: Uint8Array }> {
  const key = renders.key({ tip: blobSha, reading, sidePx })
  const png = await renders.get(key, async () =>
    workers.run('renderTip', { png: await blobs.read(workspaceId, blobSha), reading, sidePx }),
  )
  return { key, png }
}

/** A source's picture as PNG, no larger than asked for. Its file may be of any kind that is taken. */
export async function sourcePicture(
  { renders, blobs, workers }: Pick<Deps, 'renders' | 'blobs' | 'workers'>,
  workspaceId: string,
  { blobSha, sidePx }: { blobSha: FileSha; sidePx: number },
): Promise<{ key: string; png: Uint8Array }> {
  const key = renders.key({ source: blobSha, sidePx })
  const png = await renders.get(key, async () =>
    workers.run('previewSource', { bytes: await blobs.read(workspaceId, blobSha), sidePx }),
  )
  return { key, png }
}
