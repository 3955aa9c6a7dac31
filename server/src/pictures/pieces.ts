import { open } from 'node:fs/promises'
import type { FileSha } from '@satchel/core/hashes'
import pg from 'pg'
import type { Db } from '../db/database.ts'
import { blobPiece } from '../db/schema/all.ts'
import { copiedBytes } from './copied-bytes.ts'

/** How a file lies in the database: in pieces of so many bytes, an empty one in one of none. */
export const PIECE_BYTES = 16 * 1024 * 1024

/** Writes a file of this disk into pieces under a name that has none. */
export async function insertPieces(
  db: Db,
  { workspaceId, sha256, sizeBytes }: { workspaceId: string; sha256: FileSha; sizeBytes: number },
  path: string,
): Promise<void> {
  const file = await open(path)
  try {
    const buffer = Buffer.allocUnsafe(Math.min(PIECE_BYTES, Math.max(1, sizeBytes)))
    for (let at = 0, ordinal = 0; at < sizeBytes || ordinal === 0; ordinal++) {
      const { bytesRead } = await file.read(buffer, 0, buffer.length, at)
      await db.insert(blobPiece).values({ workspaceId, sha256, ordinal, bytes: buffer.subarray(0, bytesRead) })
      at += bytesRead
    }
  } finally {
    await file.close()
  }
}

/** The bytes of all pieces of a name, one after another; none where it has no pieces. */
export function piecesOf(pool: pg.Pool, workspaceId: string, name: FileSha): AsyncGenerator<Uint8Array> {
  const where = `workspace_id = ${pg.escapeLiteral(workspaceId)} and sha256 = ${pg.escapeLiteral(name)}`
  return copiedBytes(pool, `select bytes from blob_piece where ${where} order by ordinal`)
}
