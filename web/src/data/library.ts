import { isLookSort } from '@satchel/core/forms/brush-filter-words'
import type { SetMark } from '@satchel/core/forms/set-marks'
import { queryOptions } from '@tanstack/react-query'
import { api, read } from '../api/client.ts'
import type { Filter, Sort } from './filter.ts'
import { PAGE_LINES, PAGE_STEP } from './list-pages.ts'

type BrushQuery = Parameters<typeof api.brushes.$get>[0]['query']

/** One page of the list, counted from 0: any of them can be asked for at once. */
export const brushPageQuery = (filter: Filter, sort: Sort, page: number) =>
  queryOptions({
    // what was measured meanwhile moves lines of lists that are ordered by looks alone
    queryKey: [isLookSort(sort) ? 'brushes-by-look' : 'brushes', 'page', filter, sort, page],
    queryFn: ({ signal }) =>
      read(
        api.brushes.$get(
          { query: { ...(filter as BrushQuery), sort, from: String(page * PAGE_STEP), limit: String(PAGE_LINES) } },
          { init: { signal } },
        ),
      ),
  })

export const brushCountQuery = (filter: Filter) =>
  queryOptions({
    queryKey: ['brushes', 'count', filter],
    queryFn: () => read(api.brushes.count.$get({ query: filter as BrushQuery })),
  })

export const facetsQuery = queryOptions({ queryKey: ['facets'], queryFn: () => read(api.brushes.facets.$get()) })

/** Ids in the list's order: all of them, or those from one line to another, both included. */
export const loadIds = (filter: Filter, sort: Sort = 'name', { from, to }: { from?: number; to?: number } = {}) =>
  read(
    api.brushes.ids.$get({
      query: {
        ...(filter as BrushQuery),
        sort,
        ...(from !== undefined && to !== undefined ? { from: String(from), limit: String(to - from + 1) } : {}),
      },
    }),
  )

export type BrushLineData = Awaited<
  ReturnType<NonNullable<ReturnType<typeof brushPageQuery>['queryFn'] & object>>
>['brushes'][number]

export const createSet = (name: string) => read(api.sets.$post({ json: { name } }))
export const updateSet = (id: string, json: { name?: string; hidden?: boolean; note?: string; mark?: SetMark | '' }) =>
  read(api.sets[':id'].$patch({ param: { id }, json }))
/** Puts sets inside one that holds sets, by its name; an empty one takes them out. */
export const putInside = (ids: string[], folder: string) => read(api.sets.inside.$post({ json: { ids, folder } }))
export const moveSet = (id: string, afterId: string | null) =>
  read(api.sets[':id'].move.$post({ param: { id }, json: { afterId } }))
/** Puts all of a set into another one and takes it off the rack; what that came to takes it back. */
export const mergeSet = (id: string, into: string) =>
  read(api.sets[':id'].merge.$post({ param: { id }, json: { into } }))
export const partSets = (id: string, into: string, { added, packs }: { added: string[]; packs: string[] }) =>
  read(api.sets[':id'].part.$post({ param: { id }, json: { into, added, packs } }))
export const copySet = (id: string, name: string) => read(api.sets[':id'].copy.$post({ param: { id }, json: { name } }))
export const deleteSet = (id: string) => read(api.sets[':id'].$delete({ param: { id } }))
export const bringBackSet = (id: string) => read(api.sets[':id']['bring-back'].$post({ param: { id } }))
export const addToSet = (id: string, ids: string[], from?: string) =>
  read(api.sets[':id'].brushes.$post({ param: { id }, json: { ids, ...(from ? { from } : {}) } }))
export const removeFromSet = (id: string, ids: string[]) =>
  read(api.sets[':id'].remove.$post({ param: { id }, json: { ids } }))
export const binBrushes = (ids: string[]) => read(api.brushes.bin.$post({ json: { ids } }))
export const bringBackBrushes = (ids: string[]) => read(api.brushes['bring-back'].$post({ json: { ids } }))
export const emptyBin = () => read(api.brushes['empty-bin'].$post())
export const hideStarters = (starterHidden: boolean) => read(api.workspace.$patch({ json: { starterHidden } }))
