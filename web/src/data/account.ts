import { queryOptions } from '@tanstack/react-query'
import { api, read, send } from '../api/client.ts'

export type NewOwner = { name: string; workspace: string; email: string; password: string }

const sendJson = (path: string, body: object) =>
  send(path, { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) })

/** @returns Whether a code is wanted too, by `signInByCode`. */
export async function signIn(email: string, password: string): Promise<boolean> {
  const answer = (await (await sendJson('/api/auth/sign-in/email', { email, password })).json()) as { code?: boolean }
  return answer.code === true
}
/** The second step of signing in. @param code Six digits of an app, or a recovery code. */
export const signInByCode = (code: string) => sendJson('/api/auth/sign-in/code', { code })

export const askForLink = (email: string) => read(api.session.forgotten.$post({ json: { email } }))
export const choosePassword = (token: string, next: string) => read(api.session.reset.$post({ json: { token, next } }))

/** Begins a second factor: what the app has to know, and codes for when it is lost. Nothing changes yet. */
export const beginSecond = (password: string) => read(api.session.second.begin.$post({ json: { password } }))
export const confirmSecond = (code: string) => read(api.session.second.confirm.$post({ json: { code } }))
export const endSecond = (password: string) => read(api.session.second.end.$post({ json: { password } }))
export const newCodes = (password: string) => read(api.session.second.codes.$post({ json: { password } }))

export const signOut = () => sendJson('/api/auth/sign-out', {})

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
