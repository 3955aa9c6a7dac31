import { create } from 'zustand'
import { persist } from 'zustand/middleware'

export type Theme = 'light' | 'dark'

const systemIsDark = () => window.matchMedia('(prefers-color-scheme: dark)')

/** What the person chose, and what the system asks for until then. */
const useChoice = create(
  persist(() => ({ chosen: undefined as Theme | undefined, system: 'light' as Theme }), {
    name: 'satchel-theme',
    partialize: ({ chosen }) => ({ chosen }),
  }),
)

const themeOf = ({ chosen, system }: { chosen: Theme | undefined; system: Theme }): Theme => chosen ?? system

/** Sets the theme before the first paint, and follows the system until the person chooses. */
export function startTheme(): void {
  const query = systemIsDark()
  const follow = () => useChoice.setState({ system: query.matches ? 'dark' : 'light' })
  const show = () => {
    document.documentElement.dataset.theme = themeOf(useChoice.getState())
  }
  useChoice.subscribe(show)
  query.addEventListener('change', follow)
  follow()
  show()
}

export function useTheme(): [Theme, () => void] {
  const theme = useChoice(themeOf)
  return [theme, () => useChoice.setState({ chosen: theme === 'dark' ? 'light' : 'dark' })]
}
