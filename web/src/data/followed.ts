import { queryOptions } from '@tanstack/react-query'
import { api, read, send } from '../api/client.ts'

const load = () => read(api.followed.$get())

/** Folders whose changed files become new versions of their brushes. */
export const followedQuery = queryOptions({ queryKey: ['followed'], queryFn: load })

export type FollowedFolder = Awaited<ReturnType<typeof load>>['folders'][number]

export const followFolder = (wish: Parameters<typeof api.followed.$post>[0]['json']) =>
  read(api.followed.$post({ json: wish }))
export const endFollowing = (id: string) => read(api.followed[':id'].$delete({ param: { id } }))
export const answerFollowed = (id: string, json: { fileId: string; isSame: boolean }) =>
  read(api.followed[':id'].answer.$post({ param: { id }, json }))

type Look = Parameters<(typeof api.followed)[':id']['look']['$post']>[0]['json']
export const tellLook = (id: string, files: Look['files']) =>
  read(api.followed[':id'].look.$post({ param: { id }, json: { files } }))
export const askFollowing = (id: string) => read(api.followed[':id'].$get({ param: { id } }))
export const sendFollowed = (id: string, { path, sha256, file }: { path: string; sha256: string; file: File }) =>
  send(`/api/followed/${id}/files?${new URLSearchParams({ path, sha256 })}`, { method: 'PUT', body: file })
