import { toUtf8 } from '../text.ts'
import type { LaidEntry } from './layout.ts'
import { ZipWriter, type ZipWriterOptions } from './write.ts'

/** A stretch of a file that is not written anywhere as a whole: bytes at hand, or bytes of another file. */
export type Stretch = { bytes: Uint8Array } | { at: number; length: number }

/** A file made of stretches, in order. */
export type Patchwork = { stretches: Stretch[]; sizeBytes: number }

export const lengthOf = (stretch: Stretch): number => ('bytes' in stretch ? stretch.bytes.length : stretch.length)

/**
 * An archive of some entries of another one. Their packed bytes are taken over as they lie there, so nothing is packed
 * again: the plan costs a header an entry, whatever their size.
 * @param entries What is taken over, in order. @param texts Files that are new, written first; packed here.
 * @throws {FormatError} For a name that is there twice. @throws {LimitError} For too many entries.
 */
export function planZipPart(
  entries: readonly LaidEntry[],
  texts: readonly { path: string; text: string }[],
  options: ZipWriterOptions = {},
): Patchwork {
  const zip = new ZipWriter(options)
  const stretches: Stretch[] = []
  for (const { path, text } of texts)
    for (const bytes of zip.add(path, toUtf8(text), 'deflate')) stretches.push({ bytes })
  for (const { path, at, ...packed } of entries) {
    stretches.push({ bytes: zip.addPacked(path, packed) })
    if (packed.packedBytes > 0) stretches.push({ at, length: packed.packedBytes })
  }
  for (const bytes of zip.finish()) stretches.push({ bytes })
  return { stretches, sizeBytes: stretches.reduce((sum, each) => sum + lengthOf(each), 0) }
}
