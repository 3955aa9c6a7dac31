import { queryOptions } from '@tanstack/react-query'
import { api, read } from '../api/client.ts'

/** Shops that sell packs, and what was bought. Under the packs' key: whatever changes those may give what was bought. */
export const shopsQuery = queryOptions({ queryKey: ['packs', 'shops'], queryFn: () => read(api.shops.$get()) })

type Shops = Awaited<ReturnType<NonNullable<typeof shopsQuery.queryFn>>>
export type Shop = Shops['shops'][number]
export type Purchase = Shops['purchases'][number]

export const createShop = (name: string) => read(api.shops.$post({ json: { name } }))
export const tellSecret = async (id: string) => (await read(api.shops[':id'].secret.$post({ param: { id } }))).secret
export const closeShop = (id: string, isClosed: boolean) =>
  read(api.shops[':id'].closed.$put({ param: { id }, json: { isClosed } }))
export const setProduct = (id: string, json: { code: string; packId: string; editionId: string | null }) =>
  read(api.shops[':id'].products.$put({ param: { id }, json }))
export const dropProduct = (id: string) => read(api.shops.products[':id'].$delete({ param: { id } }))
