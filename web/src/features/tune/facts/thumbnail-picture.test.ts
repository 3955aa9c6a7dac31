import { expect, it } from 'vitest'
import { linings } from './thumbnail-picture.ts'

it('words stand on one line, or on two with a break at any of their spaces', () => {
  expect(linings('Reed')).toEqual([['Reed']])
  expect(linings(' Soft  reed tip ')).toEqual([['Soft reed tip'], ['Soft', 'reed tip'], ['Soft reed', 'tip']])
})
