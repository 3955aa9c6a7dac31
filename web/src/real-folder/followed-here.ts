import { createStore, del, entries, get, set } from 'idb-keyval'
import type { Folder } from './folder-files.ts'

/** A folder of this computer that this browser follows for a workspace. */
export type FollowedHere = { id: string; workspaceId: string; folder: Folder; name: string }

const store = createStore('satchel-followed', 'folders')

export const rememberFollowed = (followed: FollowedHere): Promise<void> => set(followed.id, followed, store)
export const forgetFollowed = (id: string): Promise<void> => del(id, store)

export const findFollowedHere = (id: string): Promise<FollowedHere | undefined> => get(id, store)

/** The folders that this browser follows for a workspace. */
export async function listFollowedHere(workspaceId: string): Promise<FollowedHere[]> {
  const all = await entries<string, FollowedHere>(store)
  return all.flatMap(([, followed]) => (followed.workspaceId === workspaceId ? [followed] : []))
}

type Asking = Record<
  'queryPermission' | 'requestPermission',
  ((wish: { mode: 'read' }) => Promise<'granted' | 'denied' | 'prompt'>) | undefined
>

/** Whether a folder may be read without asking again: the browser forgets that between visits. */
export async function mayRead(folder: Folder): Promise<boolean> {
  const answer = await (folder as unknown as Asking).queryPermission?.({ mode: 'read' })
  return answer === undefined || answer === 'granted'
}

/** Asks for a folder that was given before. @returns Whether it was given. */
export async function askToRead(folder: Folder): Promise<boolean> {
  const answer = await (folder as unknown as Asking).requestPermission?.({ mode: 'read' })
  return answer === undefined || answer === 'granted'
}
