import { create } from 'zustand'
import { persist } from 'zustand/middleware'

/** A place of the rack: a set that lies there, or one that holds sets. */
export type Place<Set> = { set: Set } | { outer: string; sets: Set[] }

/** The rack: sets in their order, those that lie inside one together, where the first of them stands. */
export function placesOf<Set extends { folder: string }>(sets: readonly Set[]): Place<Set>[] {
  const places: Place<Set>[] = []
  const found = new Map<string, Set[]>()
  for (const set of sets) {
    const group = found.get(set.folder)
    if (set.folder === '') places.push({ set })
    else if (group) group.push(set)
    else {
      const inner = [set]
      found.set(set.folder, inner)
      places.push({ outer: set.folder, sets: inner })
    }
  }
  return places
}

/** Which folders are folded on this browser's rack. */
const useFolded = create(persist(() => ({ folded: [] as string[] }), { name: 'satchel-folded' }))

export function useFold(folder: string): [boolean, () => void] {
  const isFolded = useFolded(({ folded }) => folded.includes(folder))
  const toggle = () =>
    useFolded.setState(({ folded }) => ({
      folded: folded.includes(folder) ? folded.filter((each) => each !== folder) : [...folded, folder],
    }))
  return [isFolded, toggle]
}
