import { type Destination, parseDestination } from '@satchel/core/destinations/destination'
import { useQueryClient } from '@tanstack/react-query'
import { useAhead } from '../../ahead/use-ahead.ts'
import { changeDestination, destinationsQuery, type KnownDestination } from '../../data/fit.ts'
import { useRefresh } from '../../data/use-refresh.ts'

const ofServer = ({ description, version }: KnownDestination) => ({ value: description as Destination, version })

/**
 * The description of an app ahead of the server. It is saved by hand alone: while half of it is written, what was measured
 * by it should not be measured anew.
 */
export function useDestination(destination: KnownDestination) {
  const { id } = destination
  const refresh = useRefresh()
  const client = useQueryClient()
  const { queryKey } = destinationsQuery
  const latest = () => client.getQueryData(queryKey)?.destinations.find((each) => each.id === id) ?? destination
  return useAhead<Destination>({
    key: `destination-${id}`,
    isByHand: true,
    server: ofServer(destination),
    known: () => ofServer(latest()),
    parse: parseDestination,
    async save(description, base) {
      const { version } = await changeDestination(id, description, base)
      await refresh('fit')
      return { version }
    },
    refresh: () => refresh(queryKey),
  })
}
