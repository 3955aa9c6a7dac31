import { randomUUID } from 'node:crypto'
import { mkdir, rm } from 'node:fs/promises'
import { join } from 'node:path'
import { deleteOrphanBlobs } from '../db/orphans.ts'
import { findParcel, setParcelMade } from '../db/parcels.ts'
import type { Deps } from '../deps.ts'
import { Refusal } from '../errors.ts'
import { measureFile } from '../pictures/measure.ts'
import { type JobHandler, JobRefused } from '../queue/queue.ts'
import { make } from './parcel-kinds.ts'

/** Makes a parcel's file. May run again: it is there once it is whole. */
export const makeParcel = (deps: Deps, scratch: string): JobHandler<'make-parcel'> => ({
  async run({ job, signal, progress }) {
    const { workspaceId, subjectId } = job
    const { db, blobs } = deps
    const parcel = await findParcel(db, workspaceId, subjectId)
    if (!parcel || parcel.fileName !== null) return
    const folder = join(scratch, randomUUID())
    await mkdir(folder, { recursive: true })
    try {
      const made = await make(deps, workspaceId, parcel.wanted, { signal, progress, folder })
      const { path, fileName, mediaType } = made
      const file = await measureFile(path)
      await db.transaction(async (tx) => {
        const { sha256, sizeBytes } = await blobs.adopt(tx, workspaceId, path, { ...file, mediaType })
        if (!(await setParcelMade(tx, parcel, { fileName, mediaType, sizeBytes, blobSha: sha256 })))
          await deleteOrphanBlobs(tx, workspaceId, [sha256])
      })
    } catch (error) {
      throw error instanceof Refusal && !(error instanceof JobRefused) ? new JobRefused(error.message) : error
    } finally {
      await rm(folder, { recursive: true, force: true })
      await deps.events.publish({ workspaceId, topic: 'parcels', id: subjectId })
    }
  },
})
