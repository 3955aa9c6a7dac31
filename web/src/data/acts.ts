import { queryOptions } from '@tanstack/react-query'
import { api, read } from '../api/client.ts'

/** What was done to many brushes in one step, the newest first, as long as it can be taken back. */
export const actsQuery = queryOptions({ queryKey: ['acts'], queryFn: () => read(api.acts.$get()) })

export const undoAct = (id: string) => read(api.acts[':id'].undo.$post({ param: { id } }))
