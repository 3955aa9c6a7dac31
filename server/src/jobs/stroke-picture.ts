import type { PaintReading, Recipe } from '@satchel/core/brush/recipe'
import type { Deps } from '../deps.ts'

export type StrokeWish = { frames: string[]; recipe: Recipe; width: number; height: number; what: 'list' | 'gauge' }

/** A rendered stroke as PNG, from the cache or a worker thread. `key` names it for ever. */
export async function strokePicture(
  { renders, blobs, workers }: Pick<Deps, 'renders' | 'blobs' | 'workers'>,
  workspaceId: string,
  { frames, recipe, width, height, what }: StrokeWish,
): Promise<{ key: string; png: Uint8Array }> {
  const key = renders.key({ frames, recipe, width, height, what })
  const png = await renders.get(key, async () => {
    const pictures = await Promise.all(frames.map((sha) => blobs.read(workspaceId, sha)))
    return workers.run('renderStroke', { frames: pictures, recipe, width, height, what })
  })
  return { key, png }
}

/** A tip as it paints, small, as PNG; black on nothing, or in its own colours. */
export async function tipPicture(
  { renders, blobs, workers }: Pick<Deps, 'renders' | 'blobs' | 'workers'>,
  workspaceId: string,
  { blobSha, reading, sidePx }: { blobSha: string; reading: PaintReading; sidePx: number },
): Promise<{ key: string; png: Uint8Array }> {
  const key = renders.key({ tip: blobSha, reading, sidePx })
  const png = await renders.get(key, async () =>
    workers.run('renderTip', { png: await blobs.read(workspaceId, blobSha), reading, sidePx }),
  )
  return { key, png }
}
