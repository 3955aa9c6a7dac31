import { AsyncLocalStorage } from 'node:async_hooks'

/** Whose work something is: places are shared out among workspaces first, and within one among its members. */
export type Lane = { workspaceId: string; personId?: string | undefined }

/**
 * Who asks for what is done just now, and until when: set where a request or a job begins, read where heavy work is given
 * out. So every task in a request ends when its sender leaves, and every task in a job when that is stopped.
 */
export type Asking = Lane & {
  /** Aborted when nobody waits for it any more. */
  signal?: AbortSignal | undefined
  /** That nobody would miss it yet: whatever is asked for comes before it. */
  isBehind?: boolean | undefined
  /** The request it belongs to, for the log. */
  requestId?: string | undefined
}

const asking = new AsyncLocalStorage<Asking>()

/** What nobody in particular has asked for: the server's own upkeep. */
const NOBODY: Asking = { workspaceId: '' }

export const whoAsks = (): Asking => asking.getStore() ?? NOBODY

/** Does something in somebody's name; what is not said stays as it was. */
export const askAs = <Result>(who: Partial<Asking>, work: () => Result): Result =>
  asking.run({ ...whoAsks(), ...who }, work)
