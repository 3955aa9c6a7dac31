import { setTimeout as sleep } from 'node:timers/promises'
import { type Workspace, WorkspaceProblem } from './connection.ts'

const LOOK_MS = 500
const OVER: ReadonlySet<string> = new Set(['done', 'ready'])
const LOST: ReadonlySet<string> = new Set(['failed', 'stopped'])

/** Waits until something is done that the workspace works at. @throws {WorkspaceProblem} Where it fails, is stopped, or is gone. */
export async function ended<Task extends { state: string; error?: string | null }>(
  there: Workspace,
  what: string,
  look: () => Promise<Task | undefined>,
): Promise<Task> {
  for (;;) {
    const task = await look()
    if (!task) throw new WorkspaceProblem(there.shown, `${what} is not there any more; look at the page.`)
    if (OVER.has(task.state)) return task
    if (LOST.has(task.state))
      throw new WorkspaceProblem(
        there.shown,
        task.error ?? `${what} ${task.state === 'failed' ? 'failed' : 'was stopped'}; look at the page.`,
      )
    await sleep(LOOK_MS)
  }
}
