import { describe, expect, it } from 'vitest'
import { distanceThirds } from './distance.ts'

const side = 61
const outsideAt = (x: number, y: number) => {
  const isSet = new Uint8Array(side * side).fill(1)
  isSet[y * side + x] = 0
  return isSet
}

describe('distanceThirds', () => {
  it('is within 8 % of the true distance to the only pixel outside', () => {
    const distance = distanceThirds(outsideAt(20, 33), side, side, { beyond: 'mask' })
    for (let y = 0; y < side; y++)
      for (let x = 0; x < side; x++) {
        const wanted = Math.hypot(x - 20, y - 33)
        expect(Math.abs(distance[y * side + x] / 3 - wanted)).toBeLessThanOrEqual(0.081 * wanted)
      }
  })

  it('counts the border as outside, or not', () => {
    const all = new Uint8Array(side * side).fill(1)
    expect(distanceThirds(all, side, side)[30 * side + 2]).toBe(9)
    expect(distanceThirds(all, side, side, { beyond: 'mask' })[30 * side + 2]).toBeGreaterThan(3 * side)
    expect(new Set(distanceThirds(new Uint8Array(9), 3, 3))).toEqual(new Set([0]))
  })
})
