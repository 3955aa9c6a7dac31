import { deflateSync } from 'fflate'
import { FormatError, LimitError } from '../../errors.ts'
import { ARCHIVE_ENTRIES_MAX } from '../../limits.ts'
import { type Crc32, crc32 as plainCrc32 } from '../crc32.ts'
import { toUtf8 } from '../text.ts'
import { FIXED_BYTES, FLAG, METHOD, SIGNATURE, ZIP, ZIP32_MAX } from './layout.ts'
import { checkEntryPath } from './path.ts'

const VERSION_NEEDED = 20 // deflate and folders
const MADE_BY_UNIX = 0x0314
const FILE_MODE = 0o100644 * 0x10000
/** 1 January 1980, midnight, in DOS form: the same content always gives the same archive. */
const FIXED_DATE = 0x0021

type Placed = { name: Uint8Array; method: number; crc: number; packed: number; size: number; offset: number }
type Packing = 'store' | 'deflate'

/** Compresses into raw deflate; Node's own is faster than the portable default. */
export type DeflateRaw = (bytes: Uint8Array) => Uint8Array
export type ZipWriterOptions = { crc32?: Crc32; deflateRaw?: DeflateRaw }

/** Builds an archive piece by piece; the caller sends each returned piece on, so memory holds one entry at most. */
export class ZipWriter {
  #placed: Placed[] = []
  #names = new Set<string>()
  #offset = 0
  readonly #crc32: Crc32
  readonly #deflateRaw: DeflateRaw

  constructor({ crc32 = plainCrc32, deflateRaw = (bytes) => deflateSync(bytes) }: ZipWriterOptions = {}) {
    this.#crc32 = crc32
    this.#deflateRaw = deflateRaw
  }

  /**
   * Adds a file.
   * @param packing Pictures are stored, since deflating them again wins nothing; text is deflated.
   * @returns The bytes to append: entry header and content.
   * @throws {FormatError} For an unsafe name, or one already there (ignoring case).
   */
  add(path: string, bytes: Uint8Array, packing: Packing): Uint8Array[] {
    const deflated = packing === 'deflate' ? this.#deflateRaw(bytes) : undefined
    const content = deflated && deflated.length < bytes.length ? deflated : bytes
    const method = content === bytes ? METHOD.stored : METHOD.deflated
    return [this.#place(path, { method, crc: this.#crc32(bytes), packed: content.length, size: bytes.length }), content]
  }

  /**
   * Adds a file that is too large for memory, as it is. The caller appends its `sizeBytes` bytes right behind.
   * @returns The entry header to append.
   */
  addStored(path: string, { crc, sizeBytes }: { crc: number; sizeBytes: number }): Uint8Array {
    return this.#place(path, { method: METHOD.stored, crc, packed: sizeBytes, size: sizeBytes })
  }

  #place(path: string, content: Pick<Placed, 'method' | 'crc' | 'packed' | 'size'>): Uint8Array {
    checkEntryPath(path)
    const key = path.toLowerCase()
    if (this.#names.has(key)) throw new FormatError(ZIP, this.#offset, `each name once, got "${path}" twice`)
    this.#names.add(key)
    const entry: Placed = { name: toUtf8(path), offset: this.#offset, ...content }
    const header = localHeader(entry)
    this.#advance(header.length + entry.packed)
    this.#placed.push(entry)
    if (this.#placed.length > ARCHIVE_ENTRIES_MAX) {
      throw new LimitError('the number of entries', this.#placed.length, ARCHIVE_ENTRIES_MAX)
    }
    return header
  }

  /** Ends the archive. @returns The directory to append. */
  finish(): Uint8Array[] {
    const directory = this.#placed.map(centralHeader)
    const size = directory.reduce((sum, part) => sum + part.length, 0)
    const end = new Uint8Array(FIXED_BYTES.end)
    const view = new DataView(end.buffer)
    view.setUint32(0, SIGNATURE.end, true)
    view.setUint16(8, this.#placed.length, true)
    view.setUint16(10, this.#placed.length, true)
    view.setUint32(12, size, true)
    view.setUint32(16, this.#offset, true)
    this.#advance(size)
    return [...directory, end]
  }

  #advance(bytes: number): void {
    this.#offset += bytes
    if (this.#offset > ZIP32_MAX) throw new LimitError("the archive's size in bytes", this.#offset, ZIP32_MAX)
  }
}

function localHeader(entry: Placed): Uint8Array {
  const out = new Uint8Array(FIXED_BYTES.local + entry.name.length)
  const view = new DataView(out.buffer)
  view.setUint32(0, SIGNATURE.local, true)
  view.setUint16(4, VERSION_NEEDED, true)
  setShared(view, 6, entry)
  out.set(entry.name, FIXED_BYTES.local)
  return out
}

function centralHeader(entry: Placed): Uint8Array {
  const out = new Uint8Array(FIXED_BYTES.central + entry.name.length)
  const view = new DataView(out.buffer)
  view.setUint32(0, SIGNATURE.central, true)
  view.setUint16(4, MADE_BY_UNIX, true)
  view.setUint16(6, VERSION_NEEDED, true)
  setShared(view, 8, entry)
  view.setUint32(38, FILE_MODE, true)
  view.setUint32(42, entry.offset, true)
  out.set(entry.name, FIXED_BYTES.central)
  return out
}

/** The fields both headers share, in the same order: flags, method, time, date, checksum, sizes, name length. */
function setShared(view: DataView, at: number, entry: Placed): void {
  view.setUint16(at, FLAG.utf8, true)
  view.setUint16(at + 2, entry.method, true)
  view.setUint16(at + 6, FIXED_DATE, true)
  view.setUint32(at + 8, entry.crc, true)
  view.setUint32(at + 12, entry.packed, true)
  view.setUint32(at + 16, entry.size, true)
  view.setUint16(at + 20, entry.name.length, true)
}
