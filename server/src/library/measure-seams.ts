import { listOldSeams, saveSeam } from '../db/materials.ts'
import type { Deps } from '../deps.ts'

const AT_ONCE = 20

/** Measures seams anew that were measured in an older way; one whose picture cannot be read keeps its figures. */
export async function measureOldSeams({ db, blobs, workers, events, log }: Deps): Promise<void> {
  const workspaces = new Set<string>()
  for (let old = await listOldSeams(db, AT_ONCE); old.length > 0; old = await listOldSeams(db, AT_ONCE)) {
    for (const material of old) {
      const { workspaceId, blobSha, seamAcross: across, seamDown: down } = material
      const measured = await blobs
        .read(workspaceId, blobSha)
        .then((png) => workers.run('measureSeam', { png }))
        .catch((error: Error) => {
          log.warn({ err: error, material: material.id }, 'a seam could not be measured')
          return { across, down }
        })
      await saveSeam(db, material, measured)
      workspaces.add(workspaceId)
    }
  }
  for (const workspaceId of workspaces) await events.publish({ workspaceId, topic: 'library' })
}
