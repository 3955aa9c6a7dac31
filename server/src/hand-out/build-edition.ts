import { findBuild, setBuildState } from '../db/editions.ts'
import { findRelease } from '../db/releases.ts'
import type { Deps } from '../deps.ts'
import type { JobHandler } from '../queue/queue.ts'
import { cutRelease } from './edition-release.ts'
import { licenceText } from './pack-texts.ts'
import { storeDownload } from './store-download.ts'

/** Builds what an edition gives of a release, and nothing of what it leaves out. */
export const buildEdition = (deps: Deps, scratchFolder: string): JobHandler<'build-edition'> => ({
  async run(context) {
    const { workspaceId, subjectId } = context.job
    const build = await findBuild(deps.db, workspaceId, subjectId)
    const release = build && (await findRelease(deps.db, workspaceId, build.releaseId))
    if (!build || !release || build.state === 'ready') return
    await setBuildState(deps.db, workspaceId, build.id, { state: 'building' })
    const { plan } = build.cut
    const cut = cutRelease(release, build.cut)
    const { licence, maker } = cut.manifest
    const hasOwnLicence = plan.licence !== '' || plan.licenceText !== ''
    const outgoing = {
      ...cut,
      openFiles: plan.openFiles,
      ...(hasOwnLicence ? { licenceText: await licenceText(licence, plan.licenceText, maker) } : {}),
    }
    try {
      await storeDownload(deps, outgoing, { ...context, scratchFolder }, (tx, zip) =>
        setBuildState(tx, workspaceId, build.id, { state: 'ready', ...zip }),
      )
    } catch (error) {
      if (!context.signal.aborted) await setBuildState(deps.db, workspaceId, build.id, { state: 'failed' })
      throw error
    } finally {
      await deps.events.publish({ workspaceId, topic: 'packs', id: release.packId })
    }
  },
})
