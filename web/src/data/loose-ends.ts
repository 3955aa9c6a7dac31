import type { StandInName } from '@satchel/core/destinations/destination'
import { queryOptions } from '@tanstack/react-query'
import { api, read } from '../api/client.ts'

export const looseEndsQuery = (standIn: StandInName) =>
  queryOptions({
    queryKey: ['fit', 'loose-ends', standIn],
    queryFn: () => read(api['loose-ends'].$get({ query: { standIn } })),
  })
/** What is said of loose ends, whatever they are found in. */
export type LooseEnds = Awaited<ReturnType<NonNullable<ReturnType<typeof looseEndsQuery>['queryFn']>>>

export type Mending =
  | { sure: true }
  | { rule: { from: string; to: string } }
  | { chosen: { key: string; path: string }[] }

export const mendEnds = (standIn: StandInName, mending: Mending) =>
  read(api['loose-ends'].$post({ json: { standIn, mending } }))
export const undoMend = (id: string) => read(api['loose-ends'][':id'].undo.$post({ param: { id } }))
export const moveFolder = (standIn: StandInName, from: string, to: string) =>
  read(api['loose-ends'].move.$post({ json: { standIn, from, to } }))
