import fc from 'fast-check'
import { expect, test } from 'vitest'
import { PAGE_LINES, PAGE_STEP, pagesOf, placeIn } from './list-pages.ts'

const LINES_IN_VIEW = fc.integer({ min: 1, max: 300 })
const FIRST_LINE = fc.integer({ min: 0, max: 10_000_000 })

test('each line of a part lies in one of its pages, and none of them could be left out', () => {
  fc.assert(
    fc.property(FIRST_LINE, LINES_IN_VIEW, (from, lines) => {
      const span = { from, to: from + lines }
      const pages = pagesOf(span)
      const holds = (some: readonly number[], line: number) => some.some((page) => placeIn(page, line) !== undefined)
      for (let line = span.from; line < span.to; line++) expect(holds(pages, line)).toBe(true)
      for (const left of pages) {
        const others = pages.filter((page) => page !== left)
        expect(Array.from({ length: lines }, (_, i) => from + i).every((line) => holds(others, line))).toBe(false)
      }
    }),
  )
})

test('what fits a screen takes one page wherever it lies', () => {
  fc.assert(
    fc.property(FIRST_LINE, fc.integer({ min: 1, max: PAGE_LINES - PAGE_STEP + 1 }), (from, lines) => {
      expect(pagesOf({ from, to: from + lines })).toHaveLength(1)
    }),
  )
})

test('a part of no lines, as before the first is known, takes the page that it begins in', () => {
  expect(pagesOf({ from: 0, to: 0 })).toEqual([0])
  expect(pagesOf({ from: 125, to: 125 })).toEqual([2])
})

test('a page holds its own lines and the beginning of the next', () => {
  expect(placeIn(2, 119)).toBeUndefined()
  expect(placeIn(2, 120)).toBe(0)
  expect(placeIn(2, 219)).toBe(99)
  expect(placeIn(2, 220)).toBeUndefined()
})
