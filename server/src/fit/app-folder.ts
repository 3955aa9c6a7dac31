import type { FileSha } from '@satchel/core/hashes'
import { carryOut, type Folder, type Plan } from '@satchel/core/installs/places'
import type { Db } from '../db/database.ts'
import { dropFromFolder, holdFolder, listFolder, putIntoFolder, type StandInFile } from '../db/installs.ts'
import { findKept } from '../db/mends.ts'
import { type AppFolder, listPlaces, notePlaces } from '../db/places.ts'
import { Refusal } from '../errors.ts'

/** Bytes that a stand-in's folder holds at most: it is looked into as a whole. */
export const FOLDER_MAX_BYTES = 256 * 1024 ** 2

/** The folder of a stand-in, held until the transaction ends, and what is remembered of it. */
export type HeldFolder = Folder & { files: readonly StandInFile[] }

export async function openFolder(tx: Db, { workspaceId, standIn }: AppFolder): Promise<HeldFolder> {
  await holdFolder(tx, workspaceId, standIn)
  const files = await listFolder(tx, workspaceId, standIn)
  const there = new Map(files.map(({ path, blobSha }) => [path, blobSha]))
  return { files, there, places: await listPlaces(tx, { workspaceId, standIn }) }
}

/**
 * Carries a plan out in the folder of a stand-in: a transaction, so that all of it is done or nothing.
 * @throws {Refusal} Where the folder has no room for it.
 */
export async function carryOutIn(tx: Db, folder: AppFolder, { files }: HeldFolder, plan: Plan): Promise<void> {
  const { workspaceId, standIn } = folder
  const [written, removed]: [{ path: string; sha256: string }[], string[]] = [[], []]
  await carryOut(plan, {
    // stored files stay as long as somebody names them: what is remembered does
    keep: () => undefined,
    note: () => undefined,
    write: (step) => void written.push(step),
    remove: ({ path }) => void removed.push(path),
  })
  const shas = [...new Set(written.map(({ sha256 }) => sha256))] as FileSha[]
  const sizes = await findKept(tx, workspaceId, shas)
  const rows = written.map(({ path, sha256 }) => {
    const sizeBytes = sizes.get(sha256 as FileSha)
    if (sizeBytes === undefined) throw new Error(`${path} is to be written, and its bytes are not stored`)
    return { path, blobSha: sha256 as FileSha, sizeBytes }
  })
  checkRoom(files, rows)
  await dropFromFolder(tx, workspaceId, standIn, removed)
  await putIntoFolder(tx, workspaceId, standIn, rows)
  await notePlaces(tx, folder, plan.after)
}

type Sized = { path: string; sizeBytes: number }
function checkRoom(folder: readonly Sized[], files: readonly Sized[]): void {
  // what is replaced makes room for what comes
  const after = new Map([...folder, ...files].map(({ path, sizeBytes }) => [path, sizeBytes]))
  const bytes = [...after.values()].reduce((sum, sizeBytes) => sum + sizeBytes, 0)
  if (files.length > 0 && bytes > FOLDER_MAX_BYTES)
    throw new Refusal('noRoom', 'There is no room for it in the folder of this app; take something out and try again.')
}
