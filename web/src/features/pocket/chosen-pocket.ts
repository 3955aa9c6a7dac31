import { useSyncExternalStore } from 'react'

/** Which pocket lies at hand; it belongs to this browser, not to the workspace. */
const KEY = 'satchel-pocket'
const listeners = new Set<() => void>()

export function choosePocket(id: string): void {
  localStorage.setItem(KEY, id)
  for (const listener of listeners) listener()
}

export const chosenPocket = (): string | null => localStorage.getItem(KEY)

export const useChosenPocket = (): string | null =>
  useSyncExternalStore((listener) => {
    listeners.add(listener)
    return () => listeners.delete(listener)
  }, chosenPocket)
