import { randomUUID } from 'node:crypto'
import { rm } from 'node:fs/promises'
import { join } from 'node:path'
import { FormatError, LimitError } from '@satchel/core/errors'
import type { ZipEntry } from '@satchel/core/formats/zip/layout'
import { ARCHIVE_NESTING_MAX, ARCHIVE_UNPACKED_MAX_BYTES } from '@satchel/core/limits'
import { PACK_EXTENSION } from '@satchel/core/pack/manifest'
import { APPS_FOLDER } from '@satchel/core/pack/write'
import pMap from 'p-map'
import { TaskGivenUp } from '../errors.ts'
import type { FilePart } from '../workers/tasks.ts'
import { addLine, lastPart, nameOf, refused, splitPath } from './lines.ts'
import { readPack } from './read-pack.ts'
import { addReadLine, isBesideOthers, skipBeside } from './read-picture.ts'
import { type LineHead, READ_AHEAD, type Reader } from './reader.ts'

/** An archive's files become lines in folders of their own; archives inside it are opened too. @param depth The outermost counts as 1. */
export async function readArchive(reader: Reader, part: FilePart, at: string, depth: number): Promise<void> {
  const refusal = await openOrRefuse(reader, part, at, depth)
  if (refusal === undefined) return
  const { folder, base } = splitPath(at)
  await addLine(reader, { folder, path: base, setName: '' }, refused('zip', refusal))
  reader.progress.finish()
}

/** @returns Why it is refused; undefined where it was read. */
async function openOrRefuse(reader: Reader, part: FilePart, at: string, depth: number): Promise<string | undefined> {
  if (depth > ARCHIVE_NESTING_MAX)
    return `${new LimitError('the depth of archives inside archives', depth, ARCHIVE_NESTING_MAX).message}.`
  const opened = await reader.deps.workers.run('openArchive', { part }).catch(refusalOf)
  if ('refused' in opened) return opened.refused
  const { entries, manifest, signer } = opened
  if (manifest) {
    await readPack(reader, part, { at, entries, manifest, signer })
    return undefined
  }
  reader.unpackedBytes += entries.reduce((sum, entry) => sum + entry.sizeBytes, 0)
  if (reader.unpackedBytes > ARCHIVE_UNPACKED_MAX_BYTES)
    return `${new LimitError('the unpacked size in bytes', reader.unpackedBytes, ARCHIVE_UNPACKED_MAX_BYTES).message}.`
  await readEntries(reader, part, { entries, at, depth })
  return undefined
}

/** What a file says about itself, or does to what reads it, refuses that file alone; a fault of ours is thrown on. */
function refusalOf(error: unknown): { refused: string } {
  if (error instanceof FormatError || error instanceof LimitError) return { refused: `${error.message}.` }
  if (error instanceof TaskGivenUp) return { refused: error.message }
  throw error
}

async function readEntries(
  reader: Reader,
  part: FilePart,
  { entries, at, depth }: { entries: readonly ZipEntry[]; at: string; depth: number },
): Promise<void> {
  // The archive itself was counted as one.
  reader.progress.expect(entries.length - 1)
  // what lies in the folders of apps is the same brushes once more, whatever kind of file an app takes
  const isPack = ({ path }: ZipEntry) => path.endsWith(PACK_EXTENSION) && !path.startsWith(`${APPS_FOLDER}/`)
  const hasPack = entries.some(isPack)
  await pMap(
    entries,
    async (entry) => {
      reader.context.signal.throwIfAborted()
      if (hasPack && !isPack(entry)) await skipBesidePack(reader, entry.path, at)
      else await readEntry(reader, part, { entry, at, depth })
    },
    { concurrency: reader.deps.workers.threads * READ_AHEAD },
  )
}

/** In a download of ours the pack holds everything once more, with all settings: the open files beside it stay out. */
async function skipBesidePack(reader: Reader, path: string, at: string): Promise<void> {
  const { folder, base } = splitPath(`${at}/${path}`)
  const reason = 'The Satchel pack beside it holds this with all its settings.'
  await addLine(reader, { folder, path: base, setName: '' }, { outcome: 'skip', kind: 'foreign', reason })
  reader.progress.finish()
}

async function readEntry(
  reader: Reader,
  part: FilePart,
  { entry, at, depth }: { entry: ZipEntry; at: string; depth: number },
): Promise<void> {
  const path = `${at}/${entry.path}`
  const { folder, base } = splitPath(path)
  const inner = splitPath(entry.path).folder
  const head: LineHead = { folder, path: base, setName: lastPart(inner) || nameOf(lastPart(at)) }
  if (isBesideOthers(head)) await skipBeside(reader, head)
  else {
    const read = await reader.deps.workers.run('readEntry', { part, entry }).catch(refusalOf)
    if ('refused' in read) await addLine(reader, head, refused('zip', read.refused))
    else if (read.outcome !== 'archive') await addReadLine(reader, head, read)
    else if (read.part) return readArchive(reader, read.part, path, depth + 1)
    else return readPackedArchive(reader, part, { entry, path, depth, head })
  }
  reader.progress.finish()
}

/** An archive that is packed inside another one is unpacked into a file first, which goes once it is read. */
async function readPackedArchive(
  reader: Reader,
  part: FilePart,
  { entry, path, depth, head }: { entry: ZipEntry; path: string; depth: number; head: LineHead },
): Promise<void> {
  const to = join(reader.scratch, `${randomUUID()}.zip`)
  try {
    const { refused: refusal } = await reader.deps.workers.run('unpackEntry', { part, entry, to }).catch(refusalOf)
    if (refusal === undefined)
      return await readArchive(reader, { path: to, from: 0, sizeBytes: entry.sizeBytes }, path, depth + 1)
    await addLine(reader, head, refused('zip', refusal))
    reader.progress.finish()
  } finally {
    await rm(to, { force: true })
  }
}
