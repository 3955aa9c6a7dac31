import { UPLOAD_MAX_BYTES } from '@satchel/core/limits'
import { addGatherFile } from '../db/gathers.ts'
import { deleteOrphanBlobs } from '../db/orphans.ts'
import { type Upload, uploadedBytes } from '../db/uploads.ts'
import type { Deps } from '../deps.ts'
import { Problem } from '../errors.ts'
import { copiedBytes } from '../pictures/copied-bytes.ts'

export const tooLate = (path: string) => new Problem(409, `"${path}" came after the ledger was closed; drop it again.`)

/**
 * Makes an upload whose last piece has come a file of its ledger, under the same id: whoever asks about it later finds it.
 * Done twice, it is one file.
 * @throws {Problem} 409 when the ledger has ended meanwhile.
 */
export async function finishUpload(
  { db, pool, blobs }: Pick<Deps, 'db' | 'pool' | 'blobs'>,
  upload: Upload,
): Promise<void> {
  const { id, workspaceId, gatherId, path } = upload
  const stored = await blobs.putStream(db, workspaceId, copiedBytes(pool, uploadedBytes(upload)), {
    mediaType: 'application/octet-stream',
    maxBytes: UPLOAD_MAX_BYTES,
  })
  if (stored.sizeBytes !== upload.sizeBytes) throw new Error(`upload ${id} has lost a piece`)
  const file = { id, workspaceId, gatherId, path, sizeBytes: stored.sizeBytes, blobSha: stored.sha256 }
  if (await addGatherFile(db, file)) return
  await deleteOrphanBlobs(db, workspaceId, [stored.sha256])
  throw tooLate(path)
}
