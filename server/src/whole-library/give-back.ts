import { randomUUID } from 'node:crypto'
import { mkdir, rm } from 'node:fs/promises'
import { join } from 'node:path'
import { sql } from 'drizzle-orm'
import { deleteParcel, findParcel } from '../db/parcels.ts'
import { findStarters, insertLibrary, isLibraryEmpty } from '../db/whole-library.ts'
import type { Deps } from '../deps.ts'
import { type JobContext, type JobHandler, JobRefused } from '../queue/queue.ts'

export const NOT_EMPTY =
  'This library is not empty, so nothing was put into it. Drop the file into Gather: its brushes and sets come one by one.'
const UNIQUE_VIOLATION = '23505'

/**
 * Gives an empty library everything of a library file: rows all at once, after their files. May run again: files that are
 * there are not stored twice, and rows are there altogether or not at all.
 */
export const giveBackJob = (deps: Deps, scratch: string): JobHandler<'give-back'> => ({
  async run(context) {
    const { workspaceId } = context.job
    const parcel = await findParcel(deps.db, workspaceId, context.payload.parcelId)
    if (!parcel?.blobSha) throw new JobRefused('The file is not here any more; send it again.')
    const folder = join(scratch, randomUUID())
    await mkdir(folder, { recursive: true })
    try {
      await giveBack(deps, context, { path: await deps.blobs.path(workspaceId, parcel.blobSha), folder })
      await deleteParcel(deps.db, parcel)
    } catch (error) {
      // what cannot be put in is not kept; one that was only interrupted is tried again
      if (error instanceof JobRefused) await deleteParcel(deps.db, parcel)
      throw error
    } finally {
      await rm(folder, { recursive: true, force: true })
      for (const topic of ['library', 'packs', 'parcels', 'sources', 'pockets', 'fit'] as const)
        await deps.events.publish({ workspaceId, topic })
    }
  },
})

async function giveBack(
  { db, blobs, workers }: Deps,
  { job, signal, progress }: JobContext<'give-back'>,
  place: { path: string; folder: string },
): Promise<void> {
  const { workspaceId } = job
  if (!(await isLibraryEmpty(db, workspaceId))) throw new JobRefused(NOT_EMPTY)
  const unpacked = await workers.run(
    'unpackLibrary',
    { ...place, starters: await findStarters(db, workspaceId) },
    { signal },
  )
  if ('refused' in unpacked) throw new JobRefused(`Nothing was put in. ${unpacked.refused}`)
  const { info, rows } = unpacked
  const total = info.files.length + 1
  for (const [i, { sha256, mediaType }] of info.files.entries()) {
    signal.throwIfAborted()
    await blobs.putFile(db, workspaceId, join(place.folder, 'files', sha256), mediaType)
    progress(i + 1, total)
  }
  try {
    await db.transaction(async (tx) => {
      // whoever brings something in meanwhile waits, or is seen
      await tx.execute(sql`select 1 from workspace where id = ${workspaceId} for update`)
      if (!(await isLibraryEmpty(tx, workspaceId))) throw new JobRefused(NOT_EMPTY)
      await insertLibrary(tx, workspaceId, info, rows)
    })
  } catch (error) {
    if (isUniqueViolation(error))
      throw new JobRefused(
        'Nothing was put in: this library, or a part of it, is another one’s on this server already. Drop the file into Gather instead.',
      )
    throw error
  }
  progress(total, total)
}

const isUniqueViolation = (error: unknown): boolean =>
  error instanceof Error && (('code' in error && error.code === UNIQUE_VIOLATION) || isUniqueViolation(error.cause))
