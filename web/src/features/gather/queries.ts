import { queryOptions } from '@tanstack/react-query'
import { api, read, send } from '../../api/client.ts'

export const currentGatherQuery = queryOptions({
  queryKey: ['gather', 'current'],
  queryFn: () => read(api.gathers.current.$get()),
})

const READING_MS = 1500 // events bring lines as they are read; this is for one that was missed

const loadLedger = (id: string) => read(api.gathers[':id'].$get({ param: { id } }))

export const ledgerQuery = (id: string) =>
  queryOptions({
    queryKey: ['gather', id],
    queryFn: () => loadLedger(id),
    refetchInterval: (query) => (query.state.data?.reading ? READING_MS : false),
  })

export type Ledger = Awaited<ReturnType<typeof loadLedger>>
export type LedgerLine = Ledger['lines'][number]

export const startGather = () => read(api.gathers.$post())

export const decide = (
  id: string,
  json: { ids: string[]; outcome?: 'take' | 'skip'; setName?: string; name?: string; use?: LedgerLine['use'] },
) => read(api.gathers[':id'].decide.$post({ param: { id }, json }))

export const shrink = (id: string, ids: string[], smaller: boolean) =>
  read(api.gathers[':id'].shrink.$post({ param: { id }, json: { ids, smaller } }))

export const undoTakeIn = (id: string) => read(api.gathers[':id'].undo.$post({ param: { id } }))
/** Stops the reading; what was read stays in the ledger. */
export const stopReading = (jobId: string) => read(api.jobs[':id'].stop.$post({ param: { id: jobId } }))
export const takeIn = (id: string) => read(api.gathers[':id'].take.$post({ param: { id } }))
export const cancelGather = (id: string) => read(api.gathers[':id'].cancel.$post({ param: { id } }))

export const goOnReading = (id: string) => read(api.gathers[':id'].read.$post({ param: { id } }))

/** Mixed files to try the ledger with: they go the way of any other upload, and can be cancelled like it. */
export async function loadParcel(): Promise<{ path: string; file: File }> {
  const response = await send('/api/gathers/parcel', {})
  return { path: 'parcel.zip', file: new File([await response.blob()], 'parcel.zip', { type: 'application/zip' }) }
}
