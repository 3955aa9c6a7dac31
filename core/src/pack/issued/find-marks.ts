import { FormatError, LimitError } from '../../errors.ts'
import type { ByteSource } from '../../formats/zip/layout.ts'
import { listZip, openStoredEntry, readZipEntry, type ZipCodecs } from '../../formats/zip/read.ts'
import { ARCHIVE_NESTING_MAX } from '../../limits.ts'
import { PACK_EXTENSION } from '../manifest.ts'
import { type CopyMark, isSameMark } from './mark.ts'
import { MARK_KIND_NAMES, MARK_KINDS, markKindOf, takeMark } from './mark-kinds.ts'

/** Files of an archive that are looked into; all of a copy say the same, and mixed ones show at once. */
const FILES_MAX = 400
/** A file that says whom it was issued to is no larger. */
const FILE_MAX_BYTES = 64 * 1024 * 1024
/** Marks that are told. */
const MARKS_MAX = 20

export type FoundCopies = {
  /** Each once, in the order in which they were found. */
  marks: CopyMark[]
  /** How many files were looked into, and how many could say it. */
  looked: number
}

/**
 * Whom a file was issued to: an archive of any part, or one file of it, whatever it is called by now.
 * @throws {FormatError | LimitError} For an archive that cannot be read.
 */
export async function findMarks(name: string, source: ByteSource, codecs: ZipCodecs = {}): Promise<FoundCopies> {
  const found: FoundCopies = { marks: [], looked: 0 }
  await lookInto({ name, source, codecs, depth: 1 }, found)
  return found
}

type Looking = { name: string; source: ByteSource; codecs: ZipCodecs; depth: number }

function note(found: FoundCopies, mark: CopyMark | undefined): void {
  if (mark && found.marks.length < MARKS_MAX && !found.marks.some((known) => isSameMark(known, mark)))
    found.marks.push(mark)
}

async function lookInto({ name, source, codecs, depth }: Looking, found: FoundCopies): Promise<void> {
  if (!(await isZip(source))) {
    if (source.size > FILE_MAX_BYTES) return
    const bytes = await source.read(0, source.size)
    found.looked++
    // it may be called otherwise by now: every kind is tried, its own first
    const own = takeMark(name, bytes)?.mark
    const others = MARK_KIND_NAMES.map((kind) => MARK_KINDS[kind].find(bytes)?.mark)
    note(found, own ?? others.find((mark) => mark !== undefined))
    return
  }
  const entries = await listZip(source, { unpackedMaxBytes: Number.POSITIVE_INFINITY })
  for (const entry of entries) {
    if (found.looked >= FILES_MAX || found.marks.length >= MARKS_MAX) return
    try {
      if (entry.path.endsWith(PACK_EXTENSION) && depth < ARCHIVE_NESTING_MAX) {
        const stored = await openStoredEntry(source, entry)
        if (stored) await lookInto({ name: entry.path, source: stored, codecs, depth: depth + 1 }, found)
        continue
      }
      if (markKindOf(baseOf(entry.path)) === undefined || entry.sizeBytes > FILE_MAX_BYTES) continue
      const bytes = await readZipEntry(source, entry, codecs)
      found.looked++
      note(found, takeMark(baseOf(entry.path), bytes)?.mark)
    } catch (error) {
      // a damaged file says nothing; the others may
      if (!(error instanceof FormatError || error instanceof LimitError)) throw error
    }
  }
}

const baseOf = (path: string) => path.slice(path.lastIndexOf('/') + 1)

const ZIP_BEGINS = [0x50, 0x4b] as const
async function isZip(source: ByteSource): Promise<boolean> {
  const begin = source.size < 4 ? undefined : await source.read(0, 4)
  return begin !== undefined && ZIP_BEGINS.every((byte, i) => begin[i] === byte)
}
