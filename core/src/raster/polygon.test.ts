import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { coverPolygon } from './polygon.ts'

const sum = (data: Uint8Array) => data.reduce((a, b) => a + b, 0) / 255

describe('what a polygon covers', () => {
  it('is exact in boxes that end between pixels', () => {
    const cover = coverPolygon([1.25, 1, 4.5, 1, 4.5, 3, 1.25, 3], 7, 5)
    expect([...cover.subarray(7, 14)]).toEqual([0, 191, 255, 255, 128, 0, 0])
    expect([...cover.subarray(0, 7)]).toEqual(Array(7).fill(0))
  })

  it('leaves out what is crossed twice, and what lies beyond the picture', () => {
    const ring = [0, 0, 9, 0, 9, 9, 0, 9, 0, 0, 3, 3, 3, 6, 6, 6, 6, 3, 3, 3]
    expect(coverPolygon(ring, 9, 9)[4 * 9 + 4]).toBe(0)
    expect(sum(coverPolygon(ring, 9, 9))).toBe(72)
    expect(sum(coverPolygon([-5, -5, 3, -5, 3, 20, -5, 20], 6, 4))).toBe(12)
  })

  it('has the area of a triangle (shoelace formula)', () => {
    const place = fc.double({ min: 2, max: 38, noNaN: true })
    fc.assert(
      fc.property(fc.tuple(place, place, place, place, place, place), ([ax, ay, bx, by, cx, cy]) => {
        const area = Math.abs((bx - ax) * (cy - ay) - (cx - ax) * (by - ay)) / 2
        // along a row the cover is exact; how far a side runs between the rows that are followed is what is off
        expect(Math.abs(sum(coverPolygon([ax, ay, bx, by, cx, cy], 40, 40)) - area)).toBeLessThan(12)
      }),
    )
  })
})
