import { queryOptions } from '@tanstack/react-query'
import { api, read } from '../api/client.ts'
import type { HandOut } from './packs.ts'

/** What a hand-out gives, and for how long. */
export type Terms = {
  endsAt: string | null
  downloadLimit: number | null
  follows: boolean
  editionId: string | null
}
export type NewPerson = { name: string; email: string; note: string }

/** Everybody who has a pack. */
export const peopleQuery = (packId: string) =>
  queryOptions({
    queryKey: ['pack', packId, 'people'],
    queryFn: async () => (await read(api.packs[':id'].people.$get({ param: { id: packId } }))).handOuts,
  })

/** What people with links wrote to the maker of a pack. */
export const notesQuery = (packId: string) =>
  queryOptions({
    queryKey: ['pack', packId, 'notes'],
    queryFn: async () => (await read(api.packs[':id']['hand-outs'].notes.$get({ param: { id: packId } }))).notes,
  })

export const markNote = (id: string, isRead: boolean) =>
  read(api.packs['hand-outs'].note[':id'].$put({ param: { id }, json: { isRead } }))

/** Who has what of a pack, and when it was fetched, by the days of where the page is. */
export const figuresQuery = (packId: string, zone: string) =>
  queryOptions({
    queryKey: ['pack', packId, 'figures', zone],
    queryFn: () => read(api.packs[':id'].figures.$get({ param: { id: packId }, query: { zone } })),
  })

export type Figures = Awaited<ReturnType<NonNullable<ReturnType<typeof figuresQuery>['queryFn']>>>

/** @param batchId Names the act: sent again after an answer that was lost, it makes nothing twice. */
export const handOutToMany = (
  packId: string,
  json: Terms & { releaseId: string; batchId: string; people: NewPerson[] },
) => read(api.packs[':id']['hand-outs'].many.$post({ param: { id: packId }, json }))

export type HandOutChange = {
  id: string
  withdrawnAt?: string | null
  endsAt?: string | null
  downloadLimit?: number | null
  follows?: boolean
  releaseId?: string
  editionId?: string | null
}
/** @returns What they were before: sent in its turn, it undoes this. */
export const changeHandOuts = async (packId: string, changes: HandOutChange[]): Promise<HandOutChange[]> =>
  (await read(api.packs[':id']['hand-outs'].change.$post({ param: { id: packId }, json: { changes } })))
    .before as HandOutChange[]

/** Links of hand-outs; null of one that was given before links could be told again. */
export const tellLinks = async (ids: string[]) =>
  (await read(api.packs['hand-outs'].links.$post({ json: { ids } }))).links

/** The links of hand-outs, asked for while somebody looks at them and not kept. */
export const linksQuery = (ids: string[] | undefined) =>
  queryOptions({
    queryKey: ['links', ids],
    enabled: ids !== undefined,
    queryFn: async () => (ids && ids.length > 0 ? tellLinks(ids) : []),
    gcTime: 0,
  })

export const changePerson = (id: string, json: NewPerson) =>
  read(api.packs['hand-outs'].people[':id'].$put({ param: { id }, json }))

type State = { word: 'out' | 'withdrawn' | 'ended' | 'used up'; mark: string; look: string }

/** How a hand-out stands: told by a word and a mark, the colour comes on top. */
export function stateOf({ withdrawnAt, endsAt, classEndsAt, downloadLimit, downloads }: HandOut): State {
  if (withdrawnAt) return { mark: '✕', word: 'withdrawn', look: 'text-madder' }
  if ([endsAt, classEndsAt].some((end) => end && new Date(end).getTime() <= Date.now()))
    return { mark: '◌', word: 'ended', look: 'text-quiet' }
  if (downloadLimit !== null && downloads >= downloadLimit) return { mark: '◌', word: 'used up', look: 'text-quiet' }
  return { mark: '●', word: 'out', look: 'text-moss' }
}
