import { queryOptions } from '@tanstack/react-query'
import { api, read } from '../api/client.ts'

export const tallyQuery = queryOptions({ queryKey: ['tally'], queryFn: () => read(api.workspace.tally.$get()) })
