import { randomUUID } from 'node:crypto'
import { mkdir, rename, rm } from 'node:fs/promises'
import { join } from 'node:path'
import { findParcel, setParcelMade } from '../db/parcels.ts'
import type { Deps } from '../deps.ts'
import { Refusal } from '../errors.ts'
import { type JobHandler, JobRefused } from '../queue/queue.ts'
import { parcelPath } from './parcel-files.ts'
import { make } from './parcel-kinds.ts'

/** Makes a parcel's file. May run again: it is there once it is whole. */
export const makeParcel = (deps: Deps, folders: { scratch: string; parcels: string }): JobHandler<'make-parcel'> => ({
  async run({ job, signal, progress }) {
    const { workspaceId, subjectId } = job
    const parcel = await findParcel(deps.db, workspaceId, subjectId)
    if (!parcel || parcel.fileName !== null) return
    const folder = join(folders.scratch, randomUUID())
    await mkdir(folder, { recursive: true })
    try {
      const { path, ...made } = await make(deps, workspaceId, parcel.wanted, { signal, progress, folder })
      await mkdir(folders.parcels, { recursive: true })
      await rename(path, parcelPath(folders.parcels, parcel.id))
      await setParcelMade(deps.db, parcel, made)
    } catch (error) {
      throw error instanceof Refusal && !(error instanceof JobRefused) ? new JobRefused(error.message) : error
    } finally {
      await rm(folder, { recursive: true, force: true })
      await deps.events.publish({ workspaceId, topic: 'parcels', id: subjectId })
    }
  },
})
