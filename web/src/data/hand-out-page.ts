import type { Recipe } from '@satchel/core/brush/recipe'
import { nameOfPart, type Part } from '@satchel/core/pack/parts'
import { queryOptions } from '@tanstack/react-query'
import { api, read, send } from '../api/client.ts'

const load = (token: string) => read(api.h[':token'].$get({ param: { token } }))

export const handOutPageQuery = (token: string) =>
  queryOptions({
    queryKey: ['hand-out-page', token],
    queryFn: () => load(token),
    staleTime: 0,
    retry: false,
    // while files are put together, and once a lesson opens or closes, the page shows it by itself
    refetchInterval: ({ state: { data } }) => (data ? untilNext(data) : false),
  })

const BUILDING_MS = 4000
/** Timers hold no longer time. */
const LONGEST_MS = 2 ** 31 - 1

function untilNext({ files, nextAt, isLook }: HandOutPage): number | false {
  if (files === 'building' && !isLook) return BUILDING_MS
  if (nextAt === null || isLook) return false
  // a second later: clocks differ a little
  return Math.min(Math.max(0, new Date(nextAt).getTime() - Date.now()) + 1000, LONGEST_MS)
}

/** Names what a link gives just now: the same release gives more once a lesson has opened. */
export const givenBy = ({ version, zipBytes, brushes }: HandOutPage): string =>
  `${version} ${zipBytes} ${brushes.length}`

export type HandOutPage = Awaited<ReturnType<typeof load>>

export type App = HandOutPage['apps'][number]

/** What arrives of each brush in an app, and how large it is alone. */
export const arrivesQuery = (token: string, as: Part['as'], given: string) => {
  const query = { as: nameOfPart({ as, of: { kind: 'all' } }).as }
  return queryOptions({
    queryKey: ['hand-out-page', token, 'arrives', query.as, given],
    queryFn: () => read(api.h[':token'].arrives.$get({ param: { token }, query })),
    staleTime: Number.POSITIVE_INFINITY,
  })
}

/** Where a part of the download lies, or all of it. */
export const downloadOf = (token: string, part?: Part): string =>
  `/api/h/${token}/download${part ? `?${new URLSearchParams(nameOfPart(part))}` : ''}`

export const sendNote = (token: string, json: { sentId: string; app: string; text: string }) =>
  read(api.h[':token'].notes.$post({ param: { token }, json }))

/** Puts what a link gives into the ledger of who is signed in here. */
export const takeIn = (token: string) => read(api.gathers['from-link'].$post({ json: { token } }))

/** A brush of a hand-out with all that painting takes. */
export type TriedBrush = { recipe: Recipe; frames: ArrayBuffer[]; grain: ArrayBuffer | undefined }

/** Fetches a brush to be tried. @throws {RequestError} With the server's sentence. */
export async function fetchTried(token: string, brushId: string, version: string): Promise<TriedBrush> {
  const path = `/api/h/${encodeURIComponent(token)}/brushes/${brushId}?of=${encodeURIComponent(version)}`
  return readTried(await send(path, { method: 'GET' }))
}

/** A brush to be tried, as it is sent: its recipe, its frames in their order, its grain. */
export async function readTried(answer: Response): Promise<TriedBrush> {
  const form = await answer.formData()
  const files = (name: string) => Promise.all(form.getAll(name).map((file) => (file as File).arrayBuffer()))
  const [frames, [grain]] = await Promise.all([files('frame'), files('grain')])
  return { recipe: JSON.parse(String(form.get('recipe'))) as Recipe, frames, grain }
}
