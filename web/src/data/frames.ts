import type { FrameEdit } from '@satchel/core/frames/edit-frame'
import { queryOptions } from '@tanstack/react-query'
import { api, RequestError, read, send } from '../api/client.ts'

/** Frames with how they stand beside each other; where that is not known yet it is asked for, which whoever may only look cannot. */
async function loadFrames(id: string) {
  const { compared, ...frames } = await read(api.brushes[':id'].frames.$get({ param: { id } }))
  const compare = () => read(api.brushes[':id'].frames.compare.$post({ param: { id } }))
  return { ...frames, ...(compared ?? (await compare().catch(nothingToMayLook))) }
}

function nothingToMayLook(error: unknown) {
  if (error instanceof RequestError && error.status === 403)
    return { standings: [], hues: [], shadows: [], sentences: [], alike: [] }
  throw error
}
/** The frames of a brush beside each other. @param version Another one measures anew. */
export const framesQuery = (id: string, version: number) =>
  queryOptions({ queryKey: ['frames', id, version], queryFn: () => loadFrames(id) })
export type ComparedFrames = Awaited<ReturnType<typeof loadFrames>>

export type FramesChange = {
  from: number
  /** By their places now, or in an earlier version. */
  order: (number | { version: number; place: number })[]
  edits?: { at: number; edit: FrameEdit }[]
  even?: { size: boolean; align: 'no' | 'centres' | 'base lines'; tone: boolean }
  blacken?: boolean
}
export const changeFrames = (id: string, json: FramesChange) =>
  read(api.brushes[':id'].frames.$post({ param: { id }, json }))

export async function replaceFrame(id: string, place: number, file: File, from: number): Promise<void> {
  const query = new URLSearchParams({ from: String(from), name: file.name })
  await send(`/api/brushes/${id}/frames/${place + 1}?${query}`, { method: 'PUT', body: file })
}

export const goToVersion = (id: string, ordinal: number) =>
  read(api.brushes[':id'].version.$post({ param: { id }, json: { ordinal } }))
