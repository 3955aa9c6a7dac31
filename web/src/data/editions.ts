import type { EditionPlan } from '@satchel/core/editions/plan'
import { queryOptions } from '@tanstack/react-query'
import { api, read } from '../api/client.ts'

const load = (packId: string) => read(api.packs[':id'].editions.$get({ param: { id: packId } }))

/** A pack's editions, and the release that they are cut from. */
export const editionsQuery = (packId: string) =>
  queryOptions({ queryKey: ['pack', packId, 'editions'], queryFn: () => load(packId) })

type Editions = Awaited<ReturnType<typeof load>>
export type Edition = Omit<Editions['editions'][number], 'plan'> & { plan: EditionPlan }
/** What can be chosen from: the newest release. */
export type Choosable = NonNullable<Editions['newest']>

/** The downloads that are built of an edition. */
export const buildsQuery = (packId: string, id: string) =>
  queryOptions({
    queryKey: ['pack', packId, 'edition', id],
    queryFn: async () => (await read(api.packs.editions[':id'].builds.$get({ param: { id } }))).builds,
  })

export const createEdition = (packId: string, json: { name: string; plan: EditionPlan }) =>
  read(api.packs[':id'].editions.$post({ param: { id: packId }, json }))
/** @param was The version that was changed: a newer one by now is not covered. */
export const changeEdition = (id: string, json: { name: string; plan: EditionPlan; was: number }) =>
  read(api.packs.editions[':id'].$put({ param: { id }, json }))
export const dropEdition = (id: string) => read(api.packs.editions[':id'].$delete({ param: { id } }))
export const bringBackEdition = (id: string) => read(api.packs.editions[':id']['bring-back'].$post({ param: { id } }))
export const buildEditionAgain = (id: string, buildId: string) =>
  read(api.packs.editions[':id'].builds[':buildId'].again.$post({ param: { id, buildId } }))
/** The address of an edition as its people will see it: now, or at a moment to come. */
export const lookAtEdition = async (id: string, at: string | null) =>
  (await read(api.packs.editions[':id'].look.$post({ param: { id }, json: { at } }))).link
/**
 * Ends all links of an edition, and takes its brushes out of the folders of apps here.
 * @returns When the links would have ended, which undoes that; and what was taken out.
 */
export const endEdition = (id: string) => read(api.packs.editions[':id'].end.$post({ param: { id } }))

/** What lies in folders because of an edition. */
export const foldersQuery = (id: string) =>
  queryOptions({
    queryKey: ['fit', 'edition-folders', id],
    queryFn: async () => (await read(api.packs.editions[':id'].folders.$get({ param: { id } }))).installs,
  })
export const takeOutOfFolders = (id: string) => read(api.packs.editions[':id']['take-out'].$post({ param: { id } }))
