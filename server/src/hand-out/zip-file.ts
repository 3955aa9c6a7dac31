import { createHash, webcrypto } from 'node:crypto'
import { once } from 'node:events'
import { createReadStream, createWriteStream } from 'node:fs'
import { finished } from 'node:stream/promises'
import { setImmediate as pause } from 'node:timers/promises'
import { constants, deflateRawSync } from 'node:zlib'
import { ZipWriter } from '@satchel/core/formats/zip/write'
import type { FileSha } from '@satchel/core/hashes'
import type { LaidFile } from '@satchel/core/pack/contents'
import { beginFile, storeBegun } from '@satchel/core/pack/issued/begun-file'
import { MARK_KINDS, markKindOf } from '@satchel/core/pack/issued/mark-kinds'
import type { Sum } from '@satchel/core/pack/sums'
import type { PackEntry } from '@satchel/core/pack/write'
import { hashOn } from '@satchel/core/sha-state'
import { nodeCrc32 } from '@satchel/node/hash'

const DEFLATE_LEVEL = 1 // masks shrink much at any level, and a release is built while somebody waits
const BUFFER_BYTES = 4 * 1024 * 1024
const SUMS_AHEAD = 8
export const zipOptions = {
  crc32: nodeCrc32,
  deflateRaw: (bytes: Uint8Array) => new Uint8Array(deflateRawSync(bytes, { level: DEFLATE_LEVEL })),
  deflateOpen: (bytes: Uint8Array) =>
    new Uint8Array(deflateRawSync(bytes, { level: DEFLATE_LEVEL, finishFlush: constants.Z_SYNC_FLUSH })),
}

/** A finished archive, with what storing it, or putting it into another, needs. */
export type BuiltFile = { path: string; crc: number; sizeBytes: number }

/** The SHA-256 of bytes, worked out beside this thread. */
async function digest(bytes: Uint8Array): Promise<FileSha> {
  return Buffer.from(await webcrypto.subtle.digest('SHA-256', bytes as Uint8Array<ArrayBuffer>)).toString(
    'hex',
  ) as FileSha
}

/** What is noted of a file for the copies that people get. */
type Noted = Pick<LaidFile, 'sha256' | 'beginning' | 'packedCrc'>

/**
 * A ZIP written straight to a file, with the checksums of its entries.
 * @param options.forCopies Whether copies of it are issued: what says whom to is put into the files then, and nothing is read
 * again.
 */
export async function openZipFile(path: string, { forCopies = false }: { forCopies?: boolean } = {}) {
  const zip = new ZipWriter(zipOptions)
  const out = createWriteStream(path, { highWaterMark: BUFFER_BYTES })
  const sums: Promise<Sum>[] = []
  const noted = new Map<string, Noted>()
  let crc = 0
  let sizeBytes = 0
  const write = async (bytes: Uint8Array) => {
    sizeBytes += bytes.length
    if (!out.write(bytes)) await once(out, 'drain')
  }
  return {
    /** The checksums of all entries so far. */
    sums: () => Promise.all(sums),
    /** Where the bytes of all entries so far lie, with what is noted of them for copies. */
    laidFiles: async (): Promise<LaidFile[]> => {
      const shas = new Map((await Promise.all(sums)).map((sum) => [sum.path, sum.sha256]))
      return zip.laid.map((entry) => {
        const sha256 = shas.get(entry.path)
        return { ...entry, ...(sha256 === undefined ? {} : { sha256 }), ...noted.get(entry.path) }
      })
    },
    async add({ path: entryPath, bytes, packing }: PackEntry) {
      const kind = forCopies ? markKindOf(entryPath) : undefined
      const begun = kind && (await beginFile(entryPath, bytes, { crc32: nodeCrc32, pause }))
      if (kind && begun) {
        const [header, first, last] = zip.addSplit(entryPath, bytes, packing, MARK_KINDS[kind].tailBytes)
        noted.set(entryPath, { beginning: storeBegun(begun, first.length), packedCrc: nodeCrc32(first) })
        sums.push(Promise.resolve({ path: entryPath, sha256: hashOn(begun.sha, begun.bytes, begun.tail) }))
        for (const part of [header, first, last]) await write(part)
        return
      }
      sums.push(digest(bytes).then((sha256) => ({ path: entryPath, sha256 })))
      // no more than a few wait to be summed, so that memory stays flat
      await sums.at(-SUMS_AHEAD)
      const [header, content] = zip.add(entryPath, bytes, packing)
      if (forCopies) noted.set(entryPath, { packedCrc: nodeCrc32(content) })
      for (const part of [header, content]) await write(part)
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
