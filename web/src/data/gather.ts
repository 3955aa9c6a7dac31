import { queryOptions } from '@tanstack/react-query'
import { api, read, send } from '../api/client.ts'

export const currentGatherQuery = queryOptions({
  queryKey: ['gather', 'current'],
  queryFn: () => read(api.gathers.current.$get()),
})

const READING_MS = 1500 // events bring lines as they are read; this is for one that was missed

const loadLedger = (id: string) => read(api.gathers[':id'].$get({ param: { id } }))

/** What a ledger comes to, and its folders; lines come by pages. */
export const ledgerQuery = (id: string) =>
  queryOptions({
    queryKey: ['gather', id],
    queryFn: () => loadLedger(id),
    refetchInterval: (query) => (query.state.data?.reading ? READING_MS : false),
  })

export type Ledger = Awaited<ReturnType<typeof loadLedger>>
/** A pack in a ledger of which something was taken before. */
export type NewerPack = Ledger['newer'][number]
export type LedgerFolder = Ledger['folders'][number]

type LinesQuery = Parameters<(typeof api.gathers)[':id']['lines']['$get']>[0]['query']
/** Lines of a ledger: those named, or all of a folder or a group. */
export type LineChoice = Parameters<(typeof api.gathers)[':id']['shrink']['$post']>[0]['json']['of']
export type LineGroup = NonNullable<LineChoice['group']>

/** Lines that are fetched together. */
export const PAGE_LINES = 100

const loadLines = (id: string, query: LinesQuery) => read(api.gathers[':id'].lines.$get({ param: { id }, query }))

export const linesQuery = (id: string, page: number, group?: LineGroup) =>
  queryOptions({
    queryKey: ['gather', id, 'lines', group ?? 'all', page],
    queryFn: () =>
      loadLines(id, { from: String(page * PAGE_LINES), limit: String(PAGE_LINES), ...(group ? { group } : {}) }),
  })

export type LedgerLine = Awaited<ReturnType<typeof loadLines>>['lines'][number]

/** What is taken of a brush that was changed here and by its maker. */
export type LineDecision = NonNullable<
  Parameters<(typeof api.gathers)[':id']['decide']['$post']>[0]['json']['decision']
>

/** The stroke of such a brush. @param decision What is saved, where the stroke follows from that. */
export const lineStroke = (id: string, lineId: string, of: 'mine' | 'theirs' | 'result', decision?: LineDecision) =>
  `/api/gathers/${id}/lines/${lineId}/stroke/${of}${decision ? `?${new URLSearchParams({ of: JSON.stringify(decision) })}` : ''}`

export const startGather = () => read(api.gathers.$post())

export const decide = (
  id: string,
  of: LineChoice,
  change: {
    outcome?: 'take' | 'skip'
    setName?: string
    name?: string
    use?: LedgerLine['use']
    decision?: LineDecision
  },
) => read(api.gathers[':id'].decide.$post({ param: { id }, json: { of, ...change } }))

/** Chooses a setup card to be laid out when the ledger is taken in, or not. */
export const chooseCard = (id: string, json: { fileId: string; key: string; isChosen: boolean }) =>
  read(api.gathers[':id'].cards.$post({ param: { id }, json }))

export const shrink = (id: string, of: LineChoice, smaller: boolean) =>
  read(api.gathers[':id'].shrink.$post({ param: { id }, json: { of, smaller } }))

export const undoTakeIn = (id: string) => read(api.gathers[':id'].undo.$post({ param: { id } }))
/** Stops the reading; what was read stays in the ledger. */
export const stopReading = (jobId: string) => read(api.jobs[':id'].stop.$post({ param: { id: jobId } }))
export const takeIn = (id: string) => read(api.gathers[':id'].take.$post({ param: { id } }))
export const cancelGather = (id: string) => read(api.gathers[':id'].cancel.$post({ param: { id } }))

/** Forgets what came of a file that is not whole. */
export const forgetUpload = (id: string, uploadId: string) =>
  read(api.gathers[':id'].uploads[':uploadId'].$delete({ param: { id, uploadId } }))

export const goOnReading = (id: string) => read(api.gathers[':id'].read.$post({ param: { id } }))

/** Mixed files to try the ledger with: they go the way of any other upload, and can be cancelled like it. */
export async function loadParcel(): Promise<{ path: string; file: File }> {
  const response = await send('/api/gathers/parcel', {})
  return { path: 'parcel.zip', file: new File([await response.blob()], 'parcel.zip', { type: 'application/zip' }) }
}

/** What of a library leads nowhere, among the files of a ledger. */
export const ledgerEndsQuery = (id: string) =>
  queryOptions({
    queryKey: ['gather', id, 'loose-ends'],
    queryFn: () => read(api.gathers[':id']['loose-ends'].$get({ param: { id } })),
  })
type Mending = Parameters<(typeof api.gathers)[':id']['loose-ends']['$post']>[0]['json']['mending']
export const mendLedger = (id: string, mending: Mending) =>
  read(api.gathers[':id']['loose-ends'].$post({ param: { id }, json: { mending } }))
export const undoLedgerMend = (id: string, mendId: string) =>
  read(api.gathers[':id']['loose-ends'][':mendId'].undo.$post({ param: { id, mendId } }))
