import type { RackSetup } from '../pack/setup-card.ts'

export type PocketEntry = { id: string; brushId: string; sizePx: number; label: string }
/** What of a library a setup card may change: which sets are out of sight, and its pockets. */
export type Rack = {
  sets: readonly { id: string; isHidden: boolean }[]
  pockets: readonly { id: string; entries: readonly PocketEntry[] }[]
}

/** What a card has changed of a rack: sets that it wants out of sight, and pockets that came with it as they came. */
export type LaidOut = {
  hidden: readonly string[]
  pockets: readonly { id: string; entries: readonly PocketEntry[] }[]
}

/**
 * The sets that a card hides: those of its own that it names, and all others where it says so. A set that the owner has out of sight
 * already is none of them; one that another card hides is.
 * @param own The sets that its brushes went to, by what those are called where it comes from.
 * @param inUse Other cards that are laid out.
 */
export function setsToHide(
  { hidden, hidesOthers }: Pick<RackSetup, 'hidden' | 'hidesOthers'>,
  { sets }: Pick<Rack, 'sets'>,
  own: ReadonlyMap<string, string>,
  inUse: readonly LaidOut[],
): string[] {
  const named = new Set(hidden.flatMap((name) => own.get(name) ?? []))
  const ownIds = new Set(own.values())
  const byCards = new Set(inUse.flatMap((card) => card.hidden))
  return sets.flatMap(({ id, isHidden }) => {
    const isWanted = named.has(id) || (hidesOthers && !ownIds.has(id))
    return isWanted && (!isHidden || byCards.has(id)) ? [id] : []
  })
}

/** What putting a card back does. */
export type PuttingBack = {
  /** Sets that are shown again. */
  shows: string[]
  /** Entries of pockets that go. */
  removes: string[]
  /** Pockets that go whole. */
  putsAway: string[]
  /** Entries of its pockets that were added or changed since, and stay. */
  kept: number
}

/**
 * Plans how a rack is put back as it was before a card: whatever was changed of it since stays as it is.
 * @param others Other cards that are laid out: what they hide stays hidden.
 */
export function planPutBack(laid: LaidOut, now: Rack, others: readonly LaidOut[]): PuttingBack {
  const wanted = new Set(others.flatMap(({ hidden }) => hidden))
  const isHidden = new Set(now.sets.flatMap((set) => (set.isHidden ? [set.id] : [])))
  const plan: PuttingBack = {
    shows: laid.hidden.filter((id) => isHidden.has(id) && !wanted.has(id)),
    removes: [],
    putsAway: [],
    kept: 0,
  }
  for (const { id, entries } of laid.pockets) {
    const there = now.pockets.find((pocket) => pocket.id === id)
    if (!there) continue
    const came = new Map(entries.map((entry) => [entry.id, entry]))
    const stay = there.entries.filter((entry) => !isAsItCame(entry, came.get(entry.id)))
    plan.kept += stay.length
    if (stay.length === 0) plan.putsAway.push(id)
    else plan.removes.push(...there.entries.filter((entry) => !stay.includes(entry)).map((entry) => entry.id))
  }
  return plan
}

const isAsItCame = (now: PocketEntry, came: PocketEntry | undefined): boolean =>
  came !== undefined && came.sizePx === now.sizePx && came.label === now.label && came.brushId === now.brushId
