import { describe, expect, it } from 'vitest'
import { contentDisposition, parseRange } from './range.ts'

describe('ranges (RFC 9110, section 14.1.2 examples for 10,000 bytes)', () => {
  it.each([
    ['bytes=0-499', { first: 0, last: 499 }],
    ['bytes=500-999', { first: 500, last: 999 }],
    ['bytes=-500', { first: 9500, last: 9999 }],
    ['bytes=9500-', { first: 9500, last: 9999 }],
    ['bytes=9990-20000', { first: 9990, last: 9999 }],
    ['bytes=10000-', 'unsatisfiable'],
    ['bytes=-0', 'unsatisfiable'],
    ['bytes=0-0,-1', undefined],
    ['bytes=5-2', undefined],
    ['lines=1-2', undefined],
    [undefined, undefined],
  ])('reads %j', (header, wanted) => {
    expect(parseRange(header, 10_000)).toEqual(wanted)
  })
})

describe('download names (RFC 6266)', () => {
  it('gives a plain and a UTF-8 form, with nothing that breaks the header', () => {
    expect(contentDisposition('Kelp & Wrack 1.0.0.zip')).toBe(
      `attachment; filename="Kelp & Wrack 1.0.0.zip"; filename*=UTF-8''Kelp%20%26%20Wrack%201.0.0.zip`,
    )
    expect(contentDisposition('Säge"x\n✓.zip')).toBe(
      `attachment; filename="Sage-x.zip"; filename*=UTF-8''S%C3%A4ge%22x%0A%E2%9C%93.zip`,
    )
  })
})
