import { mkdir } from 'node:fs/promises'
import { FormatError, LimitError } from '@satchel/core/errors'
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
import { isAway, isDiskFull, Refusal, TaskGivenUp } from '../errors.ts'
import { type JobContext, type JobHandler, JobStopped } from '../queue/queue.ts'
import { type OfFolder, settleFollowed } from './followed/settle.ts'
import { joinSettings } from './join-settings.ts'
import { addLine, addLines, lastPart, refused, splitPath } from './lines.ts'
import { markDuplicates } from './mark-duplicates.ts'
import { markNewer } from './newer/mark-newer.ts'
import { readArchive } from './read-archive.ts'
import { isBesideOthers, lineBeside, lineOfRead } from './read-picture.ts'
import { READ_AHEAD, type Reader, ReadingProgress } from './reader.ts'

/**
 * Reads every waiting file of a gather into lines of its ledger. May run again at any time: each file counts once.
 * @param ways.scratch A folder for what has to be unpacked before it is read.
 * @param ways.announce Says that files wait in another ledger.
 */
export const gatherRead = (deps: Deps, ways: Ways): JobHandler<'gather-read'> => ({
  run: (context) => readGather(deps, context, ways),
  more: async ({ workspaceId, subjectId }) => {
    const gather = await findGather(deps.db, workspaceId, subjectId)
    const { total, read } = await countGatherFiles(deps.db, workspaceId, subjectId)
    return gather?.state === 'open' && read < total
  },
})

type Ways = { scratch: string; announce: (of: { workspaceId: string; gatherId: string }) => Promise<void> }

async function readGather(deps: Deps, context: JobContext<'gather-read'>, { scratch, announce }: Ways): Promise<void> {
  const { workspaceId, subjectId: gatherId } = context.job
  try {
    await mkdir(scratch, { recursive: true })
    await resetHalfReadFiles(deps.db, workspaceId, gatherId)
    const progress = new ReadingProgress(context.progress)
    const counted = { files: (await countGatherFiles(deps.db, workspaceId, gatherId)).read }
    await Promise.all(
      Array.from({ length: deps.workers.threads * READ_AHEAD }, () =>
        readFiles(deps, context, { progress, counted, scratch }),
      ),
    )
    await joinSettings(deps, workspaceId, gatherId)
    const folderId = (await findGather(deps.db, workspaceId, gatherId))?.folderId
    if (folderId) await settleFolder(deps, { workspaceId, folderId, gatherId, signal: context.signal }, announce)
    else {
      await markNewer(deps.db, workspaceId, gatherId, context.signal)
      await markDuplicates(deps, workspaceId, gatherId, context.signal)
    }
    await deps.events.publish({ workspaceId, topic: 'gather', id: gatherId })
  } finally {
    // Cancelled while this was reading: what was written since then goes too.
    const gather = await findGather(deps.db, workspaceId, gatherId)
    if (gather && gather.state !== 'open') {
      await deleteOrphanBlobs(deps.db, workspaceId, await clearGather(deps.db, workspaceId, gatherId))
    }
  }
}

/** What was read of a followed folder is settled, and told to all whom it changes something for. */
async function settleFolder(deps: Deps, of: OfFolder, announce: Ways['announce']): Promise<void> {
  const { workspaceId } = of
  const { isChanged, ledgerId } = await settleFollowed(deps, of)
  if (ledgerId) await announce({ workspaceId, gatherId: ledgerId })
  if (isChanged) await deps.events.publish({ workspaceId, topic: 'library' })
  await deps.events.publish({ workspaceId, topic: 'followed', id: of.folderId })
}

/** What the readers of one job share. */
type Shared = { progress: ReadingProgress; counted: { files: number }; scratch: string }

async function readFiles(
  deps: Deps,
  context: JobContext<'gather-read'>,
  { progress, counted, scratch }: Shared,
): Promise<void> {
  const { workspaceId, subjectId: gatherId } = context.job
  for (;;) {
    context.signal.throwIfAborted()
    const file = await claimGatherFile(deps.db, { workspaceId, gatherId, attempt: context.job.attempt })
    if (!file) return
    // Files go on arriving while others are read; those read before this job began are done.
    const { total } = await countGatherFiles(deps.db, workspaceId, gatherId)
    progress.expect(Math.max(0, total - counted.files))
    counted.files = Math.max(counted.files, total)
    await readOrRefuse({ deps, file, context, progress, scratch, unpackedBytes: 0, ordinal: 0 })
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
    const { folder, base } = splitPath(file.path)
    await addLine(reader, { folder, path: base, setName: '' }, refused('foreign', whyRefused(deps, file.id, error)))
  }
}

/** What a file says about itself, or does to what reads it, is said; a fault of ours goes into the log. */
function whyRefused({ log }: Deps, fileId: string, error: unknown): string {
  if (error instanceof FormatError || error instanceof LimitError) return `${error.message}.`
  if (error instanceof TaskGivenUp) return error.message
  // a database away or no room is not the file's fault: the job fails, and reads the file when it is taken up again
  if (isAway(error) || isDiskFull(error) || error instanceof Refusal) throw error
  log.error({ err: error, file: fileId }, 'reading a file failed')
  return 'It could not be read to its end; the reason is in the log. Leave it out, or save it anew and drop it again.'
}

async function readFile(reader: Reader): Promise<void> {
  const { deps, file } = reader
  const { folder, base } = splitPath(file.path)
  const head = { folder, path: base, setName: lastPart(folder) }
  if (isBesideOthers(head)) await addLines(reader, [lineBeside(head)])
  else {
    const path = await deps.blobs.path(file.workspaceId, file.blobSha)
    const part = { path, from: 0, sizeBytes: file.sizeBytes }
    const read = await deps.workers.run('readEntry', { part })
    if (read.outcome === 'archive') return readArchive(reader, read.part ?? part, file.path, 1)
    await addLines(reader, [lineOfRead(head, read)])
  }
  reader.progress.finish()
}
