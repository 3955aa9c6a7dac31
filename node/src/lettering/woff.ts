import { inflateSync } from 'node:zlib'
import { FormatError } from '@satchel/core/errors'

const SIGNATURE = 0x774f4646 // wOFF
const HEADER_BYTES = 44
const ENTRY_BYTES = 20
const SFNT_HEADER_BYTES = 12
const SFNT_ENTRY_BYTES = 16
const align = (sizeBytes: number) => (sizeBytes + 3) & ~3

/**
 * Unpacks a WOFF font to the plain font file in it. What reads packed ones unpacks all outlines for every letter.
 *
 * @throws {FormatError} If it is none.
 * Source: W3C, WOFF File Format 1.0, https://www.w3.org/TR/WOFF/.
 */
export function unpackWoff(woff: Buffer): Buffer {
  if (woff.length < HEADER_BYTES || woff.readUInt32BE(0) !== SIGNATURE)
    throw new FormatError('WOFF font', 0, 'its signature')
  const count = woff.readUInt16BE(12)
  const tables = Array.from({ length: count }, (_, i) => {
    const at = HEADER_BYTES + i * ENTRY_BYTES
    const [offset, packedBytes, sizeBytes] = [4, 8, 12].map((of) => woff.readUInt32BE(at + of)) as [
      number,
      number,
      number,
    ]
    const packed = woff.subarray(offset, offset + packedBytes)
    return {
      tag: woff.subarray(at, at + 4),
      checksum: woff.readUInt32BE(at + 16),
      bytes: packedBytes < sizeBytes ? inflateSync(packed, { maxOutputLength: sizeBytes }) : packed,
    }
  })
  let end = SFNT_HEADER_BYTES + count * SFNT_ENTRY_BYTES
  const font = Buffer.alloc(end + tables.reduce((sum, { bytes }) => sum + align(bytes.length), 0))
  woff.copy(font, 0, 4, 8)
  font.writeUInt16BE(count, 4)
  const power = 2 ** Math.floor(Math.log2(count))
  font.writeUInt16BE(power * SFNT_ENTRY_BYTES, 6)
  font.writeUInt16BE(Math.log2(power), 8)
  font.writeUInt16BE((count - power) * SFNT_ENTRY_BYTES, 10)
  for (const [i, { tag, checksum, bytes }] of tables.entries()) {
    const at = SFNT_HEADER_BYTES + i * SFNT_ENTRY_BYTES
    tag.copy(font, at)
    font.writeUInt32BE(checksum, at + 4)
    font.writeUInt32BE(end, at + 8)
    font.writeUInt32BE(bytes.length, at + 12)
    bytes.copy(font, end)
    end += align(bytes.length)
  }
  return font
}
