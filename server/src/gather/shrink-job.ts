import { HEAVY_TIP_SIDE_PX } from '@satchel/core/limits'
import { loadGatherLines, setLineFrames } from '../db/gather-lines.ts'
import type { GatherLine } from '../db/gathers.ts'
import { deleteOrphanBlobs } from '../db/orphans.ts'
import type { StoredFrame } from '../db/schema/library.ts'
import type { Deps } from '../deps.ts'
import type { JobHandler } from '../queue/queue.ts'
import { toPixelKey } from '../workers/read-tip.ts'
import type { ReadFrame } from '../workers/results.ts'
import { markDuplicates } from './mark-duplicates.ts'

/** Puts smaller copies in the place of heavy tips, for the lines named in the payload. */
export const gatherShrink = (deps: Deps): JobHandler<'gather-shrink'> => ({
  async run({ job: { workspaceId }, payload: { gatherId, lineIds }, progress, signal }) {
    const lines = await loadGatherLines(deps.db, workspaceId, gatherId, { ids: lineIds })
    for (const [i, line] of lines.entries()) {
      signal.throwIfAborted()
      progress(i, lines.length)
      if (line.fullFrames || line.frames.length === 0) continue
      await shrinkLine(deps, line)
      await deps.events.publish({ workspaceId, topic: 'gather', id: gatherId })
    }
    progress(lines.length, lines.length)
    await markDuplicates(deps, workspaceId, gatherId, signal)
    await deps.events.publish({ workspaceId, topic: 'gather', id: gatherId })
  },
})

async function shrinkLine({ db, blobs, workers }: Deps, line: GatherLine): Promise<void> {
  const { workspaceId } = line
  const small: ReadFrame[] = []
  for (const frame of line.frames) {
    const png = await blobs.read(workspaceId, frame.blobSha)
    small.push(await workers.run('shrink', { png, sidePx: HEAVY_TIP_SIDE_PX }))
  }
  // Pictures and line change together: of a line that was cancelled meanwhile nothing is kept.
  await db.transaction(async (tx) => {
    const frames: StoredFrame[] = []
    for (const { png, pixelSha, width, height } of small) {
      const { sha256 } = await blobs.put(tx, workspaceId, png, 'image/png')
      frames.push({ blobSha: sha256, pixelSha, width, height })
    }
    const pixelKey = toPixelKey(frames.map((frame) => frame.pixelSha))
    const there = await setLineFrames(tx, line, { frames, fullFrames: line.frames, pixelKey })
    if (!there)
      await deleteOrphanBlobs(
        tx,
        workspaceId,
        frames.map((frame) => frame.blobSha),
      )
  })
}

/** Brings the frames back as they came; the smaller copies go. */
export async function restoreLine(db: Deps['db'], line: GatherLine): Promise<void> {
  const { fullFrames, frames, workspaceId } = line
  if (!fullFrames) return
  await db.transaction(async (tx) => {
    const pixelKey = toPixelKey(fullFrames.map((frame) => frame.pixelSha))
    await setLineFrames(tx, line, { frames: fullFrames, fullFrames: null, pixelKey })
    await deleteOrphanBlobs(
      tx,
      workspaceId,
      frames.map((frame) => frame.blobSha),
    )
  })
}
