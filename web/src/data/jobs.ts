import { queryOptions } from '@tanstack/react-query'
import { api, read } from '../api/client.ts'

const SAFETY_MS = 15_000 // events bring changes; this is for a connection that broke unnoticed

export const jobsQuery = queryOptions({
  queryKey: ['jobs'],
  queryFn: () => read(api.jobs.$get()),
  refetchInterval: SAFETY_MS,
})

export const stopJob = (id: string) => read(api.jobs[':id'].stop.$post({ param: { id } }))
export const resumeJob = (id: string) => read(api.jobs[':id'].resume.$post({ param: { id } }))
