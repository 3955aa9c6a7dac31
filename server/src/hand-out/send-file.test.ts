import { describe, expect, it } from 'vitest'
import { toByteRange } from './send-file.ts'

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
    ['bytes=1x', undefined],
    ['bytes=1-2x', undefined],
    ['bytes=-', undefined],
    ['lines=1-2', undefined],
    [undefined, undefined],
  ])('reads %j', (header, wanted) => {
    expect(toByteRange(header, 10_000)).toEqual(wanted)
  })
})
