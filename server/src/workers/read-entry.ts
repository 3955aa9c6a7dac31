import { type FileHandle, open, writeFile } from 'node:fs/promises'
import type { PaintReading } from '@satchel/core/brush/recipe'
import { HEAD_BYTES, sniffKind } from '@satchel/core/brush-file/kinds'
import { LimitError } from '@satchel/core/errors'
import type { ByteSource, ZipEntry } from '@satchel/core/formats/zip/layout'
import { listZip, locateStoredEntry, readZipEntry } from '@satchel/core/formats/zip/read'
import { ENTRY_MEMORY_MAX_BYTES } from '@satchel/core/limits'
import { type BrushSettings, readBrushSettings } from '@satchel/core/loose-ends/references'
import { isSatchelPack, openPack } from '@satchel/core/pack/read'
import { findSigner } from '@satchel/core/pack/signer'
import { nodeHashBytes, nodeZipCodecs } from '@satchel/node/hash'
import { checkSignature } from '@satchel/node/signature'
import { readTip } from './read-tip.ts'
import { orRefused } from './refused.ts'
import type { FilePart, OpenedArchive, ReadEntry } from './results.ts'
import type { Tasks } from './tasks.ts'

/** Settings are short texts: what is longer is none. */
const SETTINGS_MAX_BYTES = 256 * 1024
const OPENING_BRACE = 0x7b
const SIGNER_TOOLS = { codecs: nodeZipCodecs, hash: nodeHashBytes, checkSignature }

/** A part of a file as a source, as long as `use` lasts. */
async function withSource<Result>(part: FilePart, use: (source: ByteSource) => Promise<Result>): Promise<Result> {
  const handle = await open(part.path)
  try {
    return await use(toSource(handle, part))
  } finally {
    await handle.close()
  }
}

const toSource = (handle: FileHandle, { from, sizeBytes }: FilePart): ByteSource => ({
  size: sizeBytes,
  read: async (offset, length) => {
    const bytes = new Uint8Array(Math.max(0, Math.min(length, sizeBytes - offset)))
    const { bytesRead } = await handle.read(bytes, 0, bytes.length, from + offset)
    return bytes.subarray(0, bytesRead)
  },
})

export const readEntry: Tasks['readEntry'] = ({ part, entry, reading }) =>
  withSource(part, (source) => readFrom(source, part, { entry, reading }))

export const readEntries: Tasks['readEntries'] = ({ part, entries }) =>
  withSource(part, async (source) => {
    const read: (ReadEntry | { refused: string })[] = []
    const ahead = readAhead(source)
    for (const entry of entries) read.push(await orRefused(() => readFrom(ahead, part, { entry })))
    return read
  })

/** What is read at once of small entries, which lie one behind another. */
const AHEAD_BYTES = 256 * 1024

/** A source that is asked for little pieces one behind another: they come out of larger ones. */
function readAhead(source: ByteSource): ByteSource {
  let from = 0
  let held: Uint8Array = new Uint8Array()
  return {
    size: source.size,
    read: async (offset, length) => {
      if (length > AHEAD_BYTES) return source.read(offset, length)
      if (offset < from || offset + length > from + held.length) {
        held = await source.read(offset, AHEAD_BYTES)
        from = offset
      }
      // their own memory: what is made of them may outlive the piece
      return held.slice(offset - from, offset - from + length)
    },
  }
}

async function readFrom(
  source: ByteSource,
  part: FilePart,
  { entry, reading }: { entry?: ZipEntry | undefined; reading?: PaintReading | undefined },
): Promise<ReadEntry> {
  const inner = entry && (await locateStoredEntry(source, entry))
  const place = entry ? inner !== undefined && { ...part, from: part.from + inner, sizeBytes: entry.sizeBytes } : part
  // an archive that lies there as it is needs not be taken into memory
  if (place && (await isArchive(toPlace(source, part, place)))) return { outcome: 'archive', part: place }
  const bytes = entry ? await readZipEntry(source, entry, nodeZipCodecs) : await readWhole(source)
  if (sniffKind(bytes.subarray(0, HEAD_BYTES)) === 'zip') return { outcome: 'archive', part: undefined }
  const settings = toSettings(bytes)
  return settings ? { outcome: 'settings', settings } : readTip({ bytes, ...(reading ? { reading } : {}) })
}

const toPlace = (source: ByteSource, whole: FilePart, place: FilePart): ByteSource => ({
  size: place.sizeBytes,
  read: (offset, length) =>
    source.read(place.from - whole.from + offset, Math.max(0, Math.min(length, place.sizeBytes - offset))),
})

const isArchive = async (source: ByteSource) =>
  sniffKind(await source.read(0, Math.min(HEAD_BYTES, source.size))) === 'zip'

async function readWhole(source: ByteSource): Promise<Uint8Array> {
  if (source.size > ENTRY_MEMORY_MAX_BYTES)
    throw new LimitError('its size in bytes', source.size, ENTRY_MEMORY_MAX_BYTES)
  return source.read(0, source.size)
}

const toSettings = (bytes: Uint8Array): BrushSettings | undefined =>
  bytes.length <= SETTINGS_MAX_BYTES && bytes[0] === OPENING_BRACE ? readBrushSettings('', bytes) : undefined

/** An entry of an archive in memory. */
export const readBytes = (part: FilePart, entry: ZipEntry): Promise<Uint8Array> =>
  withSource(part, (source) => readZipEntry(source, entry, nodeZipCodecs))

export const openArchive: Tasks['openArchive'] = ({ part }) =>
  orRefused(() =>
    withSource(part, async (source): Promise<OpenedArchive> => {
      const entries: ZipEntry[] = await listZip(source)
      if (!isSatchelPack(entries)) return { entries, manifest: undefined }
      const { manifest } = await openPack(source, nodeZipCodecs, entries)
      const signer = await findSigner(source, entries, SIGNER_TOOLS)
      return { entries, manifest, ...(signer === undefined ? {} : { signer }) }
    }),
  )

export const unpackEntry: Tasks['unpackEntry'] = ({ part, entry, to }) =>
  orRefused(() =>
    withSource(part, async (source) => {
      await writeFile(to, await readZipEntry(source, entry, nodeZipCodecs), { flag: 'wx' })
      return {}
    }),
  )
