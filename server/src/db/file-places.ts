import type { FileSha } from '@satchel/core/hashes'
import { and, eq, gt, inArray, isNotNull, isNull, lt, notExists, type SQL, sql } from 'drizzle-orm'
import type pg from 'pg'
import type { Db } from './database.ts'
import { blob, blobPiece, filesRest, looseObject } from './schema/all.ts'
import type { FilesRest } from './schema/file-places.ts'
import { SMALL_BYTES } from './schema/library.ts'

export type { FilesRest }

export type StoredFile = { workspaceId: string; sha256: FileSha; sizeBytes: number; objectName: string | null }

/** Which files are not where they are to rest; as the partial indices of `blob` say it. */
const MISPLACED: Record<FilesRest, SQL | undefined> = {
  store: and(isNull(blob.objectName), sql`${blob.sizeBytes} > ${sql.raw(String(SMALL_BYTES))}`),
  database: isNotNull(blob.objectName),
}

const columns = {
  workspaceId: blob.workspaceId,
  sha256: blob.sha256,
  sizeBytes: blob.sizeBytes,
  objectName: blob.objectName,
}
const isFile = ({ workspaceId, sha256 }: Pick<StoredFile, 'workspaceId' | 'sha256'>) =>
  and(eq(blob.workspaceId, workspaceId), eq(blob.sha256, sha256))

/** The next files of all workspaces that are to be moved, after one of them. */
export const listMisplaced = (
  db: Db,
  rest: FilesRest,
  after: Pick<StoredFile, 'workspaceId' | 'sha256'> | undefined,
  most: number,
): Promise<StoredFile[]> =>
  db
    .select(columns)
    .from(blob)
    .where(
      and(
        MISPLACED[rest],
        after && sql`(${blob.workspaceId}, ${blob.sha256}) > (${after.workspaceId}::uuid, ${after.sha256})`,
      ),
    )
    .orderBy(blob.workspaceId, blob.sha256)
    .limit(most)

/** The name of a file's object; null while it lies in the database, undefined where there is no such file. */
export async function findObjectName(
  pool: Pick<pg.Pool, 'query'>,
  workspaceId: string,
  sha256: FileSha,
): Promise<string | null | undefined> {
  const { rows } = await pool.query<{ name: string | null }>(
    'select object_name as name from blob where workspace_id = $1 and sha256 = $2',
    [workspaceId, sha256],
  )
  return rows[0]?.name
}

/** Says that an object may come to be which no file names yet: whatever ends before that, it is deleted later. */
export async function announceObject(db: Db, name: string): Promise<void> {
  await db.insert(looseObject).values({ name })
}

/** Makes an object a file's place, in one step with letting go of its pieces. @returns Whether the file was still there, in pieces. */
export const settleInStore = (db: Db, file: StoredFile, name: string): Promise<boolean> =>
  db.transaction(async (tx) => {
    const moved = await tx
      .update(blob)
      .set({ objectName: name })
      .where(and(isFile(file), isNull(blob.objectName)))
      .returning({ sha256: blob.sha256 })
    if (moved.length === 0) return false
    await tx.delete(looseObject).where(eq(looseObject.name, name))
    await tx
      .delete(blobPiece)
      .where(and(eq(blobPiece.workspaceId, file.workspaceId), eq(blobPiece.sha256, file.sha256)))
    return true
  })

/**
 * Makes pieces a file's place again. @param addPieces Writes them, in the same transaction.
 * @returns Whether the file was still there, as that object.
 */
export const settleInDatabase = (
  db: Db,
  file: StoredFile & { objectName: string },
  addPieces: (tx: Db) => Promise<void>,
): Promise<boolean> =>
  db.transaction(async (tx) => {
    const moved = await tx
      .update(blob)
      .set({ objectName: null })
      .where(and(isFile(file), eq(blob.objectName, file.objectName)))
      .returning({ sha256: blob.sha256 })
    if (moved.length === 0) return false
    await addPieces(tx)
    await letGo(tx, [file.objectName])
    return true
  })

/** Leaves objects to be deleted later: a copy of the database from before may be brought back, and names them. */
export async function letGo(db: Db, names: readonly string[]): Promise<void> {
  if (names.length > 0) await db.insert(looseObject).values(names.map((name) => ({ name })))
}

/** Objects that no file names since before a moment. */
export const listLoose = async (db: Db, before: Date, most: number): Promise<string[]> => {
  const named = db.select({ sha256: blob.sha256 }).from(blob).where(eq(blob.objectName, looseObject.name))
  const rows = await db
    .select({ name: looseObject.name })
    .from(looseObject)
    // none that is a file's is ever among them; what deletes for good asks all the same
    .where(and(lt(looseObject.since, before), notExists(named)))
    .limit(most)
  return rows.map(({ name }) => name)
}

export async function forgetLoose(db: Db, names: readonly string[]): Promise<void> {
  if (names.length > 0) await db.delete(looseObject).where(inArray(looseObject.name, [...names]))
}

/** Where files are to rest, as the operator has said; undefined where nothing was said yet. */
export async function findFilesRest(db: Db): Promise<FilesRest | undefined> {
  const [row] = await db.select({ at: filesRest.at }).from(filesRest)
  return row?.at
}

export async function sayFilesRest(db: Db, at: FilesRest): Promise<void> {
  await db.insert(filesRest).values({ at }).onConflictDoUpdate({ target: filesRest.only, set: { at } })
}

/** How many files, and bytes, lie where; and how many objects wait to be deleted. */
export async function countPlaces(
  db: Db,
): Promise<Record<FilesRest, { files: number; bytes: number }> & { loose: number }> {
  const { rows } = await db.execute<{ stored: boolean; files: string; bytes: string }>(
    sql`select object_name is not null as stored, count(*) as files, coalesce(sum(size_bytes), 0) as bytes from ${blob} group by 1`,
  )
  const of = (stored: boolean) => {
    const row = rows.find((each) => each.stored === stored)
    return { files: Number(row?.files ?? 0), bytes: Number(row?.bytes ?? 0) }
  }
  const loose = await db.execute<{ n: string }>(sql`select count(*) as n from ${looseObject}`)
  return { database: of(false), store: of(true), loose: Number(loose.rows[0]?.n ?? 0) }
}

/** Some object that a file names, if there is any. */
export async function findAnyObject(db: Db): Promise<string | undefined> {
  const [row] = await db.select({ name: blob.objectName }).from(blob).where(gt(blob.objectName, '')).limit(1)
  return row?.name ?? undefined
}
