import type { FileSha } from '@satchel/core/hashes'
import type { AppDeps } from '../app-deps.ts'
import type { Db } from '../db/database.ts'
import { addGatherFile, type GatherFile } from '../db/gathers.ts'
import { deleteOrphanBlobs } from '../db/orphans.ts'
import type { FromExchange } from '../db/schema/all.ts'

type FileOfLedger = { workspaceId: string; gatherId: string; path: string }

/** Says that files wait to be read. */
export async function announceFiles(
  { jobs, events }: Pick<AppDeps, 'jobs' | 'events'>,
  { workspaceId, gatherId }: Omit<FileOfLedger, 'path'>,
): Promise<void> {
  await jobs.add({ workspaceId, kind: 'gather-read', subjectId: gatherId, title: 'Reading files', payload: {} })
  await events.publish({ workspaceId, topic: 'gather', id: gatherId })
}

/**
 * Stores a file that comes in one go, and puts it into a ledger, where it waits to be read.
 * @param admit Asked once all of it has come, in the transaction that puts it in: its path there; undefined where it may not
 * come in any more.
 * @returns The file; undefined where it or its ledger may not any more: nothing is kept then.
 * @throws {LimitError} As soon as more than `maxBytes` have come; nothing is kept then.
 */
export async function takeFile(
  deps: Pick<AppDeps, 'db' | 'blobs' | 'jobs' | 'events'>,
  {
    workspaceId,
    gatherId,
    handOutId,
    followedId,
    exchange,
    admit,
  }: Omit<FileOfLedger, 'path'> & {
    /** The link of this server that it comes by, if any. */
    handOutId?: string
    /** The file of a followed folder that it is, if it is one. */
    followedId?: string
    /** The exchange that it is taken from, if it is. */
    exchange?: FromExchange
    admit: (tx: Db, sha256: FileSha) => Promise<string | undefined>
  },
  body: AsyncIterable<Uint8Array>,
  maxBytes: number,
): Promise<GatherFile | undefined> {
  const { db, blobs } = deps
  const stored = await blobs.putStream(db, workspaceId, body, { mediaType: 'application/octet-stream', maxBytes })
  const { sha256: blobSha, sizeBytes } = stored
  let file: GatherFile | undefined
  try {
    file = await db.transaction(async (tx) => {
      const path = await admit(tx, blobSha)
      const from = {
        ...(handOutId === undefined ? {} : { handOutId }),
        ...(followedId === undefined ? {} : { followedId }),
        ...(exchange ? { exchange } : {}),
      }
      return path === undefined
        ? undefined
        : addGatherFile(tx, { workspaceId, gatherId, path, sizeBytes, blobSha, ...from })
    })
  } finally {
    if (!file) await deleteOrphanBlobs(db, workspaceId, [blobSha])
  }
  if (file) await announceFiles(deps, { workspaceId, gatherId })
  return file
}
