import type { Recipe } from '@satchel/core/brush/recipe'
import type { Thumbnail } from '@satchel/core/brush/thumbnail'
import { queryOptions } from '@tanstack/react-query'
import { api, read } from '../api/client.ts'

export const loadBrush = (id: string) => read(api.brushes[':id'].$get({ param: { id } }))

/** One brush as it is by now; nothing where none is named yet. */
export const brushQuery = (id: string | undefined) =>
  queryOptions({
    queryKey: ['brush', id],
    queryFn: () => loadBrush(id ?? ''),
    enabled: id !== undefined,
    staleTime: 0,
  })

export type Brush = Awaited<ReturnType<typeof loadBrush>>
export type Facts = { name: string; maker: string; licence: string; tags: string[]; recipe: Recipe }

export const saveBrush = (id: string, facts: Facts, from: number) =>
  read(api.brushes[':id'].$put({ param: { id }, json: { ...facts, from } }))
export const goToVersion = (id: string, ordinal: number) =>
  read(api.brushes[':id'].version.$post({ param: { id }, json: { ordinal } }))

/** One saved version of a brush, as it was. */
export const versionQuery = (id: string, ordinal: number | undefined) =>
  queryOptions({
    queryKey: ['brush', id, 'version', ordinal],
    queryFn: () => read(api.brushes[':id'].versions[':ordinal'].$get({ param: { id, ordinal: String(ordinal) } })),
    enabled: ordinal !== undefined,
    staleTime: Number.POSITIVE_INFINITY,
  })

export const labelVersion = (id: string, ordinal: number, label: string) =>
  read(api.brushes[':id'].versions[':ordinal'].$patch({ param: { id, ordinal: String(ordinal) }, json: { label } }))

export const copyBrush = (id: string, wish: { name: string; maker: string; tipFrom?: string }) =>
  read(api.brushes[':id'].copy.$post({ param: { id }, json: wish }))

export const swapTip = (id: string, tipFrom: string, from: number) =>
  read(api.brushes[':id'].tip.$post({ param: { id }, json: { tipFrom, from } }))

/** Another thumbnail; a region or words come with the picture made of them. */
export const saveThumbnail = (id: string, { thumbnail, picture }: ThumbnailWish, from: number) =>
  read(
    api.brushes[':id'].thumbnail.$put({
      param: { id },
      form: {
        from: String(from),
        thumbnail: JSON.stringify(thumbnail),
        ...(picture ? { picture: new File([picture], 'thumbnail.png', { type: 'image/png' }) } : {}),
      },
    }),
  )
export type ThumbnailWish = { thumbnail: Thumbnail; picture?: Blob }

/** A few brushes by words. */
export const findBrushesQuery = (q: string, limit: number) =>
  queryOptions({
    queryKey: ['brushes', 'find', q, limit],
    queryFn: ({ signal }) => read(api.brushes.$get({ query: { q, limit: String(limit) } }, { init: { signal } })),
  })

/** Any one brush to begin with, where none was chosen. */
export const firstBrushQuery = queryOptions({
  queryKey: ['brushes', 'first'],
  queryFn: () => read(api.brushes.$get({ query: { limit: '1', sort: 'newest' } })),
})
