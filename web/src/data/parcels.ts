import { queryOptions } from '@tanstack/react-query'
import { api, read } from '../api/client.ts'

/** What can be asked for as a file: one brush, one set, a sheet of a pack or set. */
export type Wanted = Parameters<typeof api.parcels.$post>[0]['json']['wanted']

/** Files that were asked for: how far they are, and which can be fetched. */
export const parcelsQuery = queryOptions({ queryKey: ['parcels'], queryFn: () => read(api.parcels.$get()) })

/** What a file would hold, as the library is now. */
export const parcelLookQuery = (wanted: Wanted) =>
  queryOptions({
    queryKey: ['parcel-look', wanted],
    queryFn: () => read(api.parcels.look.$post({ json: { wanted } })),
    staleTime: 0,
    gcTime: 0,
    retry: false,
  })
export const makeParcel = (wanted: Wanted) => read(api.parcels.$post({ json: { wanted } }))
export const parcelFile = (id: string) => `/api/parcels/${id}/file`
