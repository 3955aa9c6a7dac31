import { queryOptions } from '@tanstack/react-query'
import { api, read, send } from '../api/client.ts'

export type NewOwner = { name: string; workspace: string; email: string; password: string }

export const signIn = (email: string, password: string) =>
  send('/api/auth/sign-in/email', {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ email, password }),
  })

export const signOut = () =>
  send('/api/auth/sign-out', { method: 'POST', headers: { 'content-type': 'application/json' }, body: '{}' })

export const makeOwner = (owner: NewOwner) => read(api.session.owner.$post({ json: owner }))

const loadRoom = () => read(api.workspace.room.$get())
/** What the workspace takes up of what it may. */
export const roomQuery = queryOptions({ queryKey: ['room'], queryFn: loadRoom, staleTime: 0 })
export type Room = Awaited<ReturnType<typeof loadRoom>>

const loadFacts = () => read(api.workspace.facts.$get())
/** Whose what is new is, where its file says nothing. */
export const factsQuery = queryOptions({ queryKey: ['facts'], queryFn: loadFacts })
export type WorkspaceFacts = Awaited<ReturnType<typeof loadFacts>>
export const saveFacts = (facts: WorkspaceFacts) => read(api.workspace.facts.$put({ json: facts }))

const loadKeys = () => read(api.signing.$get())
/** The keys by which releases are signed, the one that signs now first. */
export const signingQuery = queryOptions({ queryKey: ['signing'], queryFn: loadKeys })
export type SigningKeys = Awaited<ReturnType<typeof loadKeys>>
export const exportKey = () => read(api.signing.export.$post())
export const rotateKey = () => read(api.signing.rotate.$post())
export const importKey = (pem: string) => read(api.signing.import.$post({ json: { pem } }))

export const changePassword = (current: string, next: string) =>
  read(api.session.password.$post({ json: { current, next } }))

/** How much the whole library is, and whether one can be given back. */
export const wholeLibraryQuery = queryOptions({
  queryKey: ['whole-library'],
  queryFn: () => read(api.library.$get()),
  staleTime: 0,
})
/** Sends a library file, which is put in by a task. */
export const giveLibraryBack = (file: File) =>
  send('/api/library', { method: 'POST', headers: { 'content-type': 'application/octet-stream' }, body: file })
