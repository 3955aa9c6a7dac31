import { deflateSync } from 'fflate'
import { FormatError, LimitError } from '../../errors.ts'
import { ARCHIVE_ENTRIES_MAX } from '../../limits.ts'
import { type Crc32, crc32 as plainCrc32 } from '../crc32.ts'
import { toNameKey, toUtf8 } from '../text.ts'
import {
  EXTRA_ZIP64,
  FIXED_BYTES,
  FLAG,
  type LaidEntry,
  METHOD,
  MODE,
  MODE_SHIFT,
  SIGNATURE,
  ZIP,
  ZIP16_FULL,
  ZIP32_FULL,
  type ZipEntry,
} from './layout.ts'
import { checkEntryPath } from './path.ts'

const VERSION_NEEDED = 20 // deflate and folders
const VERSION_ZIP64 = 45
const MADE_BY_UNIX = 0x0314
const FILE_MODE = (MODE.file | 0o644) * 2 ** MODE_SHIFT
/** 1 January 1980, midnight, in DOS form: the same content always gives the same archive. */
const FIXED_DATE = 0x0021

/** The wide part of a local header: its kind, its length, and both sizes. */
const WIDE_LOCAL_BYTES = 20

type Begun = {
  path: string
  name: Uint8Array
  method: number
  crc: number
  packed: number
  size: number
  offset: number
}
type Packing = 'store' | 'deflate'
/** What an archive says of an entry, as far as another one can take it over. */
type PackedFile = Pick<ZipEntry, 'method' | 'crc' | 'packedBytes' | 'sizeBytes'>

/** Compresses into raw deflate; Node's own is faster than the portable default. */
export type DeflateRaw = (bytes: Uint8Array) => Uint8Array
export type ZipWriterOptions = {
  crc32?: Crc32
  deflateRaw?: DeflateRaw
  /** Compresses into blocks of raw deflate that end with a whole byte, none of which is the last one. */
  deflateOpen?: DeflateRaw
}

/** Bytes of a block that is not compressed. */
const BLOCK_MAX_BYTES = 0xffff

/** A last block of raw deflate that holds bytes as they are (RFC 1951, 3.2.4). @throws {LimitError} For more than a block has. */
export function lastBlock(bytes: Uint8Array): Uint8Array {
  if (bytes.length > BLOCK_MAX_BYTES) throw new LimitError('the bytes of a block', bytes.length, BLOCK_MAX_BYTES)
  const out = new Uint8Array(5 + bytes.length)
  const view = new DataView(out.buffer)
  out[0] = 1
  view.setUint16(1, bytes.length, true)
  view.setUint16(3, BLOCK_MAX_BYTES - bytes.length, true)
  out.set(bytes, 5)
  return out
}

/** Builds an archive piece by piece; the caller sends each returned piece on, so memory holds one entry at most. */
export class ZipWriter {
  #begun: Begun[] = []
  #names = new Set<string>()
  #offset = 0
  readonly #crc32: Crc32
  readonly #deflateRaw: DeflateRaw
  readonly #deflateOpen: DeflateRaw | undefined

  constructor({ crc32 = plainCrc32, deflateRaw = (bytes) => deflateSync(bytes), deflateOpen }: ZipWriterOptions = {}) {
    this.#crc32 = crc32
    this.#deflateRaw = deflateRaw
    this.#deflateOpen = deflateOpen
  }

  /**
   * Adds a file.
   * @param packing Pictures are stored, since deflating them again wins nothing; text is deflated.
   * @returns The bytes to append: entry header and content.
   * @throws {FormatError} For an unsafe name, or one already there (case and Unicode form do not count).
   */
  add(path: string, bytes: Uint8Array, packing: Packing): [Uint8Array, Uint8Array] {
    const deflated = packing === 'deflate' ? this.#deflateRaw(bytes) : undefined
    const content = deflated && deflated.length < bytes.length ? deflated : bytes
    const method = content === bytes ? METHOD.stored : METHOD.deflated
    return [this.#begin(path, { method, crc: this.#crc32(bytes), packed: content.length, size: bytes.length }), content]
  }

  /**
   * Adds a file whose last bytes stand by themselves: others can be put in their place, and nothing is packed again.
   * @param tailBytes How many. @returns The header, all up to there as it is packed, and the rest.
   */
  addSplit(path: string, bytes: Uint8Array, packing: Packing, tailBytes: number): [Uint8Array, Uint8Array, Uint8Array] {
    const at = bytes.length - tailBytes
    const [beginning, tail] = [bytes.subarray(0, at), bytes.subarray(at)]
    const deflated = packing === 'deflate' ? this.#deflateOpen?.(beginning) : undefined
    const [first, last] = deflated ? [deflated, lastBlock(tail)] : [beginning, tail]
    const method = deflated ? METHOD.deflated : METHOD.stored
    const packed = first.length + last.length
    return [this.#begin(path, { method, crc: this.#crc32(bytes), packed, size: bytes.length }), first, last]
  }

  /**
   * Adds a file that is too large for memory, as it is. The caller appends its `sizeBytes` bytes right behind.
   * @returns The entry header to append.
   */
  addStored(path: string, { crc, sizeBytes }: { crc: number; sizeBytes: number }): Uint8Array {
    return this.#begin(path, { method: METHOD.stored, crc, packed: sizeBytes, size: sizeBytes })
  }

  /**
   * Adds a file as it was packed before. The caller appends its `packedBytes` bytes right behind.
   * @returns The entry header to append.
   */
  addPacked(path: string, { method, crc, packedBytes, sizeBytes }: PackedFile): Uint8Array {
    return this.#begin(path, { method, crc, packed: packedBytes, size: sizeBytes })
  }

  #begin(path: string, content: Pick<Begun, 'method' | 'crc' | 'packed' | 'size'>): Uint8Array {
    checkEntryPath(path)
    const key = toNameKey(path)
    if (this.#names.has(key)) throw new FormatError(ZIP, this.#offset, `each name once, got "${path}" twice`)
    this.#names.add(key)
    const entry: Begun = { path, name: toUtf8(path), offset: this.#offset, ...content }
    const header = localHeader(entry)
    this.#offset += header.length + entry.packed
    this.#begun.push(entry)
    if (this.#begun.length > ARCHIVE_ENTRIES_MAX) {
      throw new LimitError('the number of entries', this.#begun.length, ARCHIVE_ENTRIES_MAX)
    }
    return header
  }

  /** What was added so far, and where the packed bytes of each begin. */
  get laid(): LaidEntry[] {
    return this.#begun.map((entry) => ({
      path: entry.path,
      method: entry.method,
      crc: entry.crc,
      packedBytes: entry.packed,
      sizeBytes: entry.size,
      at: entry.offset + localBytes(entry),
    }))
  }

  /** Ends the archive; beyond 4 GiB with the records of ZIP64. @returns The directory to append. */
  finish(): Uint8Array[] {
    const directory = this.#begun.map(centralHeader)
    const size = directory.reduce((sum, part) => sum + part.length, 0)
    const known = { count: this.#begun.length, size, offset: this.#offset }
    const isWide = size >= ZIP32_FULL || this.#offset >= ZIP32_FULL || known.count >= ZIP16_FULL
    return [...directory, ...(isWide ? [endRecord64(known)] : []), endRecord(known)]
  }
}

type DirectoryEnd = { count: number; size: number; offset: number }

function endRecord({ count, size, offset }: DirectoryEnd): Uint8Array {
  const end = new Uint8Array(FIXED_BYTES.end)
  const view = new DataView(end.buffer)
  view.setUint32(0, SIGNATURE.end, true)
  view.setUint16(8, Math.min(count, ZIP16_FULL), true)
  view.setUint16(10, Math.min(count, ZIP16_FULL), true)
  view.setUint32(12, Math.min(size, ZIP32_FULL), true)
  view.setUint32(16, Math.min(offset, ZIP32_FULL), true)
  return end
}

/** The wide record of a directory's end, and the locator that says where it is. */
function endRecord64({ count, size, offset }: DirectoryEnd): Uint8Array {
  const out = new Uint8Array(FIXED_BYTES.end64 + FIXED_BYTES.locator64)
  const view = new DataView(out.buffer)
  view.setUint32(0, SIGNATURE.end64, true)
  view.setBigUint64(4, BigInt(FIXED_BYTES.end64 - 12), true) // what follows this field
  view.setUint16(12, (MADE_BY_UNIX & 0xff00) | VERSION_ZIP64, true)
  view.setUint16(14, VERSION_ZIP64, true)
  view.setBigUint64(24, BigInt(count), true)
  view.setBigUint64(32, BigInt(count), true)
  view.setBigUint64(40, BigInt(size), true)
  view.setBigUint64(48, BigInt(offset), true)
  view.setUint32(FIXED_BYTES.end64, SIGNATURE.locator64, true)
  view.setBigUint64(FIXED_BYTES.end64 + 8, BigInt(offset + size), true)
  view.setUint32(FIXED_BYTES.end64 + 16, 1, true) // disks in all
  return out
}

/** The ZIP64 extra field with those of the numbers that do not fit 32 bits; empty when all do. */
function wideExtra(values: readonly number[]): Uint8Array {
  if (values.length === 0) return new Uint8Array(0)
  const out = new Uint8Array(4 + 8 * values.length)
  const view = new DataView(out.buffer)
  view.setUint16(0, EXTRA_ZIP64, true)
  view.setUint16(2, 8 * values.length, true)
  for (const [i, value] of values.entries()) view.setBigUint64(4 + 8 * i, BigInt(value), true)
  return out
}

const localBytes = (entry: Begun) => FIXED_BYTES.local + entry.name.length + (isWide(entry) ? WIDE_LOCAL_BYTES : 0)

function localHeader(entry: Begun): Uint8Array {
  // A local header holds both sizes in its wide part, or neither.
  const extra = wideExtra(isWide(entry) ? [entry.size, entry.packed] : [])
  const out = new Uint8Array(FIXED_BYTES.local + entry.name.length + extra.length)
  const view = new DataView(out.buffer)
  view.setUint32(0, SIGNATURE.local, true)
  view.setUint16(4, extra.length > 0 ? VERSION_ZIP64 : VERSION_NEEDED, true)
  setShared(view, 6, entry)
  view.setUint16(28, extra.length, true)
  out.set(entry.name, FIXED_BYTES.local)
  out.set(extra, FIXED_BYTES.local + entry.name.length)
  return out
}

function centralHeader(entry: Begun): Uint8Array {
  const wide = [
    ...(isWide(entry) ? [entry.size, entry.packed] : []),
    ...(entry.offset >= ZIP32_FULL ? [entry.offset] : []),
  ]
  const extra = wideExtra(wide)
  const out = new Uint8Array(FIXED_BYTES.central + entry.name.length + extra.length)
  const view = new DataView(out.buffer)
  view.setUint32(0, SIGNATURE.central, true)
  view.setUint16(4, MADE_BY_UNIX, true)
  view.setUint16(6, extra.length > 0 ? VERSION_ZIP64 : VERSION_NEEDED, true)
  setShared(view, 8, entry)
  view.setUint16(30, extra.length, true)
  view.setUint32(38, FILE_MODE, true)
  view.setUint32(42, Math.min(entry.offset, ZIP32_FULL), true)
  out.set(entry.name, FIXED_BYTES.central)
  out.set(extra, FIXED_BYTES.central + entry.name.length)
  return out
}

const isWide = ({ size, packed }: Begun) => size >= ZIP32_FULL || packed >= ZIP32_FULL

/** The fields both headers share, in the same order: flags, method, time, date, checksum, sizes, name length. */
function setShared(view: DataView, at: number, entry: Begun): void {
  view.setUint16(at, FLAG.utf8, true)
  view.setUint16(at + 2, entry.method, true)
  view.setUint16(at + 6, FIXED_DATE, true)
  view.setUint32(at + 8, entry.crc, true)
  view.setUint32(at + 12, isWide(entry) ? ZIP32_FULL : entry.packed, true)
  view.setUint32(at + 16, isWide(entry) ? ZIP32_FULL : entry.size, true)
  view.setUint16(at + 20, entry.name.length, true)
}
