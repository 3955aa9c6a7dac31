import { queryOptions } from '@tanstack/react-query'
import { api, read } from '../api/client.ts'

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
}

export const createPack = (title: string) => read(api.packs.$post({ json: { title } }))
/** @param was What it was when it was changed: another one by now is not covered. */
export const updatePack = (id: string, facts: PackFacts, was?: Omit<PackFacts, 'coverBrushId'>) =>
  read(api.packs[':id'].$patch({ param: { id }, json: { ...facts, ...(was ? { was } : {}) } }))
export const deletePack = (id: string) => read(api.packs[':id'].$delete({ param: { id } }))
export const bringBackPack = (id: string) => read(api.packs[':id']['bring-back'].$post({ param: { id } }))
export const setPackSets = (id: string, setIds: string[], was: string[]) =>
  read(api.packs[':id'].sets.$put({ param: { id }, json: { setIds, was } }))
export const releasePack = (id: string, json: { version: string; notes: string }) =>
  read(api.packs[':id'].releases.$post({ param: { id }, json }))
export const buildRelease = (id: string, releaseId: string) =>
  read(api.packs[':id'].releases[':releaseId'].build.$post({ param: { id, releaseId } }))
export const handOut = (
  packId: string,
  json: { releaseId: string; name: string; endsAt: string | null; downloadLimit: number | null },
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
