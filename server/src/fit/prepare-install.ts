import { addInstallPart, changeInstall, findInstall, listInstallFiles } from '../db/installs.ts'
import { deleteOrphanBlobs } from '../db/orphans.ts'
import type { Deps } from '../deps.ts'
import { type JobHandler, JobStopped } from '../queue/queue.ts'
import { writeBrushes } from './write-brushes.ts'

/**
 * Writes the files of an install and keeps them; the folder of the app stays as it is until somebody puts them in. Stopped
 * or killed, it goes on where it was: every part is kept as it is written.
 */
export const prepareInstallJob = (deps: Deps): JobHandler<'fit-install'> => ({
  async run({ job: { workspaceId, subjectId }, progress, signal }) {
    const install = await findInstall(deps.db, workspaceId, subjectId)
    if (install?.state !== 'preparing') throw new JobStopped()
    const { brushIds, writtenCount, grains } = install
    progress(writtenCount, brushIds.length)
    await writeBrushes(deps, install, brushIds.slice(writtenCount), {
      avoid: [],
      signal,
      written: { files: await listInstallFiles(deps.db, workspaceId, subjectId), grains },
      onPart: async (part, done) => {
        let isKept = false
        try {
          signal.throwIfAborted()
          isKept = await deps.db.transaction((tx) =>
            addInstallPart(tx, install, { ...part, writtenCount: writtenCount + done }),
          )
        } finally {
          const unkept = isKept ? [] : part.files.map(({ blobSha }) => blobSha)
          await deleteOrphanBlobs(deps.db, workspaceId, unkept)
        }
        // forgotten meanwhile: nobody wants the rest
        if (!isKept) throw new JobStopped()
        progress(writtenCount + done, brushIds.length)
      },
    })
    await changeInstall(deps.db, install, { state: 'ready' })
    await deps.events.publish({ workspaceId, topic: 'fit' })
  },
})
