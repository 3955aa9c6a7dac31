import { expect, it } from 'vitest'
import type { Difference } from '../alike/differences.ts'
import { describeSame, SAME_KIND_NAMES, SAME_KINDS, sameKindOf } from './kinds.ts'

it('tells the kinds apart, the closest first, by what a painter sees', () => {
  const size: Difference = { kind: 'smaller', amount: [60, 80] }
  expect(sameKindOf({ differs: undefined, isSameRecipe: true })).toBe('whole')
  expect(sameKindOf({ differs: undefined, isSameRecipe: false })).toBe('picture')
  expect(sameKindOf({ differs: [size, { kind: 'margin' }], isSameRecipe: true })).toBe('mark')
  expect(sameKindOf({ differs: [size, { kind: 'mirrored' }], isSameRecipe: true })).toBe('shape')
  expect(SAME_KIND_NAMES).toEqual(Object.keys(SAME_KINDS))
})

it('says how a brush stands to the other one', () => {
  expect(describeSame({ differs: undefined, isSameRecipe: true })).toBe('The same in all but its name')
  expect(describeSame({ differs: undefined, isSameRecipe: false })).toBe('The same picture, painting in another way')
  expect(describeSame({ differs: [{ kind: 'frames', amount: [1, 8] }], isSameRecipe: true })).toBe(
    'Same shape, one picture instead of 8 frames',
  )
})
