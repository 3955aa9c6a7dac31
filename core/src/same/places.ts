/**
 * Where brushes stand, and what becomes of these places when one brush is kept instead of others. A list is a set, a
 * pocket, a pack, a source or an install; what may stand in it more than once has slots, as a pocket has sizes. A brush stands
 * once in a slot of a list.
 */
export type Place = {
  /** Names the place: stays when another brush stands there. */
  id: string
  list: string
  slot: string
  brush: string
}

/** What becomes of a place: another brush stands there, or nothing does, since that one stands in the list already. */
export type Move = Place & { to: string | null }

const slotOf = ({ list, slot }: Pick<Place, 'list' | 'slot'>, brush: string) => JSON.stringify([list, slot, brush])

/**
 * What becomes of the places of brushes that go.
 *
 * @param places All places of the brushes that go and of those that are kept, in the order of their lists: of several
 *   that would hold the same brush the first one stays, and one that holds it already stays where it is.
 * @param keptOf Which brush is kept instead of each that goes. None of these goes itself.
 */
export function planMoves(places: readonly Place[], keptOf: ReadonlyMap<string, string>): Move[] {
  const taken = new Set(places.map((place) => slotOf(place, place.brush)))
  return places.flatMap((place): Move[] => {
    const kept = keptOf.get(place.brush)
    if (kept === undefined) return []
    const slot = slotOf(place, kept)
    if (taken.has(slot)) return [{ ...place, to: null }]
    taken.add(slot)
    return [{ ...place, to: kept }]
  })
}

/** What takes moves back: places that hold again what they held, and places that are put up again. */
export type Return = { back: Move[]; again: Place[] }

/**
 * Takes moves back as far as nothing else was done with their places since: where another brush was put, or the list is
 * empty of it, that stays.
 *
 * @param now All places of both brushes of each move, as they are by now.
 */
export function planReturn(now: readonly Place[], moves: readonly Move[]): Return {
  const byId = new Map(now.map((place) => [place.id, place]))
  const taken = new Set(now.map((place) => slotOf(place, place.brush)))
  const result: Return = { back: [], again: [] }
  for (const { to, ...place } of moves) {
    const slot = slotOf(place, place.brush)
    if (taken.has(slot)) continue
    if (to === null) {
      if (byId.has(place.id)) continue
      result.again.push(place)
    } else {
      const held = byId.get(place.id)
      if (held?.brush !== to) continue
      // where it was put into another slot since, it stays in that one
      if (taken.has(slotOf(held, place.brush))) continue
      result.back.push({ ...held, to: place.brush })
    }
    taken.add(slot)
  }
  return result
}

/** Places after moves. */
export function applyMoves(places: readonly Place[], moves: readonly Move[]): Place[] {
  const moved = new Map(moves.map((move) => [move.id, move]))
  return places.flatMap((place) => {
    const move = moved.get(place.id)
    if (!move) return [place]
    return move.to === null ? [] : [{ ...place, brush: move.to }]
  })
}

/** Places after moves were taken back. */
export const applyReturn = (places: readonly Place[], { back, again }: Return): Place[] => [
  ...applyMoves(places, back),
  ...again,
]
