import { queryOptions } from '@tanstack/react-query'
import { api, read } from '../api/client.ts'

/** The rack: used by Sort, by the ledger's set names and by packs. */
export const setsQuery = queryOptions({ queryKey: ['sets'], queryFn: () => read(api.sets.$get()) })

/** The sets that the curator made, without those of the starter library. */
export const ownSetsQuery = queryOptions({
  ...setsQuery,
  select: ({ sets }) => ({ sets: sets.filter(({ starter }) => !starter) }),
})
