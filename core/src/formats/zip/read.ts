import { inflateSync } from 'fflate'
import { FormatError, LimitError } from '../../errors.ts'
import {
  ARCHIVE_ENTRIES_MAX,
  ARCHIVE_RATIO_FROM_BYTES,
  ARCHIVE_RATIO_MAX,
  ARCHIVE_UNPACKED_MAX_BYTES,
  ENTRY_MEMORY_MAX_BYTES,
} from '../../limits.ts'
import { type Crc32, crc32 as plainCrc32 } from '../crc32.ts'
import { fromUtf8OrLatin1, toNameKey } from '../text.ts'
import { findDirectory, readDirectoryEntry, readExactly, viewOf } from './directory.ts'
import { type ByteSource, FIXED_BYTES, FLAG, METHOD, SIGNATURE, ZIP, ZIP32_FULL, type ZipEntry } from './layout.ts'

/**
 * Unpacks raw deflate into at most `sizeBytes`; throws when the data is damaged, unfolds to more, or leaves bytes over
 * (a portable one may not see these). It may do so elsewhere, in another thread.
 */
export type InflateRaw = (packed: Uint8Array, sizeBytes: number) => Uint8Array | Promise<Uint8Array>
export type ZipCodecs = { inflateRaw?: InflateRaw; crc32?: Crc32 }

// One byte more than stated: output that fills it shows that the entry unfolds to more than it says.
const plainInflate: InflateRaw = (packed, sizeBytes) => inflateSync(packed, { out: new Uint8Array(sizeBytes + 1) })

/**
 * Lists an archive by its central directory, after checking every name, size and limit. Folders are not listed.
 * @param options.unpackedMaxBytes All entries together, bytes.
 * @param options.entriesMax How many there may be.
 * @throws {FormatError} For a malformed directory, an encrypted entry, a link, an unsafe name or one that is there
 * already (case and Unicode form do not count), entries that lie over one another, or bytes before the first.
 * @throws {LimitError} For too many entries, too much unpacked, or a suspicious ratio.
 */
export async function listZip(
  source: ByteSource,
  {
    unpackedMaxBytes = ARCHIVE_UNPACKED_MAX_BYTES,
    entriesMax = ARCHIVE_ENTRIES_MAX,
  }: { unpackedMaxBytes?: number; entriesMax?: number } = {},
): Promise<ZipEntry[]> {
  const end = await findDirectory(source)
  if (end.count > entriesMax) throw new LimitError('the number of entries', end.count, entriesMax)
  if (end.size > ENTRY_MEMORY_MAX_BYTES)
    throw new LimitError('the directory in bytes', end.size, ENTRY_MEMORY_MAX_BYTES)
  const directory = await readExactly(source, end.offset, end.size)
  const all: ZipEntry[] = []
  let at = 0
  for (let i = 0; i < end.count; i++) {
    const { entry, next } = readDirectoryEntry(directory, at, end.offset)
    at = next
    all.push(entry)
  }
  if (at !== directory.length) throw new FormatError(ZIP, end.offset + at, 'the end of the directory')
  checkSizes(all, unpackedMaxBytes)
  checkSpans(all, end.offset)
  const files = all.filter(({ path }) => !path.endsWith('/'))
  checkNames(files, end.offset)
  return files
}

function checkNames(entries: readonly ZipEntry[], offset: number): void {
  const seen = new Map<string, string>()
  for (const { path } of entries) {
    const key = toNameKey(path)
    const before = seen.get(key)
    if (before !== undefined)
      throw new FormatError(
        ZIP,
        offset,
        `each name once, found "${path}"${before === path ? '' : ` and "${before}"`} twice`,
      )
    seen.set(key, path)
  }
}

function checkSizes(entries: readonly ZipEntry[], unpackedMaxBytes: number): void {
  let unpacked = 0
  for (const { path, sizeBytes, packedBytes } of entries) {
    unpacked += sizeBytes
    if (unpacked > unpackedMaxBytes) throw new LimitError('the unpacked size in bytes', unpacked, unpackedMaxBytes)
    if (sizeBytes > ARCHIVE_RATIO_FROM_BYTES && sizeBytes > ARCHIVE_RATIO_MAX * packedBytes)
      throw new LimitError(`the ratio of "${path}"`, Math.round(sizeBytes / (packedBytes || 1)), ARCHIVE_RATIO_MAX)
  }
}

/** Entries may not share bytes: an archive that lists the same bytes again and again unfolds without end. */
function checkSpans(entries: readonly ZipEntry[], directoryOffset: number): void {
  const inOrder = [...entries].sort((a, b) => a.localOffset - b.localOffset)
  const first = inOrder[0]?.localOffset ?? directoryOffset
  if (first !== 0) throw new FormatError(ZIP, 0, `the first entry, found ${first} other bytes`)
  let free = 0
  for (const { path, localOffset, packedBytes } of inOrder) {
    if (localOffset < free) throw new FormatError(ZIP, localOffset, `each entry in a place of its own, not "${path}"`)
    free = localOffset + FIXED_BYTES.local + packedBytes
  }
  if (free > directoryOffset) throw new FormatError(ZIP, directoryOffset, 'entries that end before the directory')
}

/** An entry's own header read: where its content begins, and where whatever comes next may begin. */
async function findContent(source: ByteSource, entry: ZipEntry): Promise<number> {
  const { localOffset, path } = entry
  const view = viewOf(await readExactly(source, localOffset, FIXED_BYTES.local))
  if (view.getUint32(0, true) !== SIGNATURE.local) throw new FormatError(ZIP, localOffset, 'an entry header')
  const nameBytes = view.getUint16(26, true)
  const name = fromUtf8OrLatin1(await readExactly(source, localOffset + FIXED_BYTES.local, nameBytes))
  if (name !== path) throw new FormatError(ZIP, localOffset, `the name "${path}", as the directory has it`)
  const stated = view.getUint32(22, true)
  // Sizes may follow behind the content, or stand in the ZIP64 part; where they stand here, they are the same.
  const isLater = (view.getUint16(6, true) & FLAG.sizesFollow) !== 0 || stated === ZIP32_FULL
  if (!isLater && (stated !== entry.sizeBytes || view.getUint32(14, true) !== entry.crc))
    throw new FormatError(ZIP, localOffset, `the size and checksum of "${path}", as the directory has them`)
  return localOffset + FIXED_BYTES.local + nameBytes + view.getUint16(28, true)
}

/**
 * Reads one listed entry and checks its size and checksum.
 * @throws {FormatError} If the entry is damaged or its method unknown.
 * @throws {LimitError} If it is larger than is taken into memory.
 */
export async function readZipEntry(
  source: ByteSource,
  entry: ZipEntry,
  { inflateRaw = plainInflate, crc32 = plainCrc32 }: ZipCodecs = {},
): Promise<Uint8Array> {
  const largest = Math.max(entry.sizeBytes, entry.packedBytes)
  if (largest > ENTRY_MEMORY_MAX_BYTES)
    throw new LimitError(`"${entry.path}" in bytes`, largest, ENTRY_MEMORY_MAX_BYTES)
  const start = await findContent(source, entry)
  const bytes = await unpack(await readExactly(source, start, entry.packedBytes), entry, inflateRaw, start)
  if (bytes.length !== entry.sizeBytes || crc32(bytes) !== entry.crc)
    throw new FormatError(ZIP, start, `"${entry.path}" as its checksum says; the archive is damaged`)
  return bytes
}

/**
 * Where a stored entry's bytes lie, so that an archive inside an archive is read without being held in memory.
 * @returns Undefined where the entry is packed.
 * @throws {FormatError} If the archive is cut short there.
 */
export async function locateStoredEntry(source: ByteSource, entry: ZipEntry): Promise<number | undefined> {
  if (entry.method !== METHOD.stored || entry.packedBytes !== entry.sizeBytes) return undefined
  const start = await findContent(source, entry)
  if (start + entry.sizeBytes > source.size)
    throw new FormatError(ZIP, source.size, `"${entry.path}" whole; the archive is cut short`)
  return start
}

/**
 * A stored entry as a source of its own, so that an archive inside an archive is read without being held in memory.
 * @returns Undefined where the entry is packed. @throws {FormatError} If the archive is cut short there.
 */
export async function openStoredEntry(source: ByteSource, entry: ZipEntry): Promise<ByteSource | undefined> {
  const start = await locateStoredEntry(source, entry)
  return start === undefined
    ? undefined
    : {
        size: entry.sizeBytes,
        read: (offset, length) => source.read(start + offset, Math.max(0, Math.min(length, entry.sizeBytes - offset))),
      }
}

async function unpack(packed: Uint8Array, entry: ZipEntry, inflateRaw: InflateRaw, start: number): Promise<Uint8Array> {
  if (entry.method === METHOD.stored) return packed
  if (entry.method !== METHOD.deflated) {
    throw new FormatError(ZIP, entry.localOffset, `"${entry.path}" stored or deflated, found method ${entry.method}`)
  }
  try {
    return await inflateRaw(packed, entry.sizeBytes)
  } catch (cause) {
    throw new FormatError(ZIP, start, `"${entry.path}" to unpack; the archive is damaged`, { cause })
  }
}
