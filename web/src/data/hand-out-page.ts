import { queryOptions } from '@tanstack/react-query'
import { api, read } from '../api/client.ts'

const load = (token: string) => read(api.h[':token'].$get({ param: { token } }))

export const handOutPageQuery = (token: string) =>
  queryOptions({ queryKey: ['hand-out-page', token], queryFn: () => load(token), staleTime: 0, retry: false })

export type HandOutPage = Awaited<ReturnType<typeof load>>
