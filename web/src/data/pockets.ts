import { queryOptions } from '@tanstack/react-query'
import { api, read } from '../api/client.ts'

const load = () => read(api.pockets.$get())

/** All pockets with their entries. */
export const pocketsQuery = queryOptions({ queryKey: ['pockets'], queryFn: load })

export type Pocket = Awaited<ReturnType<typeof load>>['pockets'][number]
export type PocketItem = Pocket['items'][number]

export const createPocket = (name: string, setId?: string) =>
  read(api.pockets.$post({ json: setId ? { name, setId } : { name } }))
export const renamePocket = (id: string, name: string) =>
  read(api.pockets[':id'].$patch({ param: { id }, json: { name } }))
export const deletePocket = (id: string) => read(api.pockets[':id'].$delete({ param: { id } }))
export const bringBackPocket = (id: string) => read(api.pockets[':id']['bring-back'].$post({ param: { id } }))
export const pinBrushes = (id: string, ids: string[]) =>
  read(api.pockets[':id'].items.$post({ param: { id }, json: { ids } }))
export const changeItem = (id: string, itemId: string, json: { sizePx?: number; label?: string }) =>
  read(api.pockets[':id'].items[':itemId'].$patch({ param: { id, itemId }, json }))
export const removeItem = (id: string, itemId: string) =>
  read(api.pockets[':id'].items[':itemId'].$delete({ param: { id, itemId } }))
export const moveItem = (id: string, itemId: string, afterId: string | null) =>
  read(api.pockets[':id'].items[':itemId'].move.$post({ param: { id, itemId }, json: { afterId } }))
