import { toOneLine } from '@satchel/core/formats/text'
import type { FileSha } from '@satchel/core/hashes'
import { ENTRY_MEMORY_MAX_BYTES } from '@satchel/core/limits'
import type { Way } from '@satchel/core/make/ways'
import { findGatherLine } from '../db/gather-lines.ts'
import { deleteOrphanBlobs } from '../db/orphans.ts'
import type { SourceFile } from '../db/schema/sources.ts'
import { addSource, type Source } from '../db/sources.ts'
import type { Deps } from '../deps.ts'
import { notFound, Refusal, TaskGivenUp } from '../errors.ts'
import { findPicture } from '../pictures/find-picture.ts'
import type { OpenedSource } from '../workers/results.ts'

/** Characters of a file's name that are kept. */
const FILE_NAME_MAX_CHARS = 1024

type Taking = Pick<Deps, 'db' | 'blobs' | 'workers'>
type Sent = { bytes: AsyncIterable<Uint8Array>; name: string; way: Way }
type Taken = { opened: OpenedSource; file: SourceFile }

const unfit = (name: string, sentence: string) => new Refusal('unfit', `"${name}": ${sentence}`)

/**
 * Stores a file and looks into it.
 * @throws {LimitError} If it is too large. @throws {Refusal} If it is nothing to begin with; nothing is kept then.
 */
export async function takeFile({ db, blobs, workers }: Taking, workspaceId: string, sent: Sent): Promise<Taken> {
  const { bytes: stream, name, way } = sent
  const options = { mediaType: 'application/octet-stream', maxBytes: ENTRY_MEMORY_MAX_BYTES }
  const stored = await blobs.putStream(db, workspaceId, stream, options)
  try {
    const bytes = await blobs.read(workspaceId, stored.sha256)
    const opened = await workers.run('openSource', { bytes, way })
    if ('refused' in opened) throw unfit(name, opened.refused)
    const { repacked } = opened
    if (!repacked) return { opened, file: toFile(stored.sha256, name, opened) }
    const { sha256 } = await blobs.put(db, workspaceId, repacked, 'application/octet-stream')
    await deleteOrphanBlobs(db, workspaceId, [stored.sha256])
    return { opened, file: toFile(sha256, name, opened) }
  } catch (error) {
    await deleteOrphanBlobs(db, workspaceId, [stored.sha256])
    throw error instanceof TaskGivenUp ? unfit(name, error.message) : error
  }
}

/** Begins a source with a picture that is stored already. @throws {Refusal} If it is not there, or nothing to begin with. */
export async function sourceFromPicture(
  { db, blobs, workers }: Taking,
  workspaceId: string,
  { blobSha, name, way }: { blobSha: FileSha; name: string; way: Way },
): Promise<Source> {
  if (!(await findPicture({ db, blobs }, workspaceId, blobSha))) throw notFound('picture')
  const opened = await workers.run('openSource', { bytes: await blobs.read(workspaceId, blobSha), way })
  if ('refused' in opened) throw unfit(name, opened.refused)
  return addSource(db, { workspaceId, name, file: toFile(blobSha, name, opened), plan: opened.plan })
}

/**
 * Begins a source with what a line of a ledger shows: several frames become the layers of a drawing.
 * @throws {Refusal} If the line has no picture any more, or nothing to begin with.
 */
export async function sourceFromLine(
  { db, blobs, workers }: Taking,
  workspaceId: string,
  lineId: string,
): Promise<Source> {
  const line = await findGatherLine(db, workspaceId, lineId)
  const frames = line?.fullFrames ?? line?.frames ?? []
  if (!line || frames.length === 0) throw notFound('picture of this line')
  const { name } = line
  const [first, ...others] = await Promise.all(frames.map(({ blobSha }) => blobs.read(workspaceId, blobSha)))
  if (!first) throw notFound('picture of this line')
  const names = frames.map((frame) => frame.name ?? '')
  const stack =
    others.length > 0 ? await workers.run('stackFrames', { frames: [first, ...others], names }) : { drawing: first }
  if ('refused' in stack) throw unfit(name, stack.refused)
  const bytes = stack.drawing
  const opened = await workers.run('openSource', { bytes, way: others.length > 0 ? 'layers' : 'picture' })
  if ('refused' in opened) throw unfit(name, opened.refused)
  const { sha256 } = await blobs.put(db, workspaceId, bytes, 'application/octet-stream')
  return addSource(db, { workspaceId, name, file: toFile(sha256, name, opened), plan: opened.plan })
}

const toFile = (blobSha: FileSha, name: string, { kind, width, height }: OpenedSource): SourceFile => ({
  blobSha,
  kind,
  width,
  height,
  name: toOneLine(name, FILE_NAME_MAX_CHARS),
})
