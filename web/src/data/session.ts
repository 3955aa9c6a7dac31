import { queryOptions } from '@tanstack/react-query'
import { api, read } from '../api/client.ts'

export const sessionQuery = queryOptions({
  queryKey: ['session'],
  queryFn: () => read(api.session.$get()),
  staleTime: 60_000,
})
