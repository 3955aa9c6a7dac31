import { create } from 'zustand'
import { persist } from 'zustand/middleware'

/** Sets that came together, under the folder or zip they came in; a set that came alone stands for itself. */
export function byFolder<InFolder extends { folder: string }>(
  sets: readonly InFolder[],
): { folder: string; sets: InFolder[] }[] {
  const groups: { folder: string; sets: InFolder[] }[] = []
  const found = new Map<string, InFolder[]>()
  const together = (folder: string) => sets.filter((set) => set.folder === folder).length > 1
  for (const set of sets) {
    const group = set.folder === '' || !together(set.folder) ? undefined : found.get(set.folder)
    if (group) {
      group.push(set)
      continue
    }
    const folder = set.folder !== '' && together(set.folder) ? set.folder : ''
    const members = [set]
    if (folder) found.set(folder, members)
    groups.push({ folder, sets: members })
  }
  return groups
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
