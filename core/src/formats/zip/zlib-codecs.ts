import type { ZipCodecs } from './read.ts'

/** Codecs that are all there, and answer at once. */
type PlainCodecs = {
  crc32: Required<ZipCodecs>['crc32']
  inflateRaw: (packed: Uint8Array, sizeBytes: number) => Uint8Array
}

/** What is used of Node's `node:zlib`, which core itself does not know. */
type Zlib = {
  crc32(bytes: Uint8Array, start?: number): number
  inflateRawSync(packed: Uint8Array, options: { maxOutputLength: number; info: boolean }): unknown
}

/** zlib's faster checksum and inflate for the reader; bytes left over behind a packed entry are damage. */
export const zlibCodecs = (zlib: Zlib): PlainCodecs => ({
  crc32: (bytes, start = 0) => zlib.crc32(bytes, start),
  inflateRaw(packed, sizeBytes) {
    // The types do not know that `info` gives the engine too; it tells how much was read.
    const { buffer, engine } = zlib.inflateRawSync(packed, { maxOutputLength: sizeBytes + 1, info: true }) as {
      buffer: Uint8Array<ArrayBuffer>
      engine: { bytesWritten: number }
    }
    if (engine.bytesWritten !== packed.length) throw new Error('bytes are left over')
    return new Uint8Array(buffer.buffer, buffer.byteOffset, buffer.length)
  },
})
