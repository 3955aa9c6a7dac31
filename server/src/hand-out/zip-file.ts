import { createHash, webcrypto } from 'node:crypto'
import { once } from 'node:events'
import { createReadStream, createWriteStream } from 'node:fs'
import { finished } from 'node:stream/promises'
import { deflateRawSync } from 'node:zlib'
import { ZipWriter } from '@satchel/core/formats/zip/write'
import type { FileSha } from '@satchel/core/hashes'
import type { Sum } from '@satchel/core/pack/sums'
import type { PackEntry } from '@satchel/core/pack/write'
import { nodeCrc32 } from '@satchel/node/hash'

const DEFLATE_LEVEL = 1 // masks shrink much at any level, and a release is built while somebody waits
const BUFFER_BYTES = 4 * 1024 * 1024
const SUMS_AHEAD = 8
const zipOptions = {
  crc32: nodeCrc32,
  deflateRaw: (bytes: Uint8Array) => new Uint8Array(deflateRawSync(bytes, { level: DEFLATE_LEVEL })),
}

/** A finished archive, with what storing it, or putting it into another, needs. */
export type BuiltFile = { path: string; crc: number; sizeBytes: number }

/** The SHA-256 of bytes, worked out beside this thread. */
async function digest(bytes: Uint8Array): Promise<FileSha> {
  return Buffer.from(await webcrypto.subtle.digest('SHA-256', bytes as Uint8Array<ArrayBuffer>)).toString(
    'hex',
  ) as FileSha
}

/** A ZIP written straight to a file, with the checksums of its entries. */
export async function openZipFile(path: string) {
  const zip = new ZipWriter(zipOptions)
  const out = createWriteStream(path, { highWaterMark: BUFFER_BYTES })
  const sums: Promise<Sum>[] = []
  let crc = 0
  let sizeBytes = 0
  const write = async (bytes: Uint8Array) => {
    sizeBytes += bytes.length
    if (!out.write(bytes)) await once(out, 'drain')
  }
  return {
    /** Where the bytes of all entries so far lie. */
    laid: () => zip.laid,
    /** The checksums of all entries so far. */
    sums: () => Promise.all(sums),
    async add({ path: entryPath, bytes, packing }: PackEntry) {
      sums.push(digest(bytes).then((sha256) => ({ path: entryPath, sha256 })))
      // no more than a few wait to be summed, so that memory stays flat
      await sums.at(-SUMS_AHEAD)
      for (const part of zip.add(entryPath, bytes, packing)) await write(part)
    },
    /** Stores a file without holding it in memory. */
    async addFile(entryPath: string, file: BuiltFile) {
      const hash = createHash('sha256')
      await write(zip.addStored(entryPath, file))
      for await (const chunk of createReadStream(file.path)) {
        hash.update(chunk)
        await write(chunk)
      }
      sums.push(Promise.resolve({ path: entryPath, sha256: hash.digest('hex') as FileSha }))
    },
    /** @param options.crc Whether the archive's own checksum is wanted, to put it into another. */
    async finish({ crc: wanted = false } = {}): Promise<BuiltFile> {
      for (const part of zip.finish()) await write(part)
      out.end()
      await finished(out)
      if (wanted) for await (const chunk of createReadStream(path)) crc = nodeCrc32(chunk, crc)
      return { path, crc, sizeBytes }
    },
  }
}
