import { queryOptions } from '@tanstack/react-query'
import { api, read } from './client.ts'

const load = () => read(api.materials.$get({ query: {} }))

/** The library's grains and strips. */
export const materialsQuery = queryOptions({ queryKey: ['materials'], queryFn: load })

export type Material = Awaited<ReturnType<typeof load>>['materials'][number]
