import { queryOptions } from '@tanstack/react-query'
import { api, read, send } from '../api/client.ts'

/** How many strokes wait to be measured. */
export const looksQuery = queryOptions({ queryKey: ['looks'], queryFn: () => read(api.looks.$get()) })

/** By what brushes are like one another. */
export const LIKE_BY = { mark: 'Marks', stroke: 'Strokes' } as const
export type LikeBy = keyof typeof LIKE_BY

const likeBrush = (id: string, by: LikeBy) => read(api.looks.like[':id'].$post({ param: { id }, query: { by } }))
export type Likes = Awaited<ReturnType<typeof likeBrush>>
export type Like = Likes['likes'][number]

/** What brushes are looked for by: one of them, or a picture, whose key tells it from any other. */
export type Wanted = { brushId: string } | { picture: Blob; name: string; key: string }

const likePicture = async (picture: Blob, by: LikeBy): Promise<Likes> =>
  (await send(`/api/looks/like?by=${by}`, { method: 'POST', body: picture })).json()

/** Brushes that look most like something, the best first. */
export const likeQuery = (wanted: Wanted | undefined, by: LikeBy) =>
  queryOptions({
    queryKey: ['like', by, wanted && ('brushId' in wanted ? wanted.brushId : wanted.key)],
    queryFn: () =>
      wanted && 'picture' in wanted ? likePicture(wanted.picture, by) : likeBrush(wanted?.brushId ?? '', by),
    enabled: wanted !== undefined,
    staleTime: 0,
    retry: false,
  })
