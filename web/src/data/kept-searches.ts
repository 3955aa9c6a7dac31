import { queryOptions } from '@tanstack/react-query'
import { api, read } from '../api/client.ts'
import type { Filter, Sort } from './filter.ts'

const kept = api['kept-searches']
const load = () => read(kept.$get())

/** Searches that are kept as sets which fill themselves, each with how many brushes it finds now. */
export const keptSearchesQuery = queryOptions({ queryKey: ['sets', 'kept'], queryFn: load })
export type KeptSearch = Awaited<ReturnType<typeof load>>['searches'][number]

export const keepSearch = (name: string, filter: Filter, sort: Sort) =>
  read(kept.$post({ json: { name, filter: filter as Record<string, string>, sort } }))
export const renameSearch = (id: string, name: string) => read(kept[':id'].$patch({ param: { id }, json: { name } }))
export const deleteSearch = (id: string) => read(kept[':id'].$delete({ param: { id } }))
export const bringBackSearch = (id: string) => read(kept[':id']['bring-back'].$post({ param: { id } }))
/** Makes a set of what it finds now. */
export const freezeSearch = (id: string, name: string) =>
  read(kept[':id'].freeze.$post({ param: { id }, json: { name } }))
