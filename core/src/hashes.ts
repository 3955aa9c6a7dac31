import { sha256 } from '@noble/hashes/sha2.js'
import { bytesToHex } from '@noble/hashes/utils.js'
import * as v from 'valibot'
import { toUtf8 } from './formats/text.ts'
import type { Pixels } from './raster/pixels.ts'

/** SHA-256 of a file's bytes, as 64 hex digits: names what is stored and what checksums list. */
export type FileSha = string & { readonly __names: 'bytes' }
/** SHA-256 of a picture's size, channels and samples, as 64 hex digits: the same however the picture is stored. */
export type PixelSha = string & { readonly __names: 'pixels' }

const Sha = v.pipe(v.string(), v.regex(/^[0-9a-f]{64}$/))
// The brand exists only for the compiler; 64 hex digits are all that can be checked of either.
export const FileShaText = Sha as unknown as v.GenericSchema<string, FileSha>
export const PixelShaText = Sha as unknown as v.GenericSchema<string, PixelSha>

/** SHA-256 of bytes, in one or more parts (FIPS 180-4). Node's own is faster and has this same shape. */
export type HashBytes = (...parts: readonly Uint8Array[]) => FileSha

export const hashBytes: HashBytes = (...parts) => {
  const hash = sha256.create()
  for (const part of parts) hash.update(part)
  return bytesToHex(hash.digest()) as FileSha
}

/** SHA-256 of bytes that come in pieces. @param pieces The bytes in their order, none held longer than it is read. */
export async function hashPieces(pieces: AsyncIterable<Uint8Array>): Promise<FileSha> {
  const hash = sha256.create()
  for await (const piece of pieces) hash.update(piece)
  return bytesToHex(hash.digest()) as FileSha
}

/** Names a picture by its size, channels and samples: equal pictures have equal names, however they were stored. */
export function hashPixels({ width, height, channels, data }: Pixels, hash: HashBytes = hashBytes): PixelSha {
  return hash(toUtf8(`${width}x${height}x${channels}\n`), data) as string as PixelSha
}
