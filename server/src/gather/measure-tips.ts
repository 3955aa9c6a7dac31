import pMap from 'p-map'
import { listUnmeasuredTips, setTipMarks } from '../db/gather-duplicates.ts'
import type { Deps } from '../deps.ts'

const TIPS_AT_ONCE = 100

/** Measures tips of the library that were added before tips were measured like this. */
export async function measureTips(deps: Deps, workspaceId: string, signal?: AbortSignal): Promise<void> {
  for (;;) {
    const tips = await listUnmeasuredTips(deps.db, workspaceId, TIPS_AT_ONCE)
    if (tips.length === 0) return
    const measured = await pMap(
      tips,
      async ({ id, blobSha, reading }) => {
        signal?.throwIfAborted()
        const png = await deps.blobs.read(workspaceId, blobSha)
        return { id, ...(await deps.workers.run('printAlike', { png, reading })) }
      },
      { concurrency: deps.workers.threads },
    )
    await setTipMarks(deps.db, workspaceId, measured)
  }
}
