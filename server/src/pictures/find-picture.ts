import { open } from 'node:fs/promises'
import { hasBytesAt } from '@satchel/core/formats/bytes'
import { SIGNATURE } from '@satchel/core/formats/png/layout'
import type { FileSha } from '@satchel/core/hashes'
import { ENTRY_MEMORY_MAX_BYTES } from '@satchel/core/limits'
import type { Deps } from '../deps.ts'

/**
 * A stored picture as a file on this server's disk. Uploads and downloads are stored beside pictures, and are none.
 * @returns Undefined where the workspace has no picture of that name.
 */
export async function findPicture(
  { db, blobs }: Pick<Deps, 'db' | 'blobs'>,
  workspaceId: string,
  sha: FileSha,
): Promise<{ path: string; sizeBytes: number } | undefined> {
  const found = await blobs.find(db, workspaceId, sha)
  if (!found || found.sizeBytes > ENTRY_MEMORY_MAX_BYTES) return undefined
  const path = await blobs.path(workspaceId, sha)
  const file = await open(path)
  try {
    const head = new Uint8Array(SIGNATURE.length)
    await file.read(head, 0, head.length, 0)
    return hasBytesAt(head, 0, SIGNATURE) ? { path, sizeBytes: found.sizeBytes } : undefined
  } finally {
    await file.close()
  }
}
