import { createHash } from 'node:crypto'
import { once } from 'node:events'
import { createReadStream, createWriteStream } from 'node:fs'
import { finished } from 'node:stream/promises'
import { deflateRawSync } from 'node:zlib'
import { ZipWriter } from '@satchel/core/formats/zip/write'
import type { PackEntry } from '@satchel/core/pack/entries'
import type { Sum } from '@satchel/core/pack/sums'
import { nodeCrc32, nodeSha256 } from '../workers/codec.ts'

const DEFLATE_LEVEL = 1 // masks shrink much at any level, and a release is built while somebody waits
const zipOptions = {
  crc32: nodeCrc32,
  deflateRaw: (bytes: Uint8Array) => new Uint8Array(deflateRawSync(bytes, { level: DEFLATE_LEVEL })),
}

/** A finished archive, with what storing it, or putting it into another, needs. */
export type BuiltFile = { path: string; sha256: string; crc: number; sizeBytes: number }

/** A ZIP written straight to a file, with the checksums of its entries and of itself. */
export async function openZipFile(path: string) {
  const zip = new ZipWriter(zipOptions)
  const out = createWriteStream(path)
  const hash = createHash('sha256')
  const sums: Sum[] = []
  let crc = 0
  let sizeBytes = 0
  const write = async (bytes: Uint8Array) => {
    hash.update(bytes)
    crc = nodeCrc32(bytes, crc)
    sizeBytes += bytes.length
    if (!out.write(bytes)) await once(out, 'drain')
  }
  return {
    sums,
    async add({ path: entryPath, bytes, packing }: PackEntry) {
      sums.push({ path: entryPath, sha256: nodeSha256(bytes) })
      for (const part of zip.add(entryPath, bytes, packing)) await write(part)
    },
    /** Stores a file whose checksum is known, without holding it in memory. */
    async addFile(entryPath: string, file: BuiltFile) {
      sums.push({ path: entryPath, sha256: file.sha256 })
      await write(zip.addStored(entryPath, { crc: file.crc, sizeBytes: file.sizeBytes }))
      for await (const chunk of createReadStream(file.path)) await write(chunk)
    },
    async finish(): Promise<BuiltFile> {
      for (const part of zip.finish()) await write(part)
      out.end()
      await finished(out)
      return { path, sha256: hash.digest('hex'), crc, sizeBytes }
    },
  }
}
