import type { Change } from '@satchel/core/many/change'
import { queryOptions } from '@tanstack/react-query'
import { api, read } from '../api/client.ts'

const look = (ids: string[], change: Change, signal: AbortSignal) =>
  read(api.many.look.$post({ json: { ids, change } }, { init: { signal } }))

/**
 * What a change of many brushes would come to.
 * @param choice Names the choice: its ids would be a long key.
 */
export const changeLookQuery = (choice: string, ids: string[], change: Change) =>
  queryOptions({
    queryKey: ['brushes', 'look', choice, change],
    queryFn: ({ signal }) => look(ids, change, signal),
  })

export type ChangeLook = Awaited<ReturnType<typeof look>>

export const changeMany = (ids: string[], change: Change) => read(api.many.$post({ json: { ids, change } }))

/** The picture of a brush's stroke as a change would make it. */
export const changedStroke = (id: string, version: number, change: Change) =>
  `/api/many/${id}/stroke.png?v=${version}&change=${encodeURIComponent(JSON.stringify(change))}`
