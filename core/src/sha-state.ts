import { _SHA256 } from '@noble/hashes/sha2.js'
import { bytesToHex, hexToBytes } from '@noble/hashes/utils.js'
import type { FileSha } from './hashes.ts'

const BLOCK_BYTES = 64
const WORDS = 8

/** A SHA-256 that was worked out half way: its eight words after whole blocks, as hex, and the bytes behind those. */
export type ShaState = { words: string; rest: Uint8Array }

/** SHA-256 that can be left after a block and gone on with, as FIPS 180-4 (6.2.2) works it out block by block. */
class Halfway extends _SHA256 {
  words(): number[] {
    return this.get()
  }

  goOn(words: readonly number[], bytesBefore: number): void {
    const [a = 0, b = 0, c = 0, d = 0, e = 0, f = 0, g = 0, h = 0] = words
    this.set(a, b, c, d, e, f, g, h)
    this.length = bytesBefore
    this.pos = 0
  }
}

/** Bytes between two looks at something else. */
const AT_ONCE_BYTES = 64 * 1024

/**
 * Works out as much of the hash of a file as follows from its beginning alone.
 * @param pause Waited for now and then: somebody else's turn.
 */
export async function hashBeginning(bytes: Uint8Array, pause?: () => Promise<void>): Promise<ShaState> {
  const hash = new Halfway()
  const whole = bytes.length - (bytes.length % BLOCK_BYTES)
  for (let at = 0; at < whole; at += AT_ONCE_BYTES) {
    if (at > 0) await pause?.()
    hash.update(bytes.subarray(at, Math.min(whole, at + AT_ONCE_BYTES)))
  }
  const words = new Uint8Array(4 * WORDS)
  const view = new DataView(words.buffer)
  for (const [i, word] of hash.words().entries()) view.setInt32(4 * i, word)
  return { words: bytesToHex(words), rest: bytes.slice(whole) }
}

/**
 * The hash of a file that goes on otherwise.
 * @param beginningBytes How long the beginning was. @param more What stands behind it.
 */
export function hashOn({ words, rest }: ShaState, beginningBytes: number, ...more: readonly Uint8Array[]): FileSha {
  const hash = new Halfway()
  const view = new DataView(hexToBytes(words).buffer)
  hash.goOn(
    Array.from({ length: WORDS }, (_, i) => view.getInt32(4 * i)),
    beginningBytes - rest.length,
  )
  hash.update(rest)
  for (const part of more) hash.update(part)
  return bytesToHex(hash.digest()) as FileSha
}
