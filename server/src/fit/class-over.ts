import type { AppDeps } from '../app-deps.ts'
import { listInstallsOf, listInstallsOver } from '../db/installs.ts'
import type { Deps } from '../deps.ts'
import { lookAgain } from '../look-again.ts'
import { takeOut } from './installs.ts'

const LOOK_MS = 5_000

/** What became of the folders of an edition: what was taken out, and what could not be, by name. */
export type TakenOut = { takenOut: { name: string; stayed: number }[]; failed: string[] }

/** Takes the brushes of an edition out of the folders of apps: these are as they were before. One that fails holds up no other. */
export async function takeOutOf(
  deps: Deps & Pick<AppDeps, 'log'>,
  workspaceId: string,
  editionId: string,
): Promise<TakenOut> {
  const done: TakenOut = { takenOut: [], failed: [] }
  for (const { id, name, state } of await listInstallsOf(deps.db, workspaceId, editionId)) {
    if (state !== 'in') continue
    try {
      const { stayed } = await takeOut(deps, workspaceId, id)
      done.takenOut.push({ name, stayed: stayed.length })
    } catch (error) {
      deps.log.error({ err: error, install: id }, 'what a class had in a folder could not be taken out')
      done.failed.push(name)
    }
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
