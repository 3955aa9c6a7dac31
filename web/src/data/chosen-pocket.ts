import { create } from 'zustand'
import { persist } from 'zustand/middleware'

/** Which pocket lies at hand; it belongs to this browser, not to the workspace. */
const useChosen = create(persist(() => ({ id: null as string | null }), { name: 'satchel-pocket' }))

export function choosePocket(id: string): void {
  useChosen.setState({ id })
}
export const chosenPocket = (): string | null => useChosen.getState().id
export const useChosenPocket = (): string | null => useChosen(({ id }) => id)
