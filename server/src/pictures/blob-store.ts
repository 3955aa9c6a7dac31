import { createHash, randomUUID } from 'node:crypto'
import { createReadStream, createWriteStream } from 'node:fs'
import { mkdir, rename, rm, stat, utimes } from 'node:fs/promises'
import { join } from 'node:path'
import type { Writable } from 'node:stream'
import { pipeline } from 'node:stream/promises'
import type { FileSha } from '@satchel/core/hashes'
import { and, eq, sql } from 'drizzle-orm'
import { LRUCache } from 'lru-cache'
import type pg from 'pg'
import type { Db } from '../db/database.ts'
import { findObjectName } from '../db/file-places.ts'
import { blob, blobPiece } from '../db/schema/all.ts'
import { Refusal, StoreAway } from '../errors.ts'
import { measure, measureFile, type StoredBlob } from './measure.ts'
import type { ObjectStore } from './object-store.ts'
import { insertPieces, PIECE_BYTES, piecesOf } from './pieces.ts'
import { RoomKeeper } from './room-keeper.ts'
import { UnderWay } from './under-way.ts'

/** Files of the cache that are remembered as sound. */
const KNOWN_MOST = 100_000
/** When they were used is written down no more often than that. */
const TOUCH_MS = 60_000
/** A file may be moved between the look where it lies and the look there. */
const LOOKS_MOST = 3

/** Files up to this size go by one statement, so many at once. */
const TOGETHER_BYTES = 64 * 1024
const TOGETHER_MOST = 256

type BlobRow = StoredBlob & { workspaceId: string; mediaType: string }

/**
 * Files that never change, written into the database in pieces, where whoever stores them says in the same transaction whose
 * they are; larger ones may come to rest in a store beside it (`move-files.ts`). They are read through a cache on this server's
 * disk that may be thrown away at any time.
 */
export class BlobStore {
  readonly #pool: pg.Pool
  readonly #folder: string
  readonly #filling = new Map<string, Promise<string>>()
  readonly #underWay = new UnderWay()

  readonly #write: (path: string) => Writable

  /** Files that were found to be what they are called, since this server started; a file that is not as then is looked at again. */
  readonly #sound = new LRUCache<FileSha, { sizeBytes: number; mtimeMs: number }>({ max: KNOWN_MOST })

  readonly #room: RoomKeeper
  readonly #store: ObjectStore | undefined

  /**
   * @param options.bytesMost What each workspace may hold. @param options.store Where files may rest besides the database.
   * @param options.write Opens a file of the cache; tests let the disk
   * be full there.
   */
  constructor(
    pool: pg.Pool,
    cacheFolder: string,
    {
      bytesMost = Number.POSITIVE_INFINITY,
      store,
      write = openDurable,
    }: { bytesMost?: number; store?: ObjectStore | undefined; write?: (path: string) => Writable } = {},
  ) {
    this.#room = new RoomKeeper(bytesMost)
    this.#store = store
    this.#pool = pool
    this.#folder = cacheFolder
    this.#write = write
  }

  /** Waits for files that are on their way into the cache, also for nobody any more. */
  settled(): Promise<void> {
    return this.#underWay.ended()
  }

  /** Stores bytes at hand; the same bytes are stored once. */
  async put(db: Db, workspaceId: string, bytes: Uint8Array, mediaType: string): Promise<StoredBlob> {
    const sha256 = createHash('sha256').update(bytes).digest('hex') as FileSha
    const stored = { sha256, sizeBytes: bytes.length }
    const row = { workspaceId, mediaType, ...stored }
    if (bytes.length <= PIECE_BYTES) await this.#insertWhole(db, row, bytes)
    else
      await db.transaction(async (tx) => {
        if (!(await this.#insertRow(tx, row))) return
        for (let at = 0, ordinal = 0; at < bytes.length; at += PIECE_BYTES, ordinal++) {
          const piece = bytes.subarray(at, at + PIECE_BYTES)
          await tx.insert(blobPiece).values({ workspaceId, sha256, ordinal, bytes: piece })
        }
      })
    return stored
  }

  /** Stores many small files by one statement, and larger ones one by one. @returns Their names, in their order. */
  async putAll(db: Db, workspaceId: string, files: readonly Uint8Array[], mediaType: string): Promise<FileSha[]> {
    const names = files.map((bytes) => createHash('sha256').update(bytes).digest('hex') as FileSha)
    // each once, and in one order whoever else stores the same: who waits for whom makes no circle
    const each = [...new Map(names.map((sha256, i) => [sha256, files[i] ?? new Uint8Array()]))]
      .sort(([a], [b]) => (a < b ? -1 : 1))
      .map(([sha256, bytes]) => ({ row: { workspaceId, mediaType, sha256, sizeBytes: bytes.length }, bytes }))
    const small = each.filter(({ bytes }) => bytes.length <= TOGETHER_BYTES)
    for (const { row } of small) await this.#takeRoom(db, row)
    for (let at = 0; at < small.length; at += TOGETHER_MOST)
      await insertTogether(db, small.slice(at, at + TOGETHER_MOST))
    for (const { bytes } of each) if (bytes.length > TOGETHER_BYTES) await this.put(db, workspaceId, bytes, mediaType)
    return names
  }

  /**
   * Stores what a stream brings, by way of a file in the cache, so that memory stays flat.
   * @throws {LimitError} As soon as more than `maxBytes` have come; nothing is stored then.
   */
  async putStream(
    db: Db,
    workspaceId: string,
    stream: AsyncIterable<Uint8Array>,
    { mediaType, maxBytes }: { mediaType: string; maxBytes: number },
  ): Promise<StoredBlob> {
    await mkdir(this.#folder, { recursive: true })
    const partial = join(this.#folder, `${randomUUID()}.partial`)
    try {
      const measured = measure(maxBytes)
      await pipeline(stream, measured.pass, this.#write(partial))
      return await this.adopt(db, workspaceId, partial, { ...measured.result(), mediaType })
    } finally {
      await rm(partial, { force: true })
    }
  }

  /** Stores a finished file and moves it into the cache. */
  async putFile(db: Db, workspaceId: string, path: string, mediaType: string): Promise<StoredBlob> {
    return this.adopt(db, workspaceId, path, { ...(await measureFile(path)), mediaType })
  }

  /** What pieces are together that were stored one by one under a name of their own; they are in the cache then. */
  async measurePieces(workspaceId: string, name: FileSha): Promise<StoredBlob> {
    await mkdir(this.#folder, { recursive: true })
    const partial = join(this.#folder, `${randomUUID()}.partial`)
    try {
      const whole = await this.#copyOut(piecesOf(this.#pool, workspaceId, name), partial)
      await rename(partial, this.#cachePath(whole.sha256))
      return whole
    } finally {
      await rm(partial, { force: true })
    }
  }

  /** Makes a file of such pieces: they get its name, and are not copied. */
  async namePieces(
    db: Db,
    workspaceId: string,
    name: FileSha,
    { mediaType, ...whole }: StoredBlob & { mediaType: string },
  ): Promise<void> {
    const pieces = and(eq(blobPiece.workspaceId, workspaceId), eq(blobPiece.sha256, name))
    if (await this.#insertRow(db, { workspaceId, mediaType, ...whole }))
      await db.update(blobPiece).set({ sha256: whole.sha256 }).where(pieces)
    else await db.delete(blobPiece).where(pieces)
  }

  /**
   * Stores a finished file that was measured, and moves it into the cache. In a transaction that also says who owns it, nobody
   * can take it for a file that is nobody's, even where the same file was there before and is just let go.
   */
  async adopt(
    db: Db,
    workspaceId: string,
    path: string,
    known: StoredBlob & { mediaType: string },
  ): Promise<StoredBlob> {
    const { sha256, sizeBytes } = known
    await db.transaction(async (tx) => {
      if (await this.#insertRow(tx, { workspaceId, ...known })) await insertPieces(tx, { workspaceId, ...known }, path)
    })
    await mkdir(this.#folder, { recursive: true })
    await rename(path, this.#cachePath(sha256))
    return { sha256, sizeBytes }
  }

  /** A file of one piece in one statement: thousands of small ones come one after another while a ledger is read. */
  async #insertWhole(db: Db, row: BlobRow, bytes: Uint8Array): Promise<void> {
    await this.#takeRoom(db, row)
    await db.execute(sql`with added as (
        insert into ${blob} (workspace_id, sha256, size_bytes, media_type)
        values (${row.workspaceId}, ${row.sha256}, ${row.sizeBytes}, ${row.mediaType})
        on conflict do nothing returning workspace_id, sha256
      )
      insert into ${blobPiece} (workspace_id, sha256, ordinal, bytes)
      select workspace_id, sha256, 0, ${sql.param(bytes, blobPiece.bytes)} from added`)
  }

  async #insertRow(db: Db, row: BlobRow): Promise<boolean> {
    await this.#takeRoom(db, row)
    const [stored] = await db
      .insert(blob)
      .values(row)
      // changes nothing, and holds the row that is there until the transaction ends
      .onConflictDoUpdate({ target: [blob.workspaceId, blob.sha256], set: { mediaType: sql`${blob.mediaType}` } })
      .returning({ isNew: sql<boolean>`xmax = 0` })
    return stored?.isNew === true
  }

  /** @throws {Refusal} Where the workspace has no room for it; what it has already needs none. */
  async #takeRoom(db: Db, { workspaceId, sha256, sizeBytes }: BlobRow): Promise<void> {
    try {
      await this.#room.take(db, workspaceId, sizeBytes)
    } catch (error) {
      if (!(error instanceof Refusal) || !(await this.find(db, workspaceId, sha256))) throw error
    }
  }

  /** A blob's facts, or undefined where this workspace has none of that name. */
  async find(
    db: Db,
    workspaceId: string,
    sha256: FileSha,
  ): Promise<{ sizeBytes: number; mediaType: string } | undefined> {
    const [row] = await db
      .select({ sizeBytes: blob.sizeBytes, mediaType: blob.mediaType })
      .from(blob)
      .where(and(eq(blob.workspaceId, workspaceId), eq(blob.sha256, sha256)))
    return row
  }

  /**
   * The path of a file that holds the blob; fetched from the database where the cache has it not, or another file in its
   * place: the cache lies on a disk that others write to, that gets full, and that loses what a power cut finds unwritten.
   */
  async path(workspaceId: string, sha256: FileSha): Promise<string> {
    const running = this.#filling.get(sha256)
    if (running) return running
    const filling = this.#underWay.add(
      this.#findOrFill(workspaceId, sha256).finally(() => this.#filling.delete(sha256)),
    )
    this.#filling.set(sha256, filling)
    return filling
  }

  async #findOrFill(workspaceId: string, sha256: FileSha): Promise<string> {
    const path = this.#cachePath(sha256)
    return (await this.#isSound(sha256, path)) ? path : this.#fill(workspaceId, sha256, path)
  }

  /** Whether the cache has a blob whole: by its length and time on every use, by its hash on the first one. */
  async #isSound(sha256: FileSha, path: string): Promise<boolean> {
    const found = await statFile(path)
    if (!found) return false
    const known = this.#sound.get(sha256)
    if (known && known.sizeBytes !== found.sizeBytes) return false
    if (known?.mtimeMs !== found.mtimeMs && (await measureFile(path)).sha256 !== sha256) return false
    let { mtimeMs } = found
    if (Date.now() - mtimeMs > TOUCH_MS) {
      // what is used stays longest in the cache
      const now = new Date()
      await utimes(path, now, now)
      mtimeMs = (await statFile(path))?.mtimeMs ?? mtimeMs
    }
    this.#sound.set(sha256, { ...found, mtimeMs })
    return true
  }

  /** The whole blob in memory; for pictures, not for downloads. */
  async read(workspaceId: string, sha256: FileSha): Promise<Uint8Array> {
    const chunks: Buffer[] = []
    for await (const chunk of createReadStream(await this.path(workspaceId, sha256))) chunks.push(chunk)
    return new Uint8Array(Buffer.concat(chunks))
  }

  async #fill(workspaceId: string, sha256: FileSha, path: string): Promise<string> {
    await mkdir(this.#folder, { recursive: true })
    const partial = `${path}.${randomUUID()}.partial`
    try {
      await this.fetch(workspaceId, sha256, partial)
      await rename(partial, path)
      return path
    } finally {
      await rm(partial, { force: true })
    }
  }

  /** Writes a blob into a file, from wherever it rests. @throws {StoreAway} Where that does not answer. */
  async fetch(workspaceId: string, sha256: FileSha, path: string): Promise<void> {
    let name = await findObjectName(this.#pool, workspaceId, sha256)
    for (let looks = 1; ; looks++) {
      const bytes = name ? await this.#getObject(name) : piecesOf(this.#pool, workspaceId, sha256)
      if (bytes && (await this.#copyOut(bytes, path)).sha256 === sha256) return
      const before = name
      name = await findObjectName(this.#pool, workspaceId, sha256)
      if (name === before || looks === LOOKS_MOST)
        throw new Error(`Blob ${sha256} is not in workspace ${workspaceId}, or not whole`)
    }
  }

  async #getObject(name: string): Promise<AsyncIterable<Uint8Array> | undefined> {
    if (!this.#store) throw new StoreAway('none is set')
    return this.#store.get(name)
  }

  /** Writes bytes into a file. @returns What they are. */
  async #copyOut(bytes: AsyncIterable<Uint8Array>, path: string): Promise<StoredBlob> {
    const measured = measure()
    await pipeline(bytes, measured.pass, this.#write(path))
    return measured.result()
  }

  #cachePath(sha256: FileSha): string {
    return join(this.#folder, sha256)
  }
}

/** Files of one piece each, and of one workspace and kind. */
async function insertTogether(db: Db, files: readonly { row: BlobRow; bytes: Uint8Array }[]): Promise<void> {
  const [first] = files
  if (!first) return
  const names = sql.param(files.map(({ row }) => row.sha256))
  const sizes = sql.param(files.map(({ row }) => row.sizeBytes))
  const pieces = sql.param(files.map(({ bytes }) => Buffer.from(bytes.buffer, bytes.byteOffset, bytes.length)))
  const { workspaceId, mediaType } = first.row
  await db.execute(sql`with files as (
      select * from unnest(${names}::text[], ${sizes}::bigint[], ${pieces}::bytea[]) as f (sha256, size_bytes, bytes)
    ), added as (
      insert into ${blob} (workspace_id, sha256, size_bytes, media_type)
      select ${workspaceId}::uuid, f.sha256, f.size_bytes, ${mediaType} from files f order by f.sha256 collate "C"
      on conflict do nothing returning workspace_id, sha256
    )
    insert into ${blobPiece} (workspace_id, sha256, ordinal, bytes)
    select a.workspace_id, a.sha256, 0, f.bytes from added a join files f on f.sha256 = a.sha256`)
}

/** A file of the cache is on the disk before it gets its name. */
const openDurable = (path: string): Writable => createWriteStream(path, { flush: true })

async function statFile(path: string): Promise<{ sizeBytes: number; mtimeMs: number } | undefined> {
  try {
    const { size, mtimeMs } = await stat(path)
    return { sizeBytes: size, mtimeMs }
  } catch (error) {
    if (error instanceof Error && 'code' in error && error.code === 'ENOENT') return undefined
    throw error
  }
}
