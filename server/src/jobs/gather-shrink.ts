import { HEAVY_TIP_SIDE_PX } from '@satchel/core/limits'
import { loadGatherLines, setLineFrames } from '../db/gathers.ts'
import type { StoredFrame } from '../db/schema/library.ts'
import type { Deps } from '../deps.ts'
import { toPixelKey } from '../workers/read-tip.ts'
import { markDuplicates } from './mark-duplicates.ts'
import type { JobHandler } from './queue.ts'

export const GATHER_SHRINK = 'gather-shrink'

/** Puts smaller copies in the place of heavy tips, for the lines named in the payload. */
export const gatherShrink = (deps: Deps): JobHandler => ({
  async run({ job, progress, signal }) {
    const { workspaceId, payload } = job
    const gatherId = String(payload.gatherId)
    const lines = await loadGatherLines(deps.db, workspaceId, gatherId, payload.lineIds as string[])
    for (const [i, line] of lines.entries()) {
      signal.throwIfAborted()
      progress(i, lines.length)
      if (line.fullFrames || line.frames.length === 0) continue
      const frames: StoredFrame[] = []
      for (const frame of line.frames) {
        const png = await deps.blobs.read(workspaceId, frame.blobSha)
        const small = await deps.workers.run('shrink', { png, sidePx: HEAVY_TIP_SIDE_PX })
        const { sha256 } = await deps.blobs.put(deps.db, workspaceId, small.png, 'image/png')
        frames.push({ blobSha: sha256, pixelSha: small.pixelSha, width: small.width, height: small.height })
      }
      await setLineFrames(deps.db, line, {
        frames,
        fullFrames: line.frames,
        width: frames[0]?.width ?? 0,
        height: frames[0]?.height ?? 0,
        pixelKey: toPixelKey(frames.map((frame) => frame.pixelSha)),
      })
      await deps.events.publish({ workspaceId, topic: 'gather', id: gatherId })
    }
    progress(lines.length, lines.length)
    await markDuplicates(deps.db, workspaceId, gatherId)
    await deps.events.publish({ workspaceId, topic: 'gather', id: gatherId })
  },
})
