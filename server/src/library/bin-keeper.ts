import { forgetActs } from '../db/acts.ts'
import { emptyBin } from '../db/brush-bin.ts'
import { emptyMaterialBin } from '../db/materials.ts'
import { listWorkspaceIds } from '../db/members.ts'
import { deleteOrphanBlobs } from '../db/orphans.ts'
import { forgetOldParcels } from '../db/parcels.ts'
import { emptySourceBin } from '../db/sources.ts'
import { forgetOldUploads } from '../db/uploads.ts'
import type { Deps } from '../deps.ts'

const DAY_MS = 24 * 60 * 60 * 1000
const KEPT_DAYS = 30
/** How long a file waits to be fetched: it can be made again at any time. */
const PARCEL_DAYS = 2
const EVERY_MS = 6 * 60 * 60 * 1000

/**
 * Deletes for good what has lain in a bin for 30 days, uploads that nobody went on with, and files that nobody fetched.
 * @returns How to stop looking.
 */
export function keepBins({ db, events, log }: Pick<Deps, 'db' | 'events' | 'log'>): () => void {
  const look = async () => {
    for (const workspaceId of await listWorkspaceIds(db)) {
      const until = new Date(Date.now() - KEPT_DAYS * DAY_MS)
      await emptyOldBin(db, workspaceId, until)
      await forgetOldUploads(db, workspaceId, until)
      await forgetOldParcels(db, workspaceId, new Date(Date.now() - PARCEL_DAYS * DAY_MS))
      await events.publish({ workspaceId, topic: 'library' })
    }
  }
  const run = () => void look().catch((error: Error) => log.error({ err: error }, 'emptying bins'))
  run()
  const timer = setInterval(run, EVERY_MS)
  return () => clearInterval(timer)
}

/** Empties one bin of what was put there before `until`, with the pictures that nothing else uses. */
export const emptyOldBin = (db: Deps['db'], workspaceId: string, until: Date): Promise<void> =>
  db.transaction(async (tx) => {
    await emptyBin(tx, workspaceId, until)
    const madeBefore = new Date(Date.now() - KEPT_DAYS * DAY_MS)
    await forgetActs(tx, workspaceId, { binnedBefore: until, madeBefore })
    await deleteOrphanBlobs(tx, workspaceId, await emptyMaterialBin(tx, workspaceId, until))
    await deleteOrphanBlobs(tx, workspaceId, await emptySourceBin(tx, workspaceId, until))
  })
