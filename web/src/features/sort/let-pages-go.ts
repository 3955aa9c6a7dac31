import type { QueryClient } from '@tanstack/react-query'

/** Pages of lists that are kept beside those in view: whoever comes back to them at once finds them there. */
const PAGES_KEPT = 40

/** Lets go of pages of lists that were left longest ago: however far somebody walks, no more of them are held. */
export function letPagesGo(client: QueryClient): void {
  const cache = client.getQueryCache()
  const left = cache
    .getAll()
    .filter(({ queryKey: [root, part] }) => (root === 'brushes' || root === 'brushes-by-look') && part === 'page')
    .filter((query) => query.getObserversCount() === 0 && query.state.fetchStatus === 'idle')
    .sort((a, b) => b.state.dataUpdatedAt - a.state.dataUpdatedAt)
  for (const query of left.slice(PAGES_KEPT)) cache.remove(query)
}
