import { HEAD_BYTES, sniffKind } from '@satchel/core/brush-file/kinds'
import { FormatError, LimitError } from '@satchel/core/errors'
import { type ByteSource, toByteSource, type ZipEntry } from '@satchel/core/formats/zip/layout'
import { listZip, openStoredEntry, readZipEntry } from '@satchel/core/formats/zip/read'
import { ARCHIVE_NESTING_MAX, ARCHIVE_UNPACKED_MAX_BYTES } from '@satchel/core/limits'
import { PACK_EXTENSION } from '@satchel/core/pack/manifest'
import { isSatchelPack } from '@satchel/core/pack/read'
import pMap from 'p-map'
import { addLine, lastPart, nameOf, refused, splitPath } from './lines.ts'
import { readPack } from './read-pack.ts'
import { readPicture } from './read-picture.ts'
import { type LineHead, READ_AHEAD, type Reader } from './reader.ts'
import { threadCodecs } from './thread-codecs.ts'

/** An archive's files become lines in folders of their own; archives inside it are opened too. @param depth The outermost counts as 1. */
export async function readArchive(reader: Reader, source: ByteSource, at: string, depth: number): Promise<void> {
  try {
    if (depth > ARCHIVE_NESTING_MAX)
      throw new LimitError('the depth of archives inside archives', depth, ARCHIVE_NESTING_MAX)
    const entries = await listZip(source)
    if (isSatchelPack(entries)) return await readPack(reader, source, { at, entries })
    reader.unpackedBytes += entries.reduce((sum, entry) => sum + entry.sizeBytes, 0)
    if (reader.unpackedBytes > ARCHIVE_UNPACKED_MAX_BYTES)
      throw new LimitError('the unpacked size in bytes', reader.unpackedBytes, ARCHIVE_UNPACKED_MAX_BYTES)
    await readEntries(reader, source, { entries, at, depth })
  } catch (error) {
    if (!(error instanceof FormatError || error instanceof LimitError)) throw error
    const { folder, base } = splitPath(at)
    await addLine(reader, { folder, path: base, setName: '' }, refused('zip', `${error.message}.`))
    reader.progress.finish()
  }
}

async function readEntries(
  reader: Reader,
  source: ByteSource,
  { entries, at, depth }: { entries: readonly ZipEntry[]; at: string; depth: number },
): Promise<void> {
  // The archive itself was counted as one.
  reader.progress.expect(entries.length - 1)
  const hasPack = entries.some((entry) => entry.path.endsWith(PACK_EXTENSION))
  await pMap(
    entries,
    async (entry) => {
      reader.context.signal.throwIfAborted()
      if (hasPack && !entry.path.endsWith(PACK_EXTENSION)) await skipBesidePack(reader, entry.path, at)
      else await readEntry(reader, source, { entry, at, depth })
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
  source: ByteSource,
  { entry, at, depth }: { entry: ZipEntry; at: string; depth: number },
): Promise<void> {
  const { folder, base } = splitPath(`${at}/${entry.path}`)
  const inner = splitPath(entry.path).folder
  const head: LineHead = { folder, path: base, setName: lastPart(inner) || nameOf(lastPart(at)) }
  try {
    const stored = await openStoredEntry(source, entry)
    if (stored && (await isArchive(stored))) return await readArchive(reader, stored, `${at}/${entry.path}`, depth + 1)
    const bytes = await readZipEntry(source, entry, threadCodecs(reader.deps.workers))
    if (await isArchive(toByteSource(bytes)))
      return await readArchive(reader, toByteSource(bytes), `${at}/${entry.path}`, depth + 1)
    await readPicture(reader, bytes, head)
  } catch (error) {
    if (!(error instanceof FormatError || error instanceof LimitError)) throw error
    await addLine(reader, head, refused('zip', `${error.message}.`))
  }
  reader.progress.finish()
}

const isArchive = async (source: ByteSource) =>
  sniffKind(await source.read(0, Math.min(HEAD_BYTES, source.size))) === 'zip'
