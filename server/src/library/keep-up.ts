import type { AppDeps } from '../app-deps.ts'
import { listWorkspaceIds } from '../db/members.ts'
import type { Deps } from '../deps.ts'
import { lookAgain } from '../look-again.ts'

const LOOK_MS = 2_000
/** A look into a large library takes a while: the next one comes after so many times as long, and soon enough. */
const PAUSE_TIMES = 20
const PAUSE_MAX_MS = 20_000

/** What is worked out of a library behind those who use it, by a job a workspace. */
export type Work = {
  /** Whether any of it waits. */
  waits: (db: Deps['db'], workspaceId: string) => Promise<boolean>
  begin: (deps: Pick<AppDeps, 'jobs'>, workspaceId: string) => Promise<unknown>
}

/**
 * Has what comes new into libraries worked on as it comes, where any of it waits for that.
 * @returns How to stop looking.
 */
export function keepUp(deps: Deps & Pick<AppDeps, 'jobs'>, works: readonly Work[]): () => void {
  const { db, events, log, jobs } = deps
  /** Workspaces to be looked at; all of them at the start, and where changes may have been missed. */
  let changed = new Set<string>()
  let isAll = true
  const notBefore = new Map<string, number>()
  events.onChange((workspaceId, topic) => {
    // what was worked out is no change of the library: a job that fails must not call the next one
    if (topic !== undefined && topic !== 'library') return
    if (workspaceId === undefined) isAll = true
    else changed.add(workspaceId)
  })
  const look = async () => {
    if (isAll) {
      changed = new Set([...changed, ...(await listWorkspaceIds(db))])
      isAll = false
    }
    for (const workspaceId of changed) {
      const start = performance.now()
      if (start < (notBefore.get(workspaceId) ?? 0)) continue
      // what changes meanwhile is looked at again; where this fails, so is all that was not looked at
      changed.delete(workspaceId)
      try {
        for (const { waits, begin } of works) if (await waits(db, workspaceId)) await begin({ jobs }, workspaceId)
      } catch (error) {
        changed.add(workspaceId)
        throw error
      }
      const end = performance.now()
      notBefore.set(workspaceId, end + Math.min(PAUSE_MAX_MS, PAUSE_TIMES * (end - start)))
    }
  }
  return lookAgain(LOOK_MS, look, (error) => log.error({ err: error }, 'looking for what is new in libraries'))
}
