import { prepareEditions } from '../db/editions.ts'
import { findRelease, setReleaseState } from '../db/releases.ts'
import type { Deps } from '../deps.ts'
import type { JobHandler } from '../queue/queue.ts'
import { storeDownload } from './store-download.ts'

/** Builds a release's download once and stores it. May run again: the result is the same, byte for byte. */
export const buildRelease = (deps: Deps, scratchFolder: string): JobHandler<'build-release'> => ({
  async run(context) {
    const { workspaceId, subjectId } = context.job
    const release = await findRelease(deps.db, workspaceId, subjectId)
    if (!release || release.state === 'ready') return
    await setReleaseState(deps.db, workspaceId, release.id, { state: 'building' })
    try {
      await storeDownload(deps, release, { ...context, scratchFolder }, async (tx, zip) => {
        await setReleaseState(tx, workspaceId, release.id, { state: 'ready', ...zip })
        // whoever follows with an edition gets this one from now on
        await prepareEditions(tx, workspaceId, { packId: release.packId })
      })
    } catch (error) {
      if (!context.signal.aborted) await setReleaseState(deps.db, workspaceId, release.id, { state: 'failed' })
      throw error
    } finally {
      await deps.events.publish({ workspaceId, topic: 'packs', id: release.packId })
    }
  },
})
