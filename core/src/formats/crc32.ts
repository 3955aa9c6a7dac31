/** Computes a CRC-32 (ISO 3309), going on from `start`. Node's own is four times faster and has this same shape. */
export type Crc32 = (bytes: Uint8Array, start?: number) => number

const POLYNOMIAL = 0xedb88320 // reversed, as PNG and ZIP both use it

const TABLE = Int32Array.from({ length: 256 }, (_, byte) => {
  let crc = byte
  for (let bit = 0; bit < 8; bit++) crc = crc & 1 ? (crc >>> 1) ^ POLYNOMIAL : crc >>> 1
  return crc
})

/** The readable CRC-32 for places without a faster one. */
export const crc32: Crc32 = (bytes, start = 0) => {
  let crc = ~start
  for (let i = 0; i < bytes.length; i++) crc = (crc >>> 8) ^ TABLE[(crc ^ bytes[i]) & 255]
  return ~crc >>> 0
}
