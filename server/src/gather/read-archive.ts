import { randomUUID } from 'node:crypto'
import { rm } from 'node:fs/promises'
import { join } from 'node:path'
import { FormatError, LimitError } from '@satchel/core/errors'
import type { ZipEntry } from '@satchel/core/formats/zip/layout'
import { ARCHIVE_NESTING_MAX, ARCHIVE_UNPACKED_MAX_BYTES } from '@satchel/core/limits'
import { PACK_EXTENSION } from '@satchel/core/pack/manifest'
import { APPS_FOLDER } from '@satchel/core/pack/write'
import pMap from 'p-map'
import { entryOf } from '../db/many.ts'
import { TaskGivenUp } from '../errors.ts'
import type { FilePart, ReadEntry } from '../workers/results.ts'
import { addLine, addLines, lastPart, type NewLine, nameOf, refused, splitPath } from './lines.ts'
import { readPack } from './read-pack.ts'
import { isBesideOthers, lineBeside, lineOfRead } from './read-picture.ts'
import { type LineHead, READ_AHEAD, type Reader } from './reader.ts'

/** Entries up to this size go in groups of so many, and of so many bytes in all. */
const SMALL_BYTES = 64 * 1024
const GROUP_MOST = 64
const GROUP_BYTES = 1024 * 1024

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
    groupsOf(entries),
    async (group) => {
      reader.context.signal.throwIfAborted()
      const packs = hasPack ? group.filter(isPack) : group
      if (packs.length < group.length)
        await skipBesidePack(
          reader,
          group.filter((entry) => !packs.includes(entry)),
          at,
        )
      await readGroup(reader, part, { entries: packs, at, depth })
    },
    { concurrency: reader.deps.workers.threads * READ_AHEAD },
  )
}

/** Entries one after another in groups: small ones take longer on the way than they take to be read. */
function groupsOf(entries: readonly ZipEntry[]): ZipEntry[][] {
  const groups: ZipEntry[][] = []
  let [last, bytes]: [ZipEntry[] | undefined, number] = [undefined, 0]
  for (const entry of entries) {
    const isSmall = entry.sizeBytes <= SMALL_BYTES
    if (last && isSmall && last.length < GROUP_MOST && bytes + entry.sizeBytes <= GROUP_BYTES) last.push(entry)
    else {
      last = [entry]
      bytes = 0
      groups.push(last)
    }
    bytes += entry.sizeBytes
    if (!isSmall) last = undefined
  }
  return groups
}

/** In a download of ours the pack holds everything once more, with all settings: the open files beside it stay out. */
async function skipBesidePack(reader: Reader, entries: readonly ZipEntry[], at: string): Promise<void> {
  const reason = 'The Satchel pack beside it holds this with all its settings.'
  await addLines(
    reader,
    entries.map(({ path }) => {
      const { folder, base } = splitPath(`${at}/${path}`)
      return { head: { folder, path: base, setName: '' }, content: { outcome: 'skip', kind: 'foreign', reason } }
    }),
  )
  reader.progress.finish(entries.length)
}

type At = { at: string; depth: number }

function headOf(entry: ZipEntry, at: string): LineHead {
  const { folder, base } = splitPath(`${at}/${entry.path}`)
  const inner = splitPath(entry.path).folder
  return { folder, path: base, setName: lastPart(inner) || nameOf(lastPart(at)) }
}

/** Entries that go one way together: read by one process, and written at once. */
async function readGroup(reader: Reader, part: FilePart, group: At & { entries: readonly ZipEntry[] }): Promise<void> {
  const { entries, at, depth } = group
  const lines: NewLine[] = []
  const wanted: ZipEntry[] = []
  for (const entry of entries) {
    const head = headOf(entry, at)
    if (isBesideOthers(head)) lines.push(lineBeside(head))
    else wanted.push(entry)
  }
  const archives: { entry: ZipEntry; inner: FilePart | undefined }[] = []
  for (const [i, read] of (await readAll(reader, part, wanted)).entries()) {
    const entry = entryOf(wanted, i)
    const head = headOf(entry, at)
    if ('refused' in read) lines.push({ head, content: refused('zip', read.refused) })
    else if (read.outcome === 'archive') archives.push({ entry, inner: read.part })
    else lines.push(lineOfRead(head, read))
  }
  await addLines(reader, lines)
  reader.progress.finish(lines.length)
  for (const { entry, inner } of archives) {
    const path = `${at}/${entry.path}`
    if (inner) await readArchive(reader, inner, path, depth + 1)
    else await readPackedArchive(reader, part, { entry, path, depth, head: headOf(entry, at) })
  }
}

type Read = ReadEntry | { refused: string }

/** What came of each entry. Where one of them has ended what read them all, each is read by itself: it alone is to blame. */
async function readAll({ deps, context }: Reader, part: FilePart, entries: readonly ZipEntry[]): Promise<Read[]> {
  const { workers } = deps
  if (entries.length > 1)
    try {
      return await workers.run('readEntries', { part, entries: [...entries] })
    } catch (error) {
      if (!(error instanceof TaskGivenUp)) throw error
    }
  const read: Read[] = []
  for (const entry of entries) {
    context.signal.throwIfAborted()
    read.push(await workers.run('readEntry', { part, entry }).catch(refusalOf))
  }
  return read
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
