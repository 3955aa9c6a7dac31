import { sha256 } from '@noble/hashes/sha2.js'
import { bytesToHex } from '@noble/hashes/utils.js'
import { joinBytes } from './formats/bytes.ts'
import { toUtf8 } from './formats/text.ts'
import type { Pixels } from './raster/pixels.ts'

/** SHA-256 as 64 hex digits (FIPS 180-4). Node's own is faster and has this same shape. */
export type Sha256 = (bytes: Uint8Array) => string

export const sha256Hex: Sha256 = (bytes) => bytesToHex(sha256(bytes))

/** Names a picture by its size, channels and pixels: equal pictures have equal names, however they were stored. */
export function hashPixels({ width, height, channels, data }: Pixels, hash: Sha256 = sha256Hex): string {
  return hash(joinBytes([toUtf8(`${width}x${height}x${channels}\n`), data]))
}
