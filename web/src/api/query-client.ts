import { QueryClient } from '@tanstack/react-query'
import { RequestError } from './client.ts'

/** Asks again where the server may have stumbled, and not where it said no. */
export const createQueryClient = () =>
  new QueryClient({
    defaultOptions: {
      queries: {
        staleTime: 10_000,
        retry: (count, error) =>
          count < 2 && !(error instanceof RequestError && error.status >= 400 && error.status < 500),
      },
    },
  })
