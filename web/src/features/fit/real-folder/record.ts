import type { FileSha } from '@satchel/core/hashes'
import { createStore, del, get, set } from 'idb-keyval'
import { type Folder, readAt, removeAt, writeAt } from './folder-files.ts'

/** A file that was put into a folder, as it was written, and what lay there before. */
export type KeptFile = { path: string; sha256: FileSha; replaced: FileSha | undefined; wasThere: boolean }
/**
 * What this browser knows of an install in a folder of this computer. While it is being written, it lists all that may
 * have been: whatever breaks off, the folder can be put back.
 */
export type FolderRecord = { folder: Folder; name: string; phase: 'writing' | 'in'; files: KeptFile[] }

const store = createStore('satchel-folders', 'installs')
/** Where what was replaced is kept until it is given back: the browser's own files, which no app sees. */
const BEFORE = 'satchel-before'

export const loadRecord = (installId: string) => get<FolderRecord>(installId, store)
export const saveRecord = (installId: string, record: FolderRecord) => set(installId, record, store)

const ownFiles = () => navigator.storage.getDirectory()
const placeOf = (installId: string, sha256: FileSha) => `${BEFORE}/${installId}/${sha256}`

export const keepBefore = async (installId: string, sha256: FileSha, bytes: ArrayBuffer) =>
  writeAt(await ownFiles(), placeOf(installId, sha256), bytes)
export const readBefore = async (installId: string, sha256: FileSha) =>
  readAt(await ownFiles(), placeOf(installId, sha256))

/** Forgets an install that lies in the folder no more, and all that was kept for it. */
export async function dropRecord(installId: string, { files }: Pick<FolderRecord, 'files'>): Promise<void> {
  const own = await ownFiles()
  for (const { replaced } of files) if (replaced) await removeAt(own, placeOf(installId, replaced))
  await del(installId, store)
}
