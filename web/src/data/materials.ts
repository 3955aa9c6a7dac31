import { queryOptions } from '@tanstack/react-query'
import { api, read, send } from '../api/client.ts'
import { loadPicture } from './pictures.ts'

const load = () => read(api.materials.$get({ query: {} }))

/** The library's grains and strips. */
export const materialsQuery = queryOptions({ queryKey: ['materials'], queryFn: load })

export type Material = Awaited<ReturnType<typeof load>>['materials'][number]

/** One grain or strip with the brushes that use it. */
export const materialQuery = (id: string) =>
  queryOptions({ queryKey: ['materials', id], queryFn: () => read(api.materials[':id'].$get({ param: { id } })) })

export const renameMaterial = (id: string, name: string) =>
  read(api.materials[':id'].$patch({ param: { id }, json: { name } }))
export const binMaterial = (id: string) => read(api.materials[':id'].bin.$post({ param: { id } }))
export const bringBackMaterial = (id: string) => read(api.materials[':id']['bring-back'].$post({ param: { id } }))

/** A tile's own file, which never changes. */
export const tileQuery = (blobSha: string) =>
  queryOptions({
    queryKey: ['tile', blobSha],
    queryFn: () => loadPicture(blobSha),
    staleTime: Number.POSITIVE_INFINITY,
  })

/** A tile that was drawn or mended here, as a new grain. @returns Its id. */
export async function addGrain(name: string, png: Uint8Array<ArrayBuffer>): Promise<{ id: string }> {
  const query = new URLSearchParams({ name })
  return (await send(`/api/materials?${query}`, { method: 'POST', body: png })).json()
}

/** Brushes that use a grain paint with another one. @returns How many changed. */
export const replaceGrain = (id: string, by: string) =>
  read(api.materials[':id'].replace.$post({ param: { id }, json: { by } }))
