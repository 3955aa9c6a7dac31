import { queryOptions } from '@tanstack/react-query'

/** The SPDX list ships with the page, in a part of its own that is fetched when a licence is to be chosen. */
export const licencesQuery = queryOptions({
  queryKey: ['licences'],
  staleTime: Number.POSITIVE_INFINITY,
  queryFn: async () => {
    const { default: list } = await import('spdx-license-list')
    return Object.entries(list)
      .map(([id, { name }]) => ({ id, name }))
      .sort((a, b) => rank(a.id) - rank(b.id) || a.id.localeCompare(b.id))
  },
})

/** Licences made for pictures come first. */
const rank = (id: string) => (id.startsWith('CC') ? 0 : 1)
