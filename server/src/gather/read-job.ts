import { open } from 'node:fs/promises'
import { HEAD_BYTES, sniffKind } from '@satchel/core/brush-file/kinds'
import { LimitError } from '@satchel/core/errors'
import type { ByteSource } from '@satchel/core/formats/zip/layout'
import { ENTRY_MEMORY_MAX_BYTES } from '@satchel/core/limits'
import {
  claimGatherFile,
  clearGather,
  countGatherFiles,
  findGather,
  finishGatherFile,
  resetHalfReadFiles,
} from '../db/gathers.ts'
import { deleteOrphanBlobs } from '../db/orphans.ts'
import type { Deps } from '../deps.ts'
import { type JobContext, type JobHandler, JobStopped } from '../queue/queue.ts'
import { joinSettings } from './join-settings.ts'
import { addLine, lastPart, refused, splitPath } from './lines.ts'
import { markDuplicates } from './mark-duplicates.ts'
import { readArchive } from './read-archive.ts'
import { readPicture } from './read-picture.ts'
import { READ_AHEAD, type Reader, ReadingProgress } from './reader.ts'

/** Reads every waiting file of a gather into lines of its ledger. May run again at any time: each file counts once. */
export const gatherRead = (deps: Deps): JobHandler<'gather-read'> => ({
  run: (context) => readGather(deps, context),
  more: async ({ workspaceId, subjectId }) => {
    const gather = await findGather(deps.db, workspaceId, subjectId)
    const { total, read } = await countGatherFiles(deps.db, workspaceId, subjectId)
    return gather?.state === 'open' && read < total
  },
})

async function readGather(deps: Deps, context: JobContext<'gather-read'>): Promise<void> {
  const { workspaceId, subjectId: gatherId } = context.job
  try {
    await resetHalfReadFiles(deps.db, workspaceId, gatherId)
    const progress = new ReadingProgress(context.progress)
    const counted = { files: (await countGatherFiles(deps.db, workspaceId, gatherId)).read }
    await Promise.all(
      Array.from({ length: deps.workers.threads * READ_AHEAD }, () => readFiles(deps, context, { progress, counted })),
    )
    await joinSettings(deps, workspaceId, gatherId)
    await markDuplicates(deps, workspaceId, gatherId, context.signal)
    await deps.events.publish({ workspaceId, topic: 'gather', id: gatherId })
  } finally {
    // Cancelled while this was reading: what was written since then goes too.
    const gather = await findGather(deps.db, workspaceId, gatherId)
    if (gather && gather.state !== 'open') {
      await deleteOrphanBlobs(deps.db, workspaceId, await clearGather(deps.db, workspaceId, gatherId))
    }
  }
}

/** What the readers of one job share. */
type Shared = { progress: ReadingProgress; counted: { files: number } }

async function readFiles(deps: Deps, context: JobContext<'gather-read'>, { progress, counted }: Shared): Promise<void> {
  const { workspaceId, subjectId: gatherId } = context.job
  for (;;) {
    context.signal.throwIfAborted()
    const file = await claimGatherFile(deps.db, { workspaceId, gatherId, attempt: context.job.attempt })
    if (!file) return
    // Files go on arriving while others are read; those read before this job began are done.
    const { total } = await countGatherFiles(deps.db, workspaceId, gatherId)
    progress.expect(Math.max(0, total - counted.files))
    counted.files = Math.max(counted.files, total)
    await readOrRefuse({ deps, file, context, progress, unpackedBytes: 0, ordinal: 0 })
    await finishGatherFile(deps.db, file)
    await deps.events.publish({ workspaceId, topic: 'gather', id: gatherId })
  }
}

/** A file that makes the reader itself fail is refused like any other bad file; the rest goes on. */
async function readOrRefuse(reader: Reader): Promise<void> {
  const { file, deps, context } = reader
  try {
    await readFile(reader)
  } catch (error) {
    if (context.signal.aborted || error instanceof JobStopped) throw error
    const gather = await findGather(deps.db, file.workspaceId, file.gatherId)
    if (gather?.state !== 'open') throw new JobStopped()
    deps.log.error({ err: error, file: file.id }, 'reading a file failed')
    const { folder, base } = splitPath(file.path)
    const reason =
      'It could not be read to its end; the reason is in the log. Leave it out, or save it anew and drop it again.'
    await addLine(reader, { folder, path: base, setName: '' }, refused('foreign', reason))
  }
}

async function readFile(reader: Reader): Promise<void> {
  const { deps, file } = reader
  const handle = await open(await deps.blobs.path(file.workspaceId, file.blobSha))
  try {
    const source: ByteSource = {
      size: file.sizeBytes,
      read: async (offset, length) => {
        const bytes = new Uint8Array(length)
        const { bytesRead } = await handle.read(bytes, 0, length, offset)
        return bytes.subarray(0, bytesRead)
      },
    }
    const { folder, base } = splitPath(file.path)
    const head = await source.read(0, Math.min(HEAD_BYTES, source.size))
    if (sniffKind(head) === 'zip') return await readArchive(reader, source, file.path, 1)
    const line = { folder, path: base, setName: lastPart(folder) }
    if (source.size > ENTRY_MEMORY_MAX_BYTES) {
      const tooLarge = new LimitError('its size in bytes', source.size, ENTRY_MEMORY_MAX_BYTES)
      await addLine(reader, line, refused('foreign', `${tooLarge.message}.`))
    } else await readPicture(reader, await source.read(0, source.size), line)
    reader.progress.finish()
  } finally {
    await handle.close()
  }
}
