import { queryOptions } from '@tanstack/react-query'
import { api, read } from '../api/client.ts'

/** What members meet at. */
export type Meeting = { kind: 'brush' | 'set' | 'pack'; id: string }

/** So often a page says that it is there: twice in the time after which who is silent is gone. */
const HERE_MS = 20_000

/**
 * Who else is there, and who saved it last. Asking says that one is there oneself, but of who may only look.
 * It is asked again when somebody comes or goes.
 */
export const presenceQuery = (param: Meeting, mayWrite: boolean) =>
  queryOptions({
    queryKey: ['presence', param.kind, param.id, mayWrite],
    queryFn: () =>
      mayWrite
        ? read(api.presence[':kind'][':id'].$post({ param }))
        : read(api.presence[':kind'][':id'].$get({ param })),
    refetchInterval: HERE_MS,
    staleTime: 0,
    retry: false,
  })

/** Says that one has gone; sent even while the page closes. */
export function sayGone({ kind, id }: Meeting): void {
  void fetch(`/api/presence/${kind}/${id}/leave`, { method: 'POST', keepalive: true }).catch(() => undefined)
}
