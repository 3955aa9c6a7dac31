import type { Recipe } from '@satchel/core/brush/recipe'
import { queryOptions } from '@tanstack/react-query'
import { api, read, send } from '../../api/client.ts'

const loadBrush = (id: string) => read(api.brushes[':id'].$get({ param: { id } }))

export const brushQuery = (id: string) =>
  queryOptions({ queryKey: ['brush', id], queryFn: () => loadBrush(id), staleTime: 0 })

export type Brush = Awaited<ReturnType<typeof loadBrush>>
export type Facts = { name: string; maker: string; licence: string; tags: string[]; recipe: Recipe }

export const saveBrush = (id: string, facts: Facts, from: number) =>
  read(api.brushes[':id'].$put({ param: { id }, json: { ...facts, from } }))
export const goToVersion = (id: string, ordinal: number) =>
  read(api.brushes[':id'].version.$post({ param: { id }, json: { ordinal } }))

/** The stored pictures of a tip, for the stroke worker. */
export async function loadFrames(
  pictures: readonly { blobSha: string }[],
): Promise<{ key: string; png: ArrayBuffer }[]> {
  return Promise.all(
    pictures.map(async ({ blobSha }) => ({
      key: blobSha,
      png: await (await send(`/api/pictures/${blobSha}`, { method: 'GET' })).arrayBuffer(),
    })),
  )
}

/** Any one brush to begin with, where none was chosen. */
export const firstBrushQuery = queryOptions({
  queryKey: ['brushes', 'first'],
  queryFn: () => read(api.brushes.$get({ query: { limit: '1', sort: 'newest' } })),
})
