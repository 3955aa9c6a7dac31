import type { CoverCrop, CoverPlan } from '@satchel/core/cover/cover'
import { queryOptions } from '@tanstack/react-query'
import { api, read, send } from '../api/client.ts'
import { toHelp } from './help.ts'

/** All packs with what they count: used by Hand out and by Fit. */
export const packsQuery = queryOptions({ queryKey: ['packs'], queryFn: () => read(api.packs.$get()) })

const loadPack = (id: string) => read(api.packs[':id'].$get({ param: { id } }))
export const packQuery = (id: string) => queryOptions({ queryKey: ['pack', id], queryFn: () => loadPack(id) })
export type Pack = Awaited<ReturnType<typeof loadPack>>
export type Release = Pack['releases'][number]
export type HandOut = Pack['handOuts'][number]

export type PackFacts = {
  title?: string
  maker?: string
  licence?: string
  licenceText?: string
  help?: string
  coverBrushId?: string | null
  destinationIds?: string[]
  leastLikeness?: number
}

/** What of a pack is written by hand. */
export type PackTexts = Omit<PackFacts, 'coverBrushId' | 'destinationIds' | 'leastLikeness'>

export const createPack = (title: string) => read(api.packs.$post({ json: { title } }))
/** @param was What it was when it was changed: another one by now is not covered. */
export const updatePack = (id: string, facts: PackFacts, was?: PackTexts) =>
  read(api.packs[':id'].$patch({ param: { id }, json: { ...facts, ...(was ? { was } : {}) } }))
export const deletePack = (id: string) => read(api.packs[':id'].$delete({ param: { id } }))
export const bringBackPack = (id: string) => read(api.packs[':id']['bring-back'].$post({ param: { id } }))
export const setPackSets = (id: string, setIds: string[], was: string[]) =>
  read(api.packs[':id'].sets.$put({ param: { id }, json: { setIds, was } }))
export const setSingle = (id: string, brushIds: string[], was: string[]) =>
  read(api.packs[':id'].single.$put({ param: { id }, json: { brushIds, was } }))
export const setNote = (id: string, brushId: string, note: string, was: string) =>
  read(api.packs[':id'].notes[':brushId'].$put({ param: { id, brushId }, json: { note, was } }))

/** What a cover would look like. */
export const coverLookQuery = (id: string, cover: CoverPlan) =>
  queryOptions({
    queryKey: ['cover-look', id, cover],
    queryFn: async ({ signal }) => {
      const headers = { 'content-type': 'application/json' }
      const init = { method: 'POST', headers, body: JSON.stringify({ cover }), signal }
      return (await send(`/api/packs/${id}/cover/look`, init)).blob()
    },
    gcTime: 0,
    retry: false,
  })
export const composeCover = (id: string, cover: CoverPlan) =>
  read(api.packs[':id'].cover.$put({ param: { id }, json: { cover } }))
export const leaveCover = (id: string) => read(api.packs[':id'].cover.$delete({ param: { id } }))
export const takeCover = (id: string, file: File, { left, top, width, height }: CoverCrop) =>
  send(`/api/packs/${id}/cover/picture?left=${left}&top=${top}&width=${width}&height=${height}`, {
    method: 'POST',
    headers: { 'content-type': 'application/octet-stream' },
    body: file,
  })
/** Where a pack's cover lies; it is another address for another cover. */
export const coverPicture = (id: string, coverSha: string) => `/api/packs/${id}/cover.png?as=${coverSha.slice(0, 16)}`

/** A page of help as those who get it will see it. */
export const laidOutQuery = (text: string) =>
  queryOptions({
    queryKey: ['laid-out', text],
    queryFn: async () => toHelp((await read(api.packs['laid-out'].$post({ json: { text } }))).nodes),
    staleTime: Number.POSITIVE_INFINITY,
  })

/** Every brush of a pack, once, in its order, with what is said of it. */
export const packBrushesQuery = (id: string) =>
  queryOptions({
    queryKey: ['pack', id, 'brushes'],
    queryFn: () => read(api.packs[':id'].brushes.$get({ param: { id } })),
  })

/** What a release made now would be called, and what is new in it. */
export const nextReleaseQuery = (id: string) =>
  queryOptions({
    queryKey: ['pack', id, 'next'],
    queryFn: () => read(api.packs[':id'].next.$get({ param: { id } })),
    staleTime: 0,
  })

/** The pack as it is now, in the place of a release. */
export const NOW = 'now'
type Two = { from: string; to: string }
export const differenceQuery = (id: string, { from, to }: Two) =>
  queryOptions({
    queryKey: ['pack', id, 'difference', from, to],
    queryFn: () => read(api.packs[':id'].difference.$get({ param: { id }, query: { from, to: to as typeof NOW } })),
    enabled: from !== '',
  })
export type Difference = Awaited<ReturnType<NonNullable<ReturnType<typeof differenceQuery>['queryFn']>>>
/** Where a picture of a changed brush lies: as it was, as it is, and where they differ. */
export const changePicture = (
  id: string,
  { from, to }: Two,
  brushId: string,
  what: 'before' | 'after' | 'difference',
) => `/api/packs/${id}/difference/${brushId}/${what}?from=${from}&to=${to}`

export const recallRelease = (id: string, releaseId: string, reason: string) =>
  read(api.packs[':id'].releases[':releaseId'].recall.$post({ param: { id, releaseId }, json: { reason } }))
export const releasePack = (id: string, json: { version: string; notes: string }) =>
  read(api.packs[':id'].releases.$post({ param: { id }, json }))
export const buildRelease = (id: string, releaseId: string) =>
  read(api.packs[':id'].releases[':releaseId'].build.$post({ param: { id, releaseId } }))
export const handOut = (
  packId: string,
  json: {
    releaseId: string
    editionId: string | null
    name: string
    follows: boolean
    endsAt: string | null
    downloadLimit: number | null
  },
) => read(api.packs[':id']['hand-outs'].$post({ param: { id: packId }, json }))
export const withdraw = (id: string) => read(api.packs['hand-outs'][':id'].withdraw.$post({ param: { id } }))
export const giveAgain = (id: string) => read(api.packs['hand-outs'][':id']['give-again'].$post({ param: { id } }))
export const newLink = (id: string) => read(api.packs['hand-outs'][':id']['new-link'].$post({ param: { id } }))

/** Brushes of a set, for choosing a cover. */
export const setBrushesQuery = (setId: string | undefined) =>
  queryOptions({
    queryKey: ['brushes', 'cover', setId],
    enabled: setId !== undefined,
    queryFn: () => read(api.brushes.$get({ query: { setId: setId ?? '', sort: 'set', limit: '200' } })),
  })
