import { expect, it } from 'vitest'
import { formatBytes, formatDay, formatLastDay, plural } from './format.ts'

it('tells sizes and counts as a person would', () => {
  expect([0, 1, 1023, 1024, 2_621_440, 300 * 1024 ** 2, 1.5 * 1024 ** 3].map(formatBytes)).toEqual([
    '0 B',
    '1 B',
    '1023 B',
    '1 KiB',
    '2.5 MiB',
    '300 MiB',
    '1.5 GiB',
  ])
  expect([plural(1, 'brush', 'brushes'), plural(1200, 'brush', 'brushes'), plural(0, 'set')]).toEqual([
    '1 brush',
    '1,200 brushes',
    '0 sets',
  ])
})

it('tells days, and the last one of a time that ends as a day begins', () => {
  expect(formatDay(new Date(2031, 0, 31, 12))).toBe('31 January 2031')
  expect(formatLastDay(new Date(2031, 1, 1).toISOString())).toBe('31 January 2031')
  expect(formatLastDay(new Date(2031, 1, 1, 8).toISOString())).toBe('1 February 2031')
})
