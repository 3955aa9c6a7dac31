import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { createPixels } from '../raster/pixels.ts'
import { anyPixels } from '../testing.ts'
import { type Level, prepareFrame } from './levels.ts'

/** The sum of one channel over a level, border and all. */
const sumOf = ({ data }: Level, channels: number, c: number) => {
  let sum = 0
  for (let i = c; i < data.length; i += channels) sum += data[i]
  return sum
}

describe('prefiltered levels', () => {
  it('halve, rounding up, down to one pixel', () => {
    const { levels } = prepareFrame(createPixels(13, 5, 1))
    expect(levels.map(({ width, height }) => [width, height])).toEqual([[13, 5], [7, 3], [4, 2], [2, 1], [1, 1]]) // biome-ignore format: sizes
  })

  it('keep the paint: each level has a quarter of the one before, but for rounding', () => {
    fc.assert(
      fc.property(anyPixels(16), (pixels) => {
        const { levels, channels } = prepareFrame(pixels)
        for (let k = 1; k < levels.length; k++)
          for (let c = 0; c < channels; c++) {
            const [fine, coarse] = [sumOf(levels[k - 1], channels, c), sumOf(levels[k], channels, c)]
            expect(Math.abs(coarse - fine / 4)).toBeLessThanOrEqual(0.5 * levels[k].width * levels[k].height)
          }
      }),
    )
  })

  it('have an empty border all round, so that what lies outside a tip paints nothing', () => {
    fc.assert(
      fc.property(anyPixels(9), (pixels) => {
        const { levels, channels } = prepareFrame(pixels)
        for (const { width, height, stride, data } of levels) {
          expect(data.length).toBe(stride * (height + 2) * channels)
          for (let y = 0; y < height + 2; y++)
            for (let x = 0; x < stride; x++) {
              if (x > 0 && x <= width && y > 0 && y <= height) continue
              const at = (y * stride + x) * channels
              expect(data.subarray(at, at + channels).every((value) => value === 0)).toBe(true)
            }
        }
      }),
      { numRuns: 40 },
    )
  })

  it('are premultiplied: no colour is stronger than its alpha, and clear pixels have none', () => {
    const tip = createPixels(2, 1, 4)
    tip.data.set([200, 100, 50, 128, 255, 255, 255, 0])
    const [{ data }] = prepareFrame(tip).levels
    const [first, second] = [(4 + 1) * 4, (4 + 2) * 4]
    expect([...data.subarray(first, first + 4)]).toEqual([100, 50, 25, 128])
    expect([...data.subarray(second, second + 4)]).toEqual([0, 0, 0, 0])
  })
})
