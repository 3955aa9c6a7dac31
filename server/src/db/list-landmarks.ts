/** Lines between one landmark of a list and the next. */
export const LANDMARK_LINES = 100
/** Orders of lists that are kept for one workspace: its filters, searches and sorts. */
const ORDERS_MAX = 64

/** The values that a list is ordered by, as text, at one line of it. */
export type Landmark = readonly string[]

/** Tells of changes that move lines of a workspace's lists. */
export type ListChanges = {
  /** Whether changes are heard of just now. */
  readonly isListening: boolean
  /** @param listener Called with the workspace, or without one when changes may have been missed. */
  onChange(listener: (workspaceId: string | undefined) => void): void
}

/**
 * Every 100th line of the lists that were looked at, so that a place far down is found from the nearest one: a database
 * can only count to it, and at 100,000 lines that takes longer than all else. Kept until the library changes.
 */
export class ListLandmarks {
  readonly #changes: ListChanges
  readonly #kept = new Map<string, Map<string, Promise<unknown>>>()

  constructor(changes: ListChanges) {
    this.#changes = changes
    changes.onChange((workspaceId) => this.drop(workspaceId))
  }

  /** Forgets what is known of a workspace's lists, or of all. */
  drop(workspaceId: string | undefined): void {
    if (workspaceId === undefined) this.#kept.clear()
    else this.#kept.delete(workspaceId)
  }

  /**
   * @param order Names the list: what it is narrowed by, and its order.
   * @param find Fetches the landmarks where they are not known yet.
   * @returns The landmarks of lines 0, 100, 200 …; undefined while changes are not heard of.
   */
  async of(workspaceId: string, order: string, find: () => Promise<Landmark[]>): Promise<Landmark[] | undefined> {
    return this.#changes.isListening ? this.keep(workspaceId, order, find) : undefined
  }

  /**
   * Anything else that follows from a workspace's library, found once until that changes; while changes are not heard of it is
   * found each time.
   */
  async keep<Found>(workspaceId: string, name: string, find: () => Promise<Found>): Promise<Found> {
    if (!this.#changes.isListening) return find()
    const all = this.#kept.get(workspaceId) ?? new Map<string, Promise<unknown>>()
    this.#kept.set(workspaceId, all)
    const known = all.get(name) as Promise<Found> | undefined
    if (known) return known
    if (all.size >= ORDERS_MAX) all.clear()
    const found = find()
    all.set(name, found)
    found.catch(() => all.delete(name))
    return found
  }
}
