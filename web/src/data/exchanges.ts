import { queryOptions } from '@tanstack/react-query'
import { api, read, send } from '../api/client.ts'
import { readTried } from './hand-out-page.ts'

const load = () => read(api.exchanges.$get())

/** The exchanges that are reached from here, and what they have newer of what was taken from them. */
export const exchangesQuery = queryOptions({ queryKey: ['exchange', 'all'], queryFn: load })
export type NewerThere = Awaited<ReturnType<typeof load>>['newer'][number]

export const lookForNewer = () => read(api.exchanges.look.$post())

type Wish = { q?: string; maker?: string; like?: string; next?: string }
const find = (host: string, json: Wish) => read(api.exchanges[':host'].find.$post({ param: { host }, json }))
export type ExchangeItem = Awaited<ReturnType<typeof find>>['items'][number]

/** Items of an exchange, a page after the other as it names them. */
export const itemsQuery = (host: string, wish: Omit<Wish, 'next'>) => ({
  queryKey: ['exchange', host, wish] as const,
  queryFn: ({ pageParam }: { pageParam: string | null }) =>
    find(host, { ...wish, ...(pageParam ? { next: pageParam } : {}) }),
  initialPageParam: null as string | null,
  getNextPageParam: (page: Awaited<ReturnType<typeof find>>) => page.next,
})

const open = (host: string, item: string) =>
  read(api.exchanges[':host'].items[':item'].$post({ param: { host, item } }))
export type ExchangePage = Awaited<ReturnType<typeof open>>

export const exchangeItemQuery = (host: string, item: string) =>
  queryOptions({ queryKey: ['exchange-item', host, item], queryFn: () => open(host, item) })

/** Which brushes of a collection look like one of the library: that takes a while where this is large. */
export const alikeHereQuery = (host: string, item: string) =>
  queryOptions({
    queryKey: ['exchange-item', host, item, 'alike'],
    queryFn: () => read(api.exchanges[':host'].items[':item'].alike.$post({ param: { host, item } })),
  })

export const takeItem = (host: string, item: string, json: { version: string; only: string[] | null }) =>
  read(api.exchanges[':host'].items[':item'].take.$post({ param: { host, item }, json }))

export const exchangePicture = (host: string, path: string) =>
  `/api/exchanges/${encodeURIComponent(host)}/picture?path=${encodeURIComponent(path)}`

/** All that painting with a brush takes, before anything is taken. */
export const fetchFromExchange = async (host: string, item: string, brushId: string) =>
  readTried(
    await send(`/api/exchanges/${encodeURIComponent(host)}/items/${item}/brushes/${encodeURIComponent(brushId)}`, {
      method: 'GET',
    }),
  )

/** Where a pack was published. */
export const publishedQuery = (packId: string) =>
  queryOptions({
    queryKey: ['published', packId],
    queryFn: () => read(api.exchanges['published-of'][':id'].$get({ param: { id: packId } })),
  })
export const publishRelease = (json: Parameters<typeof api.exchanges.publish.$post>[0]['json']) =>
  read(api.exchanges.publish.$post({ json }))
export const withdrawPublished = (id: string) => read(api.exchanges.published[':id'].withdraw.$post({ param: { id } }))
