import { addGatherFile, type GatherFile } from '../db/gathers.ts'
import { deleteOrphanBlobs } from '../db/orphans.ts'
import type { AppDeps } from '../deps.ts'

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
 * @returns The file; undefined where the ledger has ended meanwhile: nothing is kept then.
 * @throws {LimitError} As soon as more than `maxBytes` have come; nothing is kept then.
 */
export async function takeFile(
  deps: Pick<AppDeps, 'db' | 'blobs' | 'jobs' | 'events'>,
  { workspaceId, gatherId, path }: FileOfLedger,
  body: AsyncIterable<Uint8Array>,
  maxBytes: number,
): Promise<GatherFile | undefined> {
  const { db, blobs } = deps
  const stored = await blobs.putStream(db, workspaceId, body, { mediaType: 'application/octet-stream', maxBytes })
  const { sha256: blobSha, sizeBytes } = stored
  const file = await addGatherFile(db, { workspaceId, gatherId, path, sizeBytes, blobSha })
  if (file) await announceFiles(deps, { workspaceId, gatherId })
  else await deleteOrphanBlobs(db, workspaceId, [blobSha])
  return file
}
