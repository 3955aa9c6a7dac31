import { createStore, del, entries, get, set } from 'idb-keyval'
import { type Folder, readAt, removeAt, writeAt } from './folder-files.ts'

/** Settings of a folder of this computer that were mended in one go, as long as that can be undone. */
export type FolderMend = {
  id: string
  folder: Folder
  ends: number
  createdAt: string
  /** Each settings file by its hash, before and after. */
  files: { path: string; before: string; after: string }[]
}

/** Mends of a folder that can be undone; older ones are forgotten. */
const MENDS_KEPT = 8
const store = createStore('satchel-mends', 'mends')
const MENDED = 'satchel-mended'
const placeOf = (id: string, path: string) => `${MENDED}/${id}/${path}`
const ownFiles = () => navigator.storage.getDirectory()

/** Keeps a settings file as it was. */
export const keepMended = async (id: string, path: string, bytes: ArrayBuffer) =>
  writeAt(await ownFiles(), placeOf(id, path), bytes)
export const readMended = async (id: string, path: string) => readAt(await ownFiles(), placeOf(id, path))

export const findMend = (id: string) => get<FolderMend>(id, store)

/** The mends of a folder, the newest first. */
export async function listMends(folder: Folder): Promise<FolderMend[]> {
  const own: FolderMend[] = []
  for (const [, mend] of await entries<string, FolderMend>(store))
    if (await mend.folder.isSameEntry(folder)) own.push(mend)
  return own.sort((a, b) => (a.createdAt < b.createdAt ? 1 : -1))
}

export async function addMend(mend: FolderMend): Promise<void> {
  await set(mend.id, mend, store)
  for (const { id } of (await listMends(mend.folder)).slice(MENDS_KEPT)) await dropMend(id)
}

export async function dropMend(id: string): Promise<void> {
  const mend = await findMend(id)
  const own = await ownFiles()
  for (const { path } of mend?.files ?? []) await removeAt(own, placeOf(id, path))
  await del(id, store)
}
