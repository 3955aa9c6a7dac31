import { inflateSync } from 'fflate'
import { FormatError, LimitError } from '../../errors.ts'
import {
  ARCHIVE_ENTRIES_MAX,
  ARCHIVE_RATIO_FROM_BYTES,
  ARCHIVE_RATIO_MAX,
  ARCHIVE_UNPACKED_MAX_BYTES,
} from '../../limits.ts'
import { type Crc32, crc32 as plainCrc32 } from '../crc32.ts'
import { fromUtf8OrLatin1 } from '../text.ts'
import {
  type ByteSource,
  COMMENT_MAX_BYTES,
  FIXED_BYTES,
  FLAG,
  METHOD,
  SIGNATURE,
  ZIP,
  type ZipEntry,
} from './layout.ts'
import { checkEntryPath } from './path.ts'

/** Unpacks raw deflate into at most `sizeBytes`; throws when the data is damaged or unfolds to more. */
export type InflateRaw = (packed: Uint8Array, sizeBytes: number) => Uint8Array

// One byte more than stated: output that fills it shows that the entry unfolds to more than it says.
const plainInflate: InflateRaw = (packed, sizeBytes) => inflateSync(packed, { out: new Uint8Array(sizeBytes + 1) })

/**
 * Lists an archive by its central directory, after checking every name, size and limit.
 * @throws {FormatError} For a malformed directory, an encrypted entry, an unsafe or doubled name.
 * @throws {LimitError} For too many entries, too much unpacked, or a suspicious ratio.
 */
export async function listZip(source: ByteSource): Promise<ZipEntry[]> {
  const end = await findEnd(source)
  if (end.count > ARCHIVE_ENTRIES_MAX) throw new LimitError('the number of entries', end.count, ARCHIVE_ENTRIES_MAX)
  const directory = await readExactly(source, end.offset, end.size)
  const view = new DataView(directory.buffer, directory.byteOffset, directory.byteLength)
  const entries: ZipEntry[] = []
  const seen = new Set<string>()
  let unpacked = 0
  for (let i = 0, at = 0; i < end.count; i++) {
    const { entry, next } = readDirectoryEntry(directory, view, at, end.offset)
    at = next
    if (entry.path.endsWith('/')) continue
    const key = entry.path.toLowerCase()
    if (seen.has(key)) throw new FormatError(ZIP, end.offset + at, `each name once, found "${entry.path}" twice`)
    seen.add(key)
    unpacked += entry.sizeBytes
    if (unpacked > ARCHIVE_UNPACKED_MAX_BYTES) {
      throw new LimitError('the unpacked size in bytes', unpacked, ARCHIVE_UNPACKED_MAX_BYTES)
    }
    if (entry.sizeBytes > ARCHIVE_RATIO_FROM_BYTES && entry.sizeBytes > ARCHIVE_RATIO_MAX * entry.packedBytes) {
      throw new LimitError(
        `the ratio of "${entry.path}"`,
        Math.round(entry.sizeBytes / (entry.packedBytes || 1)),
        ARCHIVE_RATIO_MAX,
      )
    }
    entries.push(entry)
  }
  return entries
}

/**
 * Reads one listed entry and checks its size and checksum.
 * @throws {FormatError} If the entry is damaged or its method unknown.
 */
export async function readZipEntry(
  source: ByteSource,
  entry: ZipEntry,
  { inflateRaw = plainInflate, crc32 = plainCrc32 }: { inflateRaw?: InflateRaw; crc32?: Crc32 } = {},
): Promise<Uint8Array> {
  const local = await readExactly(source, entry.localOffset, FIXED_BYTES.local)
  const view = new DataView(local.buffer, local.byteOffset, local.byteLength)
  if (view.getUint32(0, true) !== SIGNATURE.local) throw new FormatError(ZIP, entry.localOffset, 'an entry header')
  const start = entry.localOffset + FIXED_BYTES.local + view.getUint16(26, true) + view.getUint16(28, true)
  const packed = await readExactly(source, start, entry.packedBytes)
  const bytes = unpack(packed, entry, inflateRaw, start)
  if (bytes.length !== entry.sizeBytes || crc32(bytes) !== entry.crc) {
    throw new FormatError(ZIP, start, `"${entry.path}" as its checksum says; the archive is damaged`)
  }
  return bytes
}

function unpack(packed: Uint8Array, entry: ZipEntry, inflateRaw: InflateRaw, start: number): Uint8Array {
  if (entry.method === METHOD.stored) return packed
  if (entry.method !== METHOD.deflated) {
    throw new FormatError(ZIP, entry.localOffset, `"${entry.path}" stored or deflated, found method ${entry.method}`)
  }
  try {
    return inflateRaw(packed, entry.sizeBytes)
  } catch (cause) {
    throw new FormatError(ZIP, start, `"${entry.path}" to unpack; the archive is damaged`, { cause })
  }
}

async function findEnd(source: ByteSource): Promise<{ count: number; size: number; offset: number }> {
  const tailBytes = Math.min(source.size, FIXED_BYTES.end + COMMENT_MAX_BYTES)
  const tail = await readExactly(source, source.size - tailBytes, tailBytes)
  const view = new DataView(tail.buffer, tail.byteOffset, tail.byteLength)
  for (let at = tail.length - FIXED_BYTES.end; at >= 0; at--) {
    if (view.getUint32(at, true) !== SIGNATURE.end) continue
    if (at + FIXED_BYTES.end + view.getUint16(at + 20, true) !== tail.length) continue
    const end = {
      count: view.getUint16(at + 10, true),
      size: view.getUint32(at + 12, true),
      offset: view.getUint32(at + 16, true),
    }
    if (end.offset + end.size > source.size)
      throw new FormatError(ZIP, source.size - tailBytes + at, 'a directory inside the file')
    return end
  }
  throw new FormatError(ZIP, source.size, 'the end of a directory; the archive is cut short')
}

function readDirectoryEntry(
  directory: Uint8Array,
  view: DataView,
  at: number,
  base: number,
): { entry: ZipEntry; next: number } {
  if (at + FIXED_BYTES.central > directory.length || view.getUint32(at, true) !== SIGNATURE.central) {
    throw new FormatError(ZIP, base + at, 'a directory entry')
  }
  const nameBytes = view.getUint16(at + 28, true)
  const nameStart = at + FIXED_BYTES.central
  const next = nameStart + nameBytes + view.getUint16(at + 30, true) + view.getUint16(at + 32, true)
  if (next > directory.length) throw new FormatError(ZIP, base + at, 'a directory entry that ends inside the directory')
  const path = fromUtf8OrLatin1(directory.subarray(nameStart, nameStart + nameBytes))
  checkEntryPath(path, base + at)
  if (view.getUint16(at + 8, true) & FLAG.encrypted)
    throw new FormatError(ZIP, base + at, `"${path}" without a password`)
  return {
    entry: {
      path,
      method: view.getUint16(at + 10, true),
      crc: view.getUint32(at + 16, true),
      packedBytes: view.getUint32(at + 20, true),
      sizeBytes: view.getUint32(at + 24, true),
      localOffset: view.getUint32(at + 42, true),
    },
    next,
  }
}

async function readExactly(source: ByteSource, offset: number, length: number): Promise<Uint8Array> {
  if (offset < 0 || offset + length > source.size)
    throw new FormatError(ZIP, source.size, `${length} bytes from byte ${offset} on`)
  const bytes = await source.read(offset, length)
  if (bytes.length !== length)
    throw new FormatError(ZIP, offset + bytes.length, `${length} bytes from byte ${offset} on`)
  return bytes
}
