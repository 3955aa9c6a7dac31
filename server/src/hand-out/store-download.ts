import { randomUUID } from 'node:crypto'
import { mkdir, rm } from 'node:fs/promises'
import { join } from 'node:path'
import { toUtf8 } from '@satchel/core/formats/text'
import type { Db } from '../db/database.ts'
import type { StoredDownload } from '../db/releases.ts'
import type { Deps } from '../deps.ts'
import { measureFile } from '../pictures/measure.ts'
import type { JobContext } from '../queue/queue.ts'
import { type Outgoing, writeDownload } from './write-download.ts'

/**
 * Writes a download and stores it, with what lies where in it.
 * @param keep Says whose it is, in the transaction that stores it.
 */
export async function storeDownload(
  deps: Deps,
  outgoing: Outgoing,
  { scratchFolder, ...context }: Pick<JobContext, 'signal' | 'progress'> & { scratchFolder: string },
  keep: (tx: Db, stored: StoredDownload) => Promise<void>,
): Promise<void> {
  const { workspaceId } = outgoing
  const folder = join(scratchFolder, randomUUID())
  await mkdir(folder, { recursive: true })
  try {
    const built = await writeDownload(deps, { ...outgoing, forCopies: true }, { ...context, folder })
    const file = { ...(await measureFile(built.path)), mediaType: 'application/zip' }
    const contents = toUtf8(JSON.stringify(built.contents))
    await deps.db.transaction(async (tx) => {
      const { sha256, sizeBytes } = await deps.blobs.adopt(tx, workspaceId, built.path, file)
      const { sha256: contentsSha } = await deps.blobs.put(tx, workspaceId, contents, 'application/json')
      await keep(tx, { zipSha: sha256, zipBytes: sizeBytes, zipFiles: built.files, contentsSha })
    })
  } finally {
    await rm(folder, { recursive: true, force: true })
  }
}
