import { createHash } from 'node:crypto'
import zlib, { crc32 } from 'node:zlib'
import type { ByteSource } from '@satchel/core/formats/zip/layout'
import { zlibCodecs } from '@satchel/core/formats/zip/zlib-codecs'
import type { FileSha, HashBytes } from '@satchel/core/hashes'

const CHUNK_BYTES = 4 * 1024 * 1024

export const nodeCrc32 = (bytes: Uint8Array, start = 0): number => crc32(bytes, start)

export const nodeHashBytes: HashBytes = (...parts) => {
  const hash = createHash('sha256')
  for (const part of parts) hash.update(part)
  return hash.digest('hex') as FileSha
}

/** The hash of what is read in parts: no more than one of them is held. */
export async function hashSource(source: ByteSource): Promise<FileSha> {
  const hash = createHash('sha256')
  for (let at = 0; at < source.size; at += CHUNK_BYTES)
    hash.update(await source.read(at, Math.min(CHUNK_BYTES, source.size - at)))
  return hash.digest('hex') as FileSha
}

export const nodeZipCodecs = zlibCodecs(zlib)
