import { queryOptions } from '@tanstack/react-query'
import { api, read, showWorkspace } from '../api/client.ts'

/** Whether somebody is signed in, who, and in which workspace. */
export const sessionQuery = queryOptions({
  queryKey: ['session'],
  async queryFn() {
    const session = await read(api.session.$get())
    showWorkspace(session.signedIn ? session.workspaceId : undefined)
    return session
  },
  staleTime: 60_000,
})

export type Session = Extract<Awaited<ReturnType<NonNullable<typeof sessionQuery.queryFn>>>, { signedIn: true }>
