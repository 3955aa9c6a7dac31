import { queryOptions } from '@tanstack/react-query'
import { api, read } from './client.ts'

/** All packs with what they count: used by Hand out and by Fit. */
export const packsQuery = queryOptions({ queryKey: ['packs'], queryFn: () => read(api.packs.$get()) })
