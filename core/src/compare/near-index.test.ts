import { describe, expect, it } from 'vitest'
import type { NearHash } from './near-hash.ts'
import { countDifferingBits, NEAR_BITS_MAX, NEAR_LEVELS_MAX, NearIndex } from './near-index.ts'

const hash = (bits: string, level: number): NearHash => ({ bits, signature: new Uint8Array(64).fill(level) })
const ZERO = '0'.repeat(16)
const indexOf = (...entries: [string, NearHash][]) => {
  const index = new NearIndex<string>()
  for (const [id, each] of entries) index.add(id, each)
  return index
}

describe('look-alikes', () => {
  it('are six bits apart at most, and fourteen levels', () => {
    expect([NEAR_BITS_MAX, NEAR_LEVELS_MAX]).toEqual([6, 14])
    const index = indexOf(['tip', hash(ZERO, 100)])
    expect(index.find(hash('000000000000003f', 100))).toEqual({ id: 'tip', bits: 6, levels: 0 })
    expect(index.find(hash('000000000000007f', 100))).toBeUndefined()
    expect(index.find(hash(ZERO, 114))).toEqual({ id: 'tip', bits: 0, levels: 14 })
    expect(index.find(hash(ZERO, 86))).toMatchObject({ levels: 14 })
    expect(index.find(hash(ZERO, 115))).toBeUndefined()
    expect(index.find(hash(ZERO, 85))).toBeUndefined()
  })

  it('are found wherever their bits differ, and the closest is taken', () => {
    const index = indexOf(['far', hash(ZERO, 108)], ['near', hash(ZERO, 103)], ['other', hash('f'.repeat(16), 100)])
    for (let bit = 0; bit < 64; bit++) {
      const bits = (1n << BigInt(bit)).toString(16).padStart(16, '0')
      expect(index.find(hash(bits, 100)), bits).toEqual({ id: 'near', bits: 1, levels: 3 })
      expect(countDifferingBits(bits, ZERO)).toBe(1)
    }
    expect(countDifferingBits('f'.repeat(16), ZERO)).toBe(64)
  })
})
