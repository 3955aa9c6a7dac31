import { queryOptions } from '@tanstack/react-query'
import { api, read } from '../../api/client.ts'

const loadFrames = (id: string) => read(api.brushes[':id'].frames.$get({ param: { id } }))
/** The frames of a brush beside each other. @param version Another one measures anew. */
export const framesQuery = (id: string, version: number) =>
  queryOptions({ queryKey: ['frames', id, version], queryFn: () => loadFrames(id) })
export type ComparedFrames = Awaited<ReturnType<typeof loadFrames>>

export type FramesChange = {
  from: number
  order: number[]
  even?: { size: boolean; align: 'no' | 'centres' | 'base lines'; tone: boolean }
  blacken?: boolean
}
export const changeFrames = (id: string, json: FramesChange) =>
  read(api.brushes[':id'].frames.$post({ param: { id }, json }))
export const goToVersion = (id: string, ordinal: number) =>
  read(api.brushes[':id'].version.$post({ param: { id }, json: { ordinal } }))
