import { combineCrc } from '../../formats/crc-combine.ts'
import { type Crc32, crc32 as plainCrc32 } from '../../formats/crc32.ts'
import { toUtf8 } from '../../formats/text.ts'
import { METHOD } from '../../formats/zip/layout.ts'
import { lengthOf, type Patchwork, type Stretch } from '../../formats/zip/part.ts'
import { lastBlock, ZipWriter, type ZipWriterOptions } from '../../formats/zip/write.ts'
import { type HashBytes, hashBytes } from '../../hashes.ts'
import { hashOn } from '../../sha-state.ts'
import type { LaidFile } from '../contents.ts'
import type { Signer } from '../signature.ts'
import type { Sum } from '../sums.ts'
import { signedSums } from '../write.ts'
import { openBegun } from './begun-file.ts'
import type { CopyMark } from './mark.ts'
import { MARK_KINDS, type MarkKindName, markKindOf, putMark } from './mark-kinds.ts'
import { RELEASED_PATHS } from './released-paths.ts'

/** Files that are planned between two looks at something else. */
const AT_ONCE = 100

export type CopyTools = ZipWriterOptions & {
  /** Signs the checksums of the copy. */
  signer: Signer
  hash?: HashBytes
  /** Waited for now and then: somebody else's turn. */
  pause?: () => Promise<void>
}

/** What a copy is made of: files of a release's download, and where its Satchel pack has its own. */
export type CopySource = {
  files: readonly LaidFile[]
  /** Files that are new in it. */
  texts: readonly { path: string; text: string }[]
  satchelPath: string
  inner: readonly LaidFile[]
}

/**
 * An archive as one person has it: every file that has a place for it says whom it was issued to, and what is signed then is
 * signed beside what was released. Nothing of the release is read, packed or hashed again: the plan costs some bytes a file,
 * however large it is.
 * @throws {FormatError | LimitError} As `ZipWriter`.
 */
export async function planCopy(source: CopySource, mark: CopyMark, tools: CopyTools): Promise<Patchwork> {
  const { stretches } = await layCopy(source, mark, tools, 0)
  return { stretches, sizeBytes: sum(stretches) }
}

/** The Satchel pack of a copy, alone. @param at Where it lies in the download. */
export async function planPackCopy(
  inner: readonly LaidFile[],
  mark: CopyMark,
  tools: CopyTools,
  at: number,
): Promise<Patchwork> {
  const { stretches } = await layCopy({ files: inner, texts: [], satchelPath: '', inner: [] }, mark, tools, at)
  return { stretches, sizeBytes: sum(stretches) }
}

/** One file of a copy, that lies in the download as it is. */
export function planFileCopy(file: LaidFile, mark: CopyMark, crc32?: Crc32): Patchwork {
  const stretches = markedFile(file, new MarkBytes(mark, crc32), file.at)?.stretches ?? [
    { at: file.at, length: file.packedBytes },
  ]
  return { stretches, sizeBytes: sum(stretches) }
}

const sum = (stretches: readonly Stretch[]): number => stretches.reduce((all, each) => all + lengthOf(each), 0)

/** What stands in files of each kind: written once, and shared by all of them. */
class MarkBytes {
  readonly #mark: CopyMark
  readonly #crc32: Crc32
  readonly #written = new Map<string, Uint8Array>()

  constructor(mark: CopyMark, crc32: Crc32 = plainCrc32) {
    this.#mark = mark
    this.#crc32 = crc32
  }

  /** The mark of a kind, and what follows it in the file. */
  with(kind: MarkKindName, tail: Uint8Array, isPacked: boolean): Uint8Array {
    // what follows is always the same in files of a kind
    const key = `${kind} ${isPacked} ${tail.length}`
    const known = this.#written.get(key)
    if (known) return known
    const said = MARK_KINDS[kind].write(this.#mark, this.#crc32)
    const bytes = new Uint8Array(said.length + tail.length)
    bytes.set(said)
    bytes.set(tail, said.length)
    const made = isPacked ? lastBlock(bytes) : bytes
    this.#written.set(key, made)
    return made
  }
}

type Laid = {
  stretches: Stretch[]
  /** The CRC of all of it, as it is in the file. */
  crc: number
}

/** A file with its mark: where its bytes are, and what they come to; nothing where it has no place for one. */
function markedFile({ path, method, beginning }: LaidFile, marks: MarkBytes, at: number) {
  const kind = markKindOf(path)
  if (!beginning || kind === undefined) return undefined
  const begun = openBegun(beginning)
  const end = marks.with(kind, begun.tail, false)
  const packedEnd = method === METHOD.stored ? end : marks.with(kind, begun.tail, true)
  return {
    stretches: [{ at, length: beginning.packedBytes }, { bytes: packedEnd }] satisfies Stretch[],
    begun,
    end,
    packedEnd,
    sizeBytes: begun.bytes + end.length,
    packedBytes: beginning.packedBytes + packedEnd.length,
  }
}

async function layCopy(source: CopySource, mark: CopyMark, tools: CopyTools, base: number): Promise<Laid> {
  const { crc32 = plainCrc32, hash = hashBytes, signer, pause } = tools
  const zip = new ZipWriter(tools)
  const marks = new MarkBytes(mark, crc32)
  const out: Laid = { stretches: [], crc: 0 }
  const sums: Sum[] = []
  const put = (stretch: Stretch, crc: number) => {
    const length = lengthOf(stretch)
    if (length === 0) return
    out.stretches.push(stretch)
    out.crc = combineCrc(out.crc, crc, length)
  }
  const write = (bytes: Uint8Array) => put({ bytes }, crc32(bytes))
  for (const { path, text } of source.texts) {
    const bytes = putMark(path, toUtf8(text), mark, crc32)
    sums.push({ path, sha256: hash(bytes) })
    for (const part of zip.add(path, bytes, 'deflate')) write(part)
  }
  for (const [i, file] of source.files.entries()) {
    if (pause && i % AT_ONCE === AT_ONCE - 1) await pause()
    const { path, method } = file
    const at = base + file.at
    if (path === source.satchelPath) {
      const { stretches, crc } = await layCopy(
        { ...source, files: source.inner, texts: [], satchelPath: '' },
        mark,
        tools,
        at,
      )
      // it has checksums of its own, signed by the same; over all of it they would cost a reading of it a copy
      write(zip.addStored(path, { crc, sizeBytes: sum(stretches) }))
      out.stretches.push(...stretches)
      out.crc = combineCrc(out.crc, crc, sum(stretches))
      continue
    }
    const marked = markedFile(file, marks, at)
    if (!marked) {
      // what was signed then stays beside what is signed now
      const name = RELEASED_PATHS.get(path) ?? path
      if (file.sha256 !== undefined) sums.push({ path: name, sha256: file.sha256 })
      write(zip.addPacked(name, file))
      put({ at, length: file.packedBytes }, file.packedCrc ?? file.crc)
      continue
    }
    const { begun, end, packedEnd, sizeBytes, packedBytes } = marked
    const crc = combineCrc(begun.crc, crc32(end), end.length)
    sums.push({ path, sha256: hashOn(begun.sha, begun.bytes, end) })
    write(zip.addPacked(path, { method, crc, packedBytes, sizeBytes }))
    put({ at, length: packedBytes - packedEnd.length }, method === METHOD.stored ? begun.crc : (file.packedCrc ?? 0))
    write(packedEnd)
  }
  for (const { path, bytes, packing } of signedSums(sums, signer))
    for (const part of zip.add(path, bytes, packing)) write(part)
  for (const part of zip.finish()) write(part)
  return out
}
