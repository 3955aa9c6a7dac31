import { describe, expect, it } from 'vitest'
import { blurBytes } from './blur.ts'

describe('blurBytes', () => {
  it.each([0.8, 2, 5.3])('spreads a point over the deviation that was asked for: %f px', (deviationPx) => {
    const side = 81
    const data = new Uint8Array(side * side)
    // a line, so that its spread is not lost in rounding
    for (let y = 0; y < side; y++) data[y * side + 40] = 255
    const row = blurBytes(data, side, side, deviationPx).subarray(40 * side, 41 * side)
    const sum = row.reduce((a, b) => a + b, 0)
    const variance = row.reduce((a, value, x) => a + value * (x - 40) ** 2, 0) / sum
    expect(Math.abs(Math.sqrt(variance) - deviationPx)).toBeLessThan(0.12 * deviationPx)
    expect(Math.abs(sum - 255)).toBeLessThan(12)
  })

  it('leaves an even picture even, to its border', () => {
    expect(new Set(blurBytes(new Uint8Array(63).fill(77), 9, 7, 3))).toEqual(new Set([77]))
  })
})
