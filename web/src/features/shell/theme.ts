import { useSyncExternalStore } from 'react'

export type Theme = 'light' | 'dark'

const KEY = 'satchel-theme'
const system = () => window.matchMedia('(prefers-color-scheme: dark)')
const listeners = new Set<() => void>()

function currentTheme(): Theme {
  const chosen = localStorage.getItem(KEY)
  if (chosen === 'light' || chosen === 'dark') return chosen
  return system().matches ? 'dark' : 'light'
}

function apply(): void {
  document.documentElement.dataset.theme = currentTheme()
  for (const listener of listeners) listener()
}

/** Sets the theme before the first paint, and follows the system until the person chooses. */
export function startTheme(): void {
  apply()
  system().addEventListener('change', apply)
}

export function useTheme(): [Theme, () => void] {
  const theme = useSyncExternalStore((listener) => {
    listeners.add(listener)
    return () => listeners.delete(listener)
  }, currentTheme)
  const toggle = () => {
    localStorage.setItem(KEY, theme === 'dark' ? 'light' : 'dark')
    apply()
  }
  return [theme, toggle]
}
