import { hasBytesAt } from '../bytes.ts'

// ZIP and ZIP64 without encryption or spanning; methods stored and deflated. PKWARE's published APPNOTE 6.3.

export const ZIP = 'ZIP archive'
export const SIGNATURE = {
  local: 0x04034b50,
  central: 0x02014b50,
  end: 0x06054b50,
  end64: 0x06064b50,
  locator64: 0x07064b50,
} as const
export const FIXED_BYTES = { local: 30, central: 46, end: 22, end64: 56, locator64: 20 } as const
export const METHOD = { stored: 0, deflated: 8 } as const
export const FLAG = { encrypted: 1, sizesFollow: 8, utf8: 0x800 } as const

/** A field of 32 or 16 bits full of ones: the value stands in the ZIP64 part instead. */
export const ZIP32_FULL = 0xffff_ffff
export const ZIP16_FULL = 0xffff
/** The extra field that holds what does not fit 32 bits: sizes and offset, 64 bits each, only those that are full. */
export const EXTRA_ZIP64 = 0x0001
/** Unix file modes in the upper half of an entry's outside attributes. */
export const MODE_SHIFT = 16
export const MODE = { kind: 0o170000, file: 0o100000, link: 0o120000 } as const
export const COMMENT_MAX_BYTES = 65_535

/** Anything bytes can be read from at any place: memory, an open file, a stored blob. */
export type ByteSource = { size: number; read(offset: number, length: number): Promise<Uint8Array> }

/** Memory as a source. */
export const toByteSource = (bytes: Uint8Array): ByteSource => ({
  size: bytes.length,
  read: async (offset, length) => bytes.subarray(offset, offset + length),
})

/** One file of an archive, as its central directory tells it. Directories are not listed. */
export type ZipEntry = {
  path: string
  method: number
  crc: number
  packedBytes: number
  sizeBytes: number
  localOffset: number
}

/** An entry of an archive that lies somewhere: what is said of it, and where its packed bytes begin. */
export type LaidEntry = Omit<ZipEntry, 'localOffset'> & { at: number }

const START = [0x50, 0x4b, 0x03, 0x04]
const EMPTY = [0x50, 0x4b, 0x05, 0x06]

/** Whether a file begins as an archive does. */
export const looksLikeZip = (head: Uint8Array): boolean => hasBytesAt(head, 0, START) || hasBytesAt(head, 0, EMPTY)
