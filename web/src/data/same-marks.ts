import type { SameKind } from '@satchel/core/same/kinds'
import { queryOptions } from '@tanstack/react-query'
import { api, read } from '../api/client.ts'

/** Groups that are fetched together. */
export const PAGE_GROUPS = 20

/** Which groups are shown: those of a kind, or of any; or those where something was kept. */
export type SameFilter = SameKind | 'kept' | undefined

const queryOf = (filter: SameFilter) => (filter === 'kept' ? { kept: '1' as const } : filter ? { kind: filter } : {})

const load = (filter: SameFilter, page: number) =>
  read(
    api['same-marks'].$get({
      query: { ...queryOf(filter), from: String(page * PAGE_GROUPS), limit: String(PAGE_GROUPS) },
    }),
  )

/** A page of groups, counted from 0, with how many there are of each kind. */
export const sameMarksQuery = (filter: SameFilter, page: number) =>
  queryOptions({ queryKey: ['same-marks', filter ?? 'any', page], queryFn: () => load(filter, page) })

export type SameMarks = Awaited<ReturnType<typeof load>>
export type SameGroup = SameMarks['groups'][number]
export type SameMember = SameGroup['members'][number]

const same = api['same-marks']
export const keepOne = (kept: string, gone: string[], asFrames = false) =>
  read(same['keep-one'].$post({ json: { kept, gone, asFrames } }))
export const keepOneOfAll = (kind: SameKind) => read(same['keep-one-of-all'].$post({ json: { kind } }))
export const keepBoth = (which: { ids: string[] } | { kind: SameKind }) =>
  read(same['keep-both'].$post({ json: which }))
export const askAgain = (ids: string[]) => read(same['ask-again'].$post({ json: { ids } }))
export const callNotSame = (ids: string[]) => read(same.apart.$post({ json: { ids } }))
export const compareMarks = () => read(same.compare.$post())
