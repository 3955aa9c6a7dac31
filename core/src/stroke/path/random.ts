import { uniformFloat64 } from 'pure-rand/distribution/uniformFloat64'
import { xoroshiro128plus } from 'pure-rand/generator/xoroshiro128plus'

/** Uniform draws, 0 (included) to 1 (excluded), that a seed fixes bit for bit. */
export type Random = () => number

/** A generator of its own for each seed, and for each `stream` of one seed: neighbouring seeds have nothing in common. */
export function createRandom(seed: number, stream = 0): Random {
  const generator = xoroshiro128plus(scramble(seed ^ stream))
  return () => uniformFloat64(generator)
}

/**
 * Spreads a small difference over all bits: the generator alone starts alike for seeds that lie close.
 * @see The finaliser of MurmurHash3 (A. Appleby, public domain; constants from memory).
 */
function scramble(seed: number): number {
  let h = seed | 0
  h = Math.imul(h ^ (h >>> 16), 0x85ebca6b)
  h = Math.imul(h ^ (h >>> 13), 0xc2b2ae35)
  return h ^ (h >>> 16)
}
