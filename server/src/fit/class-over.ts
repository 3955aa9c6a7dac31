import type { AppDeps } from '../app-deps.ts'
import { listInstallsOf, listInstallsOver } from '../db/installs.ts'
import type { Deps } from '../deps.ts'
import { lookAgain } from '../look-again.ts'
import { takeOut } from './installs.ts'

const LOOK_MS = 5_000

/** Takes the brushes of an edition out of the folders of apps: these are as they were before. @returns What was taken out. */
export async function takeOutOf(
  deps: Deps,
  workspaceId: string,
  editionId: string,
): Promise<{ name: string; destinationId: string; stayed: number }[]> {
  const done: { name: string; destinationId: string; stayed: number }[] = []
  for (const { id, name, destinationId, state } of await listInstallsOf(deps.db, workspaceId, editionId)) {
    if (state !== 'in') continue
    const { stayed } = await takeOut(deps, workspaceId, id)
    done.push({ name, destinationId, stayed: stayed.length })
  }
  return done
}

/**
 * Takes out what editions have in the folders of apps once they are over.
 * @returns How to stop looking.
 */
export function keepFolders(deps: Deps & Pick<AppDeps, 'events' | 'log'>): () => void {
  const look = async () => {
    for (const { id, workspaceId } of await listInstallsOver(deps.db, new Date())) {
      // one that cannot be taken out holds up no other
      try {
        await takeOut(deps, workspaceId, id)
        await deps.events.publish({ workspaceId, topic: 'fit' })
      } catch (error) {
        deps.log.error({ err: error, install: id }, 'what a class had in a folder could not be taken out')
      }
    }
  }
  return lookAgain(LOOK_MS, look, (error) => deps.log.error({ err: error }, 'folders of classes'))
}
