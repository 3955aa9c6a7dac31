import type { AppDeps } from '../app-deps.ts'
import { listWorkspaceIds } from '../db/members.ts'
import { hasFreshMarks } from '../db/same-marks.ts'
import type { Deps } from '../deps.ts'
import { lookAgain } from '../look-again.ts'

const LOOK_MS = 2_000
/** Changes are looked for from somewhat before the last look: what was under way then had its moment already. */
const BEFORE_MS = 60_000

/**
 * Has what comes new into libraries compared as it comes: by a job a workspace, where any mark waits for that.
 * @returns How to stop looking.
 */
export function keepComparing(deps: Deps & Pick<AppDeps, 'jobs'>): () => void {
  const { db, events, log, jobs } = deps
  const lastLook = new Map<string, Date>()
  /** Workspaces to be looked at; all of them at the start, and where changes may have been missed. */
  let changed = new Set<string>()
  let isAll = true
  events.onChange((workspaceId, topic) => {
    if (topic === 'marks') return
    if (workspaceId !== undefined) changed.add(workspaceId)
    else {
      isAll = true
      lastLook.clear()
    }
  })
  const look = async () => {
    if (isAll) {
      changed = new Set([...changed, ...(await listWorkspaceIds(db))])
      isAll = false
    }
    for (const workspaceId of changed) {
      const since = lastLook.get(workspaceId)
      const now = new Date()
      // what changes meanwhile is looked at again; where this fails, so is all that was not looked at
      changed.delete(workspaceId)
      try {
        if (await hasFreshMarks(db, workspaceId, since && new Date(since.getTime() - BEFORE_MS)))
          await compareNow({ jobs }, workspaceId)
        lastLook.set(workspaceId, now)
      } catch (error) {
        changed.add(workspaceId)
        throw error
      }
    }
  }
  return lookAgain(LOOK_MS, look, (error) => log.error({ err: error }, 'looking for new marks'))
}

/** Has the marks of a library compared that were not yet. */
export const compareNow = ({ jobs }: Pick<AppDeps, 'jobs'>, workspaceId: string) =>
  jobs.add({ workspaceId, kind: 'compare-marks', subjectId: workspaceId, title: 'Compare new marks', payload: {} })
