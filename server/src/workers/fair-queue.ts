import type { Lane } from '../asking.ts'

/**
 * What waits for its turn. Workspaces take turns, and the members of one take turns within it; what one member has asked for
 * goes by the order in which it was asked.
 */
export class FairQueue<Item> {
  /** Of each workspace its members', in the order of their turns. */
  readonly #waiting = new Map<string, Map<string, Item[]>>()
  #size = 0

  get size(): number {
    return this.#size
  }

  add(item: Item, { workspaceId, personId = '' }: Lane): void {
    const members = this.#waiting.get(workspaceId) ?? new Map<string, Item[]>()
    const items = members.get(personId) ?? []
    items.push(item)
    members.set(personId, items)
    this.#waiting.set(workspaceId, members)
    this.#size++
  }

  /**
   * Takes what comes next.
   * @param may Whether a workspace may have a turn; one that may not keeps its place.
   */
  take(may: (workspaceId: string) => boolean = () => true): Item | undefined {
    for (const [workspaceId, members] of this.#waiting) {
      if (!may(workspaceId)) continue
      const [turn] = members
      if (!turn) continue
      const [personId, items] = turn
      const item = items.shift()
      // whoever had a turn goes behind the others
      members.delete(personId)
      if (items.length > 0) members.set(personId, items)
      this.#waiting.delete(workspaceId)
      if (members.size > 0) this.#waiting.set(workspaceId, members)
      this.#size--
      return item
    }
    return undefined
  }

  /** Takes one out that is not wanted any more. @returns Whether it was there. */
  remove(item: Item): boolean {
    for (const [workspaceId, members] of this.#waiting)
      for (const [personId, items] of members) {
        const at = items.indexOf(item)
        if (at < 0) continue
        items.splice(at, 1)
        if (items.length === 0) members.delete(personId)
        if (members.size === 0) this.#waiting.delete(workspaceId)
        this.#size--
        return true
      }
    return false
  }

  /** Takes out all that wait. */
  clear(): Item[] {
    const all = [...this.#waiting.values()].flatMap((members) => [...members.values()].flat())
    this.#waiting.clear()
    this.#size = 0
    return all
  }
}
