import * as fc from 'fast-check'
import { expect, it } from 'vitest'
import { byName, byPath } from './names.ts'

it('orders names by their numbers', () => {
  const names = ['coins 1', 'coins 2', 'coins 10', 'coins 10 b', 'Coins 11', 'leaf 3-2', 'leaf 3-12', 'zebra']
  expect([...names].reverse().sort(byName)).toEqual(names)
})

it('puts what lies in a folder behind it, before any other folder', () => {
  const paths = ['Shore', 'Shore/2', 'Shore/10', 'Shore/10/a', 'Shore 2', 'Shore 2/a', 'Shore 10']
  expect([...paths].reverse().sort(byPath)).toEqual(paths)
})

it('is an order: the same from either side, of any three', () => {
  const name = fc.oneof(fc.string({ maxLength: 6 }), fc.constantFrom('a 1', 'a 01', 'A 1', 'a/1', 'a 10'))
  fc.assert(
    fc.property(name, name, name, (a, b, c) => {
      for (const compare of [byName, byPath]) {
        expect(Math.sign(compare(a, b)) + Math.sign(compare(b, a))).toBe(0)
        expect(compare(a, b) === 0).toBe(a === b)
        if (compare(a, b) < 0 && compare(b, c) < 0) expect(compare(a, c)).toBeLessThan(0)
      }
    }),
  )
})
