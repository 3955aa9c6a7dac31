import { create } from 'zustand'
import type { Wanted } from '../data/parcels.ts'

type Wrapping = { wanted: Wanted | undefined; wrap: (wanted: Wanted) => void; leave: () => void }

/** What is being wrapped up, from wherever it was asked for: the dialog for it stands once, around all stages. */
export const useWrapping = create<Wrapping>((set) => ({
  wanted: undefined,
  wrap: (wanted) => set({ wanted }),
  leave: () => set({ wanted: undefined }),
}))
