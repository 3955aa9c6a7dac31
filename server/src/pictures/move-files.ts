import { randomUUID } from 'node:crypto'
import { mkdir, rm } from 'node:fs/promises'
import { join } from 'node:path'
import pMap from 'p-map'
import type pg from 'pg'
import type { Db } from '../db/database.ts'
import {
  announceObject,
  type FilesRest,
  findFilesRest,
  forgetLoose,
  listLoose,
  listMisplaced,
  type StoredFile,
  settleInDatabase,
  settleInStore,
} from '../db/file-places.ts'
import { isAway } from '../errors.ts'
import type { Log } from '../log.ts'
import type { BlobStore } from './blob-store.ts'
import { measureBytes } from './measure.ts'
import type { ObjectStore } from './object-store.ts'
import { insertPieces } from './pieces.ts'

const PAGE = 200
const AT_ONCE = 4
/** Objects that one request deletes: the protocol takes a thousand. */
const DELETED_AT_ONCE = 1000
/** A copy of the database as old as this finds every object that it names. */
export const LOOSE_FOR_MS = 7 * 24 * 60 * 60 * 1000
/** Of all servers of a database one moves files at a time; any number, but one that nothing else locks by. */
const TURN = 8127

export type Mover = {
  db: Db
  pool: pg.Pool
  blobs: Pick<BlobStore, 'fetch'>
  store: ObjectStore
  /** A folder for files on their way. */
  scratch: string
  log: Pick<Log, 'error'>
  signal?: AbortSignal
}

export type Moved = { files: number; bytes: number; failed: number }

/** Where files rest, where a store is set: in it, unless it was said otherwise. */
export const restOf = async (db: Db): Promise<FilesRest> => (await findFilesRest(db)) ?? 'store'

/**
 * Moves all files to where they are to rest, while others work, and deletes the objects that no file has named for a week.
 * @param told Told after each page of files. @returns What was moved; undefined where another server is at it.
 * @throws {StoreAway} Where the store fails; what was moved by then stays so, and the rest is as it was.
 */
export async function moveFiles(
  mover: Mover,
  told: (moved: Moved) => void = () => undefined,
): Promise<Moved | undefined> {
  return withTurn(mover.pool, async () => {
    const rest = await restOf(mover.db)
    const moved: Moved = { files: 0, bytes: 0, failed: 0 }
    let after: StoredFile | undefined
    while (!mover.signal?.aborted) {
      const page = await listMisplaced(mover.db, rest, after, PAGE)
      if (page.length === 0) break
      await pMap(page, (file) => moveOne(mover, file, moved), { concurrency: AT_ONCE })
      told(moved)
      after = page.at(-1)
      // whoever runs it has changed their mind
      if ((await restOf(mover.db)) !== rest) break
    }
    await deleteLoose(mover)
    return moved
  })
}

async function moveOne(mover: Mover, file: StoredFile, moved: Moved): Promise<void> {
  if (mover.signal?.aborted) return
  try {
    const { objectName } = file
    const isMoved = objectName ? await toDatabase(mover, { ...file, objectName }) : await toStore(mover, file)
    if (!isMoved) return
    moved.files++
    moved.bytes += file.sizeBytes
  } catch (error) {
    if (isAway(error) || mover.signal?.aborted) throw error
    // one that is broken keeps no other one from being moved
    moved.failed++
    mover.log.error({ err: error, file: file.sha256, workspace: file.workspaceId }, 'a file was not moved')
  }
}

/** Out of the database goes only what was read back from the store, byte for byte. */
async function toStore(mover: Mover, file: StoredFile): Promise<boolean> {
  const { db, store } = mover
  const name = `${file.workspaceId}/${file.sha256.slice(0, 2)}/${file.sha256}.${randomUUID()}`
  await announceObject(db, name)
  await withScratch(mover, file, (path) => store.put(name, path, mover.signal))
  const back = await store.get(name)
  if (!back || (await measureBytes(back)).sha256 !== file.sha256)
    throw new Error('the store gave back something else than it was given')
  return settleInStore(db, file, name)
}

const toDatabase = (mover: Mover, file: StoredFile & { objectName: string }): Promise<boolean> =>
  withScratch(mover, file, (path) => settleInDatabase(mover.db, file, (tx) => insertPieces(tx, file, path)))

/** Fetches a file, looked at whole, and takes it away again. */
async function withScratch<Result>(
  { blobs, scratch }: Mover,
  { workspaceId, sha256 }: StoredFile,
  use: (path: string) => Promise<Result>,
): Promise<Result> {
  await mkdir(scratch, { recursive: true })
  const path = join(scratch, `${randomUUID()}.moving`)
  try {
    await blobs.fetch(workspaceId, sha256, path)
    return await use(path)
  } finally {
    await rm(path, { force: true })
  }
}

async function deleteLoose({ db, store, signal }: Mover): Promise<void> {
  while (!signal?.aborted) {
    const names = await listLoose(db, new Date(Date.now() - LOOSE_FOR_MS), DELETED_AT_ONCE)
    const gone = await store.remove(names)
    await forgetLoose(db, gone)
    if (gone.length < DELETED_AT_ONCE) return
  }
}

/** Does something while no other server does it; the turn ends with the connection, however that ends. */
async function withTurn<Result>(pool: pg.Pool, work: () => Promise<Result>): Promise<Result | undefined> {
  const client = await pool.connect()
  let isClean = false
  try {
    const { rows } = await client.query<{ has: boolean }>('select pg_try_advisory_lock($1) as has', [TURN])
    if (!rows[0]?.has) {
      isClean = true
      return undefined
    }
    const result = await work()
    await client.query('select pg_advisory_unlock($1)', [TURN])
    isClean = true
    return result
  } finally {
    client.release(!isClean)
  }
}
