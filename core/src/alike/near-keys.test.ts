import { describe, expect, it } from 'vitest'
import { createDraws } from './draws.ts'
import { findNearPairs } from './near-keys.ts'

const LENGTH = 40
const one = (key: Float32Array) => [key]

/** Keys at random, and after each third a copy of it that lies `off` away. */
function keysWithCopies(count: number, off: number): Float32Array {
  const draws = createDraws(7, count * LENGTH)
  const keys = Float32Array.from(draws, (draw) => (draw - 0.5) / 2)
  for (let k = 2; k < count; k += 3)
    for (let i = 0; i < LENGTH; i++)
      keys[k * LENGTH + i] = keys[(k - 1) * LENGTH + i] + (i % 2 ? off : -off) / Math.sqrt(LENGTH)
  return keys
}

describe('near keys', () => {
  it('are the pairs that comparing all with all finds', () => {
    const count = 600
    const keys = keysWithCopies(count, 0.15)
    const wanted: string[] = []
    for (let b = 0; b < count; b++)
      for (let a = 0; a < b; a++) {
        let squared = 0
        for (let i = 0; i < LENGTH; i++) squared += (keys[a * LENGTH + i] - keys[b * LENGTH + i]) ** 2
        if (squared <= 0.2 ** 2) wanted.push(`${a} ${b}`)
      }
    expect(wanted.length).toBe(200)
    const found = findNearPairs(keys, { length: LENGTH, radius: 0.2, most: 9, waysOf: one })
    expect(found.map((pair) => pair.join(' '))).toEqual(wanted)
  })

  it('are nearly all found where there are too many to compare all with all', () => {
    const count = 3600
    const keys = keysWithCopies(count, 0.15)
    const found = findNearPairs(keys, { length: LENGTH, radius: 0.2, most: 9, waysOf: one })
    expect(found.every(([first, second]) => second % 3 === 2 && first === second - 1)).toBe(true)
    expect(found.length).toBeGreaterThan((count / 3) * 0.97)
  })

  it('are searched for from a place on, the closest first, and only so many', () => {
    const keys = new Float32Array(5 * LENGTH)
    for (const [k, off] of [0.1, 0.02, 0.05, 0, 0].entries()) keys[k * LENGTH] = off
    const near = (most: number) => findNearPairs(keys, { length: LENGTH, radius: 0.2, most, waysOf: one, from: 3 })
    expect(near(2)).toEqual([[1, 3], [2, 3], [3, 4], [1, 4]]) // biome-ignore format: one row
    expect(near(9).length).toBe(7)
  })

  it('are found by any of the ways in which a key may lie', () => {
    const keys = new Float32Array(2 * LENGTH)
    keys[0] = 1
    keys[LENGTH] = -1
    const ways = (key: Float32Array) => [key, key.map((value) => -value)]
    expect(findNearPairs(keys, { length: LENGTH, radius: 0.1, most: 1, waysOf: one })).toEqual([])
    expect(findNearPairs(keys, { length: LENGTH, radius: 0.1, most: 1, waysOf: ways })).toEqual([[0, 1]])
  })
})
