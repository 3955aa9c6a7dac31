import { queryOptions } from '@tanstack/react-query'
import { api, read } from '../../api/client.ts'

/** One grain or strip with the brushes that use it. */
export const materialQuery = (id: string) =>
  queryOptions({ queryKey: ['materials', id], queryFn: () => read(api.materials[':id'].$get({ param: { id } })) })

export const renameMaterial = (id: string, name: string) =>
  read(api.materials[':id'].$patch({ param: { id }, json: { name } }))
export const binMaterial = (id: string) => read(api.materials[':id'].bin.$post({ param: { id } }))
export const bringBackMaterial = (id: string) => read(api.materials[':id']['bring-back'].$post({ param: { id } }))
