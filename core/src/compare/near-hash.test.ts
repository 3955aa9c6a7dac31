import { describe, expect, it } from 'vitest'
import type { Pixels } from '../raster/pixels.ts'
import { hashNear, SIGNATURE_SIDE } from './near-hash.ts'

const grey = (width: number, rows: number[][]): Pixels => ({
  width,
  height: rows.length,
  channels: 1,
  data: Uint8Array.from(rows.flat()),
})
const rgba = (width: number, pixels: number[][]): Pixels => ({
  width,
  height: pixels.length / width,
  channels: 4,
  data: Uint8Array.from(pixels.flat()),
})
const bitsOf = (pixels: Pixels) => hashNear(pixels, 'light')?.bits
const rising = [20, 40, 60, 80, 100, 120, 140, 160, 180]
const falling = [...rising].reverse()

describe('a near hash', () => {
  it('has a bit for each step to the right, set where it gets lighter; equal is not lighter', () => {
    expect(
      bitsOf(
        grey(
          9,
          [0, 1, 2, 3, 4, 5, 6, 7].map((y) => (y % 2 ? falling : rising)),
        ),
      ),
    ).toBe('ff00ff00ff00ff00')
    const odd = [20, 40, 40, 30, 50, 50, 60, 10, 90] // up, equal, down, up, equal, up, down, up
    expect(bitsOf(grey(9, [rising, ...Array.from({ length: 7 }, () => odd)]))).toBe('ff95959595959595')
  })

  it('repeats the pixels of a mark that is smaller than the grid, each over its share', () => {
    const found = hashNear(grey(2, [[50, 250]]), 'light') // the middle one of nine columns belongs to the right half
    expect(found?.bits).toBe('10'.repeat(8))
    const row = [...new Array(8).fill(0), ...new Array(8).fill(255)]
    expect([...(found?.signature ?? [])]).toEqual(Array.from({ length: SIGNATURE_SIDE }, () => row).flat())
    const tall = hashNear(grey(1, [[50], [250]]), 'light')
    expect([...(tall?.signature ?? [])]).toEqual([...new Array(128).fill(0), ...new Array(128).fill(255)])
  })

  it('stretches levels to the whole range, and takes one level for the middle', () => {
    const found = hashNear(grey(3, [[100, 150, 200]]), 'light')?.signature ?? new Uint8Array()
    expect([found[0], found[8], found[15]]).toEqual([0, 128, 255])
    expect(new Set(hashNear(grey(2, [[90, 90]]), 'light')?.signature)).toEqual(new Set([128]))
  })

  it('goes by the alpha of own colours, or by their darkness where all is opaque', () => {
    const clear = rgba(2, [[10, 10, 10, 100], [250, 250, 250, 200]]) // biome-ignore format: one row
    const solid = rgba(2, [[10, 10, 10, 255], [200, 200, 200, 255]]) // biome-ignore format: one row
    for (const reading of ['own', 'tone'] as const) {
      expect(hashNear(clear, reading)?.bits).toBe('10'.repeat(8)) // more alpha to the right
      expect(hashNear(solid, reading)?.bits).toBe('00'.repeat(8)) // darker to the left
      expect(hashNear(grey(2, [[10, 200]]), reading)?.bits).toBe('00'.repeat(8))
    }
  })

  it('is none of a picture with nothing in it', () => {
    expect(hashNear(grey(3, [[0, 7, 0]]), 'light')).toBeUndefined()
  })
})
