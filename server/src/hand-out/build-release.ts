import { randomUUID } from 'node:crypto'
import { mkdir, rm } from 'node:fs/promises'
import { join } from 'node:path'
import { toUtf8 } from '@satchel/core/formats/text'
import { findRelease, setReleaseState } from '../db/releases.ts'
import type { Deps } from '../deps.ts'
import { measureFile } from '../pictures/blob-store.ts'
import type { JobHandler } from '../queue/queue.ts'
import { writeDownload } from './write-download.ts'

/** Builds a release's download once and stores it. May run again: the result is the same, byte for byte. */
export const buildRelease = (deps: Deps, scratchFolder: string): JobHandler<'build-release'> => ({
  async run(context) {
    const { workspaceId, subjectId } = context.job
    const release = await findRelease(deps.db, workspaceId, subjectId)
    if (!release || release.state === 'ready') return
    await setReleaseState(deps.db, workspaceId, release.id, { state: 'building' })
    const folder = join(scratchFolder, randomUUID())
    await mkdir(folder, { recursive: true })
    try {
      const built = await writeDownload(deps, release, { ...context, folder })
      const file = { ...(await measureFile(built.path)), mediaType: 'application/zip' }
      await deps.db.transaction(async (tx) => {
        const { sha256, sizeBytes } = await deps.blobs.adopt(tx, workspaceId, built.path, file)
        const contents = await deps.blobs.put(
          tx,
          workspaceId,
          toUtf8(JSON.stringify(built.contents)),
          'application/json',
        )
        const zip = { zipSha: sha256, zipBytes: sizeBytes, zipFiles: built.files, contentsSha: contents.sha256 }
        await setReleaseState(tx, workspaceId, release.id, { state: 'ready', ...zip })
      })
    } catch (error) {
      if (!context.signal.aborted) await setReleaseState(deps.db, workspaceId, release.id, { state: 'failed' })
      throw error
    } finally {
      await rm(folder, { recursive: true, force: true })
      await deps.events.publish({ workspaceId, topic: 'packs', id: release.packId })
    }
  },
})
