// ZIP without encryption, spanning or ZIP64; methods stored and deflated. PKWARE's published APPNOTE 6.3.

export const ZIP = 'ZIP archive'
export const SIGNATURE = { local: 0x04034b50, central: 0x02014b50, end: 0x06054b50 } as const
export const FIXED_BYTES = { local: 30, central: 46, end: 22 } as const
export const METHOD = { stored: 0, deflated: 8 } as const
export const FLAG = { encrypted: 1, utf8: 0x800 } as const

/** Largest offset or size that fits without ZIP64. */
export const ZIP32_MAX = 0xffff_fffe
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
