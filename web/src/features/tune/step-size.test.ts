import { expect, it } from 'vitest'
import { stepSize } from './step-size.ts'

it('grows and shrinks by a tenth, at least one px, within what a recipe may hold', () => {
  expect([stepSize(100, 1), stepSize(100, -1)]).toEqual([110, 91])
  expect([stepSize(3, 1), stepSize(3, -1)]).toEqual([4, 2])
  expect([stepSize(1, -1), stepSize(4096, 1)]).toEqual([1, 4096])
})
