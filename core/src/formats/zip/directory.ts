import { FormatError } from '../../errors.ts'
import { fromUtf8OrLatin1 } from '../text.ts'
import {
  type ByteSource,
  COMMENT_MAX_BYTES,
  EXTRA_ZIP64,
  FIXED_BYTES,
  FLAG,
  MODE,
  MODE_SHIFT,
  SIGNATURE,
  ZIP,
  ZIP16_FULL,
  ZIP32_FULL,
  type ZipEntry,
} from './layout.ts'
import { checkEntryPath } from './path.ts'

/** Where an archive's directory lies, and how many entries it lists. */
export type DirectoryEnd = { count: number; size: number; offset: number }

/**
 * Finds the directory by the record at the archive's end, or by that of ZIP64 where it says so.
 * @throws {FormatError} If there is none, or it is not where that record says.
 */
export async function findDirectory(source: ByteSource): Promise<DirectoryEnd> {
  const tailBytes = Math.min(source.size, FIXED_BYTES.end + COMMENT_MAX_BYTES)
  const base = source.size - tailBytes
  const tail = await readExactly(source, base, tailBytes)
  const view = viewOf(tail)
  for (let at = tail.length - FIXED_BYTES.end; at >= 0; at--) {
    if (view.getUint32(at, true) !== SIGNATURE.end) continue
    if (at + FIXED_BYTES.end + view.getUint16(at + 20, true) !== tail.length) continue
    const end = {
      count: view.getUint16(at + 10, true),
      size: view.getUint32(at + 12, true),
      offset: view.getUint32(at + 16, true),
    }
    const isFull = end.count === ZIP16_FULL || end.size === ZIP32_FULL || end.offset === ZIP32_FULL
    const known = isFull ? await findDirectory64(source, base + at) : { ...end, stop: base + at }
    if (known.offset + known.size !== known.stop)
      throw new FormatError(ZIP, base + at, 'a directory that ends where its last record begins')
    return known
  }
  throw new FormatError(
    ZIP,
    source.size,
    'the end of a directory; the archive is cut short or has bytes behind its end',
  )
}

/** @param endAt Where the record of 32 bits begins; the locator stands right before it. */
async function findDirectory64(source: ByteSource, endAt: number): Promise<DirectoryEnd & { stop: number }> {
  const locatorAt = endAt - FIXED_BYTES.locator64
  const locator = viewOf(await readExactly(source, locatorAt, FIXED_BYTES.locator64))
  if (locator.getUint32(0, true) !== SIGNATURE.locator64) throw new FormatError(ZIP, locatorAt, 'the ZIP64 locator')
  const recordAt = readUint64(locator, 8, locatorAt)
  const record = viewOf(await readExactly(source, recordAt, FIXED_BYTES.end64))
  if (record.getUint32(0, true) !== SIGNATURE.end64)
    throw new FormatError(ZIP, recordAt, 'the ZIP64 end of a directory')
  return {
    count: readUint64(record, 32, recordAt),
    size: readUint64(record, 40, recordAt),
    offset: readUint64(record, 48, recordAt),
    stop: recordAt,
  }
}

/**
 * Reads the entry of a directory that begins at `at`.
 * @param base Where the directory begins in the file.
 * @returns The entry, and where the next one begins.
 * @throws {FormatError} If it is none, is encrypted, is a link, or has a path that leads elsewhere.
 */
export function readDirectoryEntry(directory: Uint8Array, at: number, base: number): { entry: ZipEntry; next: number } {
  const view = viewOf(directory)
  if (at + FIXED_BYTES.central > directory.length || view.getUint32(at, true) !== SIGNATURE.central)
    throw new FormatError(ZIP, base + at, 'a directory entry')
  const nameBytes = view.getUint16(at + 28, true)
  const nameStart = at + FIXED_BYTES.central
  const extraStart = nameStart + nameBytes
  const extraEnd = extraStart + view.getUint16(at + 30, true)
  const next = extraEnd + view.getUint16(at + 32, true)
  if (next > directory.length) throw new FormatError(ZIP, base + at, 'a directory entry that ends inside the directory')
  const path = fromUtf8OrLatin1(directory.subarray(nameStart, extraStart))
  checkEntryPath(path, base + at)
  if (view.getUint16(at + 8, true) & FLAG.encrypted)
    throw new FormatError(ZIP, base + at, `"${path}" without a password`)
  if (((view.getUint32(at + 38, true) >>> MODE_SHIFT) & MODE.kind) === MODE.link)
    throw new FormatError(ZIP, base + at, `files and folders; "${path}" is a link to another place`)
  const [sizeBytes, packedBytes, localOffset] = readWideFields(
    directory.subarray(extraStart, extraEnd),
    [view.getUint32(at + 24, true), view.getUint32(at + 20, true), view.getUint32(at + 42, true)],
    base + extraStart,
  )
  const [method, crc] = [view.getUint16(at + 10, true), view.getUint32(at + 16, true)]
  return { entry: { path, method, crc, packedBytes, sizeBytes, localOffset }, next }
}

/** The fields with those that are full taken from the ZIP64 extra field, in the order in which it holds them. */
function readWideFields(
  extra: Uint8Array,
  fields: [size: number, packed: number, offset: number],
  base: number,
): [size: number, packed: number, offset: number] {
  if (!fields.includes(ZIP32_FULL)) return fields
  const view = viewOf(extra)
  for (let at = 0; at + 4 <= extra.length; at += 4 + view.getUint16(at + 2, true)) {
    if (view.getUint16(at, true) !== EXTRA_ZIP64) continue
    const end = at + 4 + view.getUint16(at + 2, true)
    let next = at + 4
    return fields.map((field) => {
      if (field !== ZIP32_FULL) return field
      if (next + 8 > end || end > extra.length) throw new FormatError(ZIP, base + at, 'all wide sizes of an entry')
      next += 8
      return readUint64(view, next - 8, base)
    }) as typeof fields
  }
  throw new FormatError(ZIP, base, 'the ZIP64 part of an entry')
}

function readUint64(view: DataView, at: number, base: number): number {
  const value = view.getBigUint64(at, true)
  if (value > BigInt(Number.MAX_SAFE_INTEGER)) throw new FormatError(ZIP, base + at, 'a size that can be true')
  return Number(value)
}

/** So many bytes of a source, no fewer. @throws {FormatError} If they are not there. */
export async function readExactly(source: ByteSource, offset: number, length: number): Promise<Uint8Array> {
  if (offset < 0 || offset + length > source.size)
    throw new FormatError(ZIP, source.size, `${length} bytes from byte ${offset} on`)
  const bytes = await source.read(offset, length)
  if (bytes.length !== length)
    throw new FormatError(ZIP, offset + bytes.length, `${length} bytes from byte ${offset} on`)
  return bytes
}

export const viewOf = (bytes: Uint8Array): DataView => new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
