import { bytesToHex, hexToBytes } from '@noble/hashes/utils.js'
import { type Crc32, crc32 as plainCrc32 } from '../../formats/crc32.ts'
import { hashBeginning, type ShaState } from '../../sha-state.ts'
import type { Beginning } from '../contents.ts'
import { MARK_KINDS, markKindOf } from './mark-kinds.ts'

/** A file that is the same in every copy up to the place of its mark: what follows from that part of it alone. */
export type Begun = Pick<Beginning, 'bytes' | 'crc'> & { sha: ShaState; tail: Uint8Array }

/** @returns Nothing where no mark stands in such files, or the file is too short to be one. */
export async function beginFile(
  path: string,
  bytes: Uint8Array,
  { crc32 = plainCrc32, pause }: { crc32?: Crc32; pause?: () => Promise<void> } = {},
): Promise<Begun | undefined> {
  const kind = markKindOf(path)
  if (kind === undefined) return undefined
  const at = bytes.length - MARK_KINDS[kind].tailBytes
  if (at < 0) return undefined
  const beginning = bytes.subarray(0, at)
  return { bytes: at, crc: crc32(beginning), sha: await hashBeginning(beginning, pause), tail: bytes.slice(at) }
}

export const storeBegun = ({ bytes, crc, sha, tail }: Begun, packedBytes: number): Beginning => ({
  ...{ bytes, packedBytes, crc, words: sha.words },
  ...{ rest: bytesToHex(sha.rest), tail: bytesToHex(tail) },
})

export const openBegun = ({ bytes, crc, words, rest, tail }: Beginning): Begun => ({
  ...{ bytes, crc, sha: { words, rest: hexToBytes(rest) } },
  tail: hexToBytes(tail),
})
