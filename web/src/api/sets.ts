import { queryOptions } from '@tanstack/react-query'
import { api, read } from './client.ts'

/** The rack: used by Sort, by the ledger's set names and by packs. */
export const setsQuery = queryOptions({ queryKey: ['sets'], queryFn: () => read(api.sets.$get()) })
