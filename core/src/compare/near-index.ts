import type { NearHash } from './near-hash.ts'

/** Most differing bits between two gradient hashes of near duplicates. */
export const NEAR_BITS_MAX = 6
/** Most mean difference of two signatures, in levels of 255, that confirms a near duplicate; found by trial. */
export const NEAR_LEVELS_MAX = 14

/** What is found: the entry's id and how far it is off. */
export type NearMatch<Id> = { id: Id; bits: number; levels: number }

/**
 * Finds near duplicates among many. Two hashes at most 6 bits apart share at least two of their eight bytes, so only
 * entries that share a byte in its place are compared.
 */
export class NearIndex<Id> {
  readonly #entries: { id: Id; hash: NearHash }[] = []
  readonly #buckets = new Map<number, number[]>()

  add(id: Id, hash: NearHash): void {
    const entry = this.#entries.push({ id, hash }) - 1
    for (const key of byteKeys(hash.bits)) {
      const bucket = this.#buckets.get(key)
      if (bucket) bucket.push(entry)
      else this.#buckets.set(key, [entry])
    }
  }

  /** The closest confirmed near duplicate, or undefined. */
  find(hash: NearHash): NearMatch<Id> | undefined {
    let best: NearMatch<Id> | undefined
    const seen = new Set<number>()
    for (const key of byteKeys(hash.bits)) {
      for (const index of this.#buckets.get(key) ?? []) {
        if (seen.has(index)) continue
        seen.add(index)
        const entry = this.#entries[index]
        const bits = countDifferingBits(hash.bits, entry.hash.bits)
        if (bits > NEAR_BITS_MAX) continue
        const levels = meanDifference(hash.signature, entry.hash.signature)
        if (levels <= NEAR_LEVELS_MAX && (!best || levels < best.levels)) best = { id: entry.id, bits, levels }
      }
    }
    return best
  }
}

function* byteKeys(bits: string): Generator<number> {
  for (let b = 0; b < 8; b++) yield (b << 8) | Number.parseInt(bits.slice(2 * b, 2 * b + 2), 16)
}

/** Hamming distance of two hashes of 16 hex digits. */
export function countDifferingBits(a: string, b: string): number {
  let count = 0
  for (let i = 0; i < 16; i += 8) {
    let differ = Number.parseInt(a.slice(i, i + 8), 16) ^ Number.parseInt(b.slice(i, i + 8), 16)
    for (; differ !== 0; differ &= differ - 1) count++
  }
  return count
}

function meanDifference(a: Uint8Array, b: Uint8Array): number {
  let sum = 0
  for (let i = 0; i < a.length; i++) sum += Math.abs(a[i] - b[i])
  return sum / a.length
}
