import { uniformFloat64 } from 'pure-rand/distribution/uniformFloat64'
import { xoroshiro128plus } from 'pure-rand/generator/xoroshiro128plus'

/** Numbers from 0 to below 1, always the same ones for a seed. */
export function createDraws(seed: number, count: number): number[] {
  const generator = xoroshiro128plus(seed)
  return Array.from({ length: count }, () => uniformFloat64(generator))
}
