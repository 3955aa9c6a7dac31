import { addGatherFile, findGatherFile } from '../db/gathers.ts'
import { piecesOf, type Upload } from '../db/uploads.ts'
import type { Deps } from '../deps.ts'
import { Refusal } from '../errors.ts'

export const tooLate = (path: string) =>
  new Refusal('clash', `"${path}" came after the ledger was closed; drop it again.`)

/**
 * Makes an upload whose last piece has come a file of its ledger, under the same id: whoever asks about it later finds it.
 * Done twice, it is one file.
 * @throws {Refusal} When the ledger has ended meanwhile.
 */
export async function finishUpload({ db, blobs }: Pick<Deps, 'db' | 'blobs'>, upload: Upload): Promise<void> {
  const { id, workspaceId, gatherId, path, sizeBytes } = upload
  const whole = await blobs.measurePieces(workspaceId, piecesOf(upload))
  if (whole.sizeBytes !== sizeBytes) {
    if (await findGatherFile(db, workspaceId, gatherId, id)) return // somebody else has done it meanwhile
    throw new Error(`upload ${id} has lost a piece`)
  }
  await db.transaction(async (tx) => {
    await blobs.namePieces(tx, workspaceId, piecesOf(upload), { ...whole, mediaType: 'application/octet-stream' })
    if (!(await addGatherFile(tx, { id, workspaceId, gatherId, path, sizeBytes, blobSha: whole.sha256 })))
      throw tooLate(path)
  })
}
