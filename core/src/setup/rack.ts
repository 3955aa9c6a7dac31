import * as v from 'valibot'
import type { RackSetup } from '../pack/setup-card.ts'

const PocketEntry = v.object({ id: v.string(), brushId: v.string(), sizePx: v.number(), label: v.string() })
export type PocketEntry = v.InferOutput<typeof PocketEntry>
/** What of a library a setup card may change: which sets are out of sight, and its pockets. */
export type Rack = {
  sets: readonly { id: string; isHidden: boolean }[]
  pockets: readonly { id: string; entries: readonly PocketEntry[] }[]
}

/** What a card has changed of a rack: sets that it wants out of sight, and pockets that came with it as they came. */
export const LaidOut = v.object({
  hidden: v.array(v.string()),
  pockets: v.array(v.object({ id: v.string(), entries: v.array(PocketEntry) })),
})
export type LaidOut = v.InferOutput<typeof LaidOut>

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
export const PuttingBack = v.object({
  /** Sets that are shown again. */
  shows: v.array(v.string()),
  /** Entries of pockets that go. */
  removes: v.array(v.string()),
  /** Pockets that go whole. */
  putsAway: v.array(v.string()),
  /** Entries of its pockets that were added or changed since, and stay. */
  kept: v.number(),
})
export type PuttingBack = v.InferOutput<typeof PuttingBack>

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
