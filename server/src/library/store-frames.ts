import type { AlikePrint } from '@satchel/core/alike/alike-print'
import { type NewTip, setTip } from '../db/brush-tips.ts'
import type { StoredFrame } from '../db/schema/library.ts'
import type { Deps } from '../deps.ts'
import { toPixelKey } from '../workers/read-tip.ts'
import type { ReadFrame } from '../workers/results.ts'

export type NewFrames = {
  workspaceId: string
  id: string
  /** The version the change was made on. */
  from: number
  names: readonly (string | undefined)[]
  frames: readonly ReadFrame[]
  alike: AlikePrint | undefined
}

/** Gives a brush other frames, as a new version. @returns Its number; undefined when the brush has moved on meanwhile. */
export async function storeFrames(
  { db, blobs }: Pick<Deps, 'db' | 'blobs'>,
  { workspaceId, id, from, names, frames, alike }: NewFrames,
): Promise<number | undefined> {
  return db.transaction(async (tx) => {
    const stored: StoredFrame[] = []
    for (const [i, { png, pixelSha, width, height }] of frames.entries()) {
      const { sha256 } = await blobs.put(tx, workspaceId, png, 'image/png')
      const name = names[i]
      stored.push({ blobSha: sha256, pixelSha, width, height, ...(name ? { name } : {}) })
    }
    const tip: NewTip = {
      frames: stored,
      pixelKey: toPixelKey(stored.map((frame) => frame.pixelSha)),
      alikeKey: alike?.key ?? null,
      alikeMark: alike?.mark ?? null,
    }
    return setTip(tx, workspaceId, id, { tip, from })
  })
}
