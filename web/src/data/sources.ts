import { ZipWriter } from '@satchel/core/formats/zip/write'
import type { Plan, Way } from '@satchel/core/make/ways'
import type { Written } from '@satchel/core/make/written'
import { queryOptions } from '@tanstack/react-query'
import { api, read, send } from '../api/client.ts'

/** Any picture of the library or the ledger as a new source. @returns Its id. */
export const sourceFromPicture = (blobSha: string, name: string) =>
  read(api.sources['from-picture'].$post({ json: { blobSha, name } }))

/** What a line of the ledger holds as a new source: its picture, or its frames as layers. @returns Its id. */
export const sourceFromLine = (lineId: string) => read(api.sources['from-line'].$post({ json: { lineId } }))

const loadSources = (bin: boolean) => read(api.sources.$get({ query: bin ? { bin: '1' } : {} }))
/** All sources; or those in the bin. */
export const sourcesQuery = (bin: boolean) =>
  queryOptions({ queryKey: ['sources', bin ? 'bin' : 'bench'], queryFn: () => loadSources(bin) })
export type SourceEntry = Awaited<ReturnType<typeof loadSources>>['sources'][number]

const loadSource = (id: string) => read(api.sources[':id'].$get({ param: { id } }))
export const sourceQuery = (id: string) => queryOptions({ queryKey: ['source', id], queryFn: () => loadSource(id) })
/** The plan is one of several kinds; the wire's type has lost which steps belong together. */
export type Source = Omit<Awaited<ReturnType<typeof loadSource>>, 'plan'> & { plan: Plan }

export const previewAddress = ({ id, file }: Pick<SourceEntry, 'id' | 'file'>, side: 320 | 1600) =>
  `/api/sources/${id}/preview.png?side=${side}&sha=${file.blobSha}`

/** The file itself, for what is not seen in a preview: layers and models. */
export const fileAddress = ({ id, file }: Pick<SourceEntry, 'id' | 'file'>) =>
  `/api/sources/${id}/file?sha=${file.blobSha}`

/** A file, and the words where it is a picture of some. */
export type Picture = { file: File; written?: Written }

const ofWords = (written: Written | undefined) => (written ? { written: JSON.stringify(written) } : undefined)

/** A file as a new source. @returns Its id. */
export async function addSource({ file, written }: Picture, way: Way): Promise<{ id: string }> {
  const query = new URLSearchParams({ name: file.name, way, ...ofWords(written) })
  return (await send(`/api/sources?${query}`, { method: 'POST', body: file })).json()
}

/** Several pictures as the layers of one new source. @returns Its id. */
export async function addStack(pictures: readonly Picture[], way: Way): Promise<{ id: string }> {
  const zip = new ZipWriter()
  const parts: Uint8Array[] = []
  // the number keeps files of the same name apart, and in order
  for (const [i, { file }] of pictures.entries())
    parts.push(...zip.add(`${i + 1}/${file.name}`, new Uint8Array(await file.arrayBuffer()), 'store'))
  parts.push(...zip.finish())
  return addSource({ file: new File(parts as BlobPart[], `${pictures.length} pictures.ora`) }, way)
}

export async function replaceFile(id: string, { file, written }: Picture, from: number): Promise<{ revision: number }> {
  const query = new URLSearchParams({ name: file.name, from: String(from), ...ofWords(written) })
  return (await send(`/api/sources/${id}/file?${query}`, { method: 'PUT', body: file })).json()
}

export const savePlan = (id: string, plan: Plan, from: number) =>
  read(api.sources[':id'].plan.$put({ param: { id }, json: { plan, from } }))
export const renameSource = (id: string, name: string) =>
  read(api.sources[':id'].$patch({ param: { id }, json: { name } }))
export const makeSource = (id: string) => read(api.sources[':id'].make.$post({ param: { id } }))
export const binSource = (id: string) => read(api.sources[':id'].bin.$post({ param: { id } }))
export const bringBackSource = (id: string) => read(api.sources[':id']['bring-back'].$post({ param: { id } }))

export const loadPng = async (address: string): Promise<ArrayBuffer> =>
  (await send(address, { method: 'GET' })).arrayBuffer()
