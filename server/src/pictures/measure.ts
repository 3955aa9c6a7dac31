import { createHash } from 'node:crypto'
import { createReadStream } from 'node:fs'
import { pipeline } from 'node:stream/promises'
import { LimitError } from '@satchel/core/errors'
import type { FileSha } from '@satchel/core/hashes'

const READ_BYTES = 1024 * 1024

/** What a file is: the name of its bytes, and how many they are. */
export type StoredBlob = { sha256: FileSha; sizeBytes: number }

/** Counts and names what passes. */
export function measure(maxBytes = Number.POSITIVE_INFINITY): {
  pass: (source: AsyncIterable<Uint8Array>) => AsyncGenerator<Uint8Array>
  result: () => StoredBlob
} {
  const hash = createHash('sha256')
  let sizeBytes = 0
  return {
    async *pass(source) {
      for await (const chunk of source) {
        sizeBytes += chunk.length
        if (sizeBytes > maxBytes) throw new LimitError('the file size in bytes', sizeBytes, maxBytes)
        hash.update(chunk)
        yield chunk
      }
    },
    result: () => ({ sha256: hash.digest('hex') as FileSha, sizeBytes }),
  }
}

/** Reads bytes to their end. @returns What they are. */
export async function measureBytes(bytes: AsyncIterable<Uint8Array>): Promise<StoredBlob> {
  const measured = measure()
  await pipeline(bytes, measured.pass, async (passed) => {
    for await (const _ of passed);
  })
  return measured.result()
}

/** What a file holds. */
export const measureFile = (path: string): Promise<StoredBlob> =>
  measureBytes(createReadStream(path, { highWaterMark: READ_BYTES }))
