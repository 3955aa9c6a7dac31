import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { anyPixels } from '../testing.ts'
import { toLuma } from './luma.ts'
import { createPixels, type Pixels, toGreyIfLossless, toRgba } from './pixels.ts'
import { fitSize, shrinkPixels } from './resample.ts'
import { trimToMark } from './trim.ts'

describe('pixels', () => {
  it('go from grey to RGBA and back without loss', () => {
    fc.assert(
      fc.property(anyPixels(), (pixels) => {
        if (pixels.channels === 1) expect(toGreyIfLossless(toRgba(pixels))).toEqual(pixels)
        else expect(toRgba(pixels)).toBe(pixels)
      }),
    )
  })

  it('stay RGBA where one pixel is coloured or transparent', () => {
    const picture = toRgba({ width: 2, height: 1, channels: 1, data: Uint8Array.of(5, 6) })
    for (const [at, value] of [
      [0, 7],
      [7, 254],
    ] as const) {
      const changed = { ...picture, data: picture.data.slice() }
      changed.data[at] = value
      expect(toGreyIfLossless(changed)).toBe(changed)
    }
  })

  it('have a luma by the weights of ITU-R BT.709: white, black and the primaries in their order', () => {
    expect([toLuma(255, 255, 255), toLuma(0, 0, 0)]).toEqual([255, 0])
    expect(toLuma(0, 255, 0)).toBeGreaterThan(toLuma(255, 0, 0))
    expect(toLuma(255, 0, 0)).toBeGreaterThan(toLuma(0, 0, 255))
    expect(Math.abs(toLuma(255, 0, 0) - 0.2126 * 255)).toBeLessThanOrEqual(1)
  })
})

describe('shrinking', () => {
  it('to the same size changes nothing, except that hidden colours go', () => {
    fc.assert(
      fc.property(anyPixels(), (pixels) => {
        const same = shrinkPixels(pixels, pixels.width, pixels.height)
        if (pixels.channels === 1) expect(same).toEqual(pixels)
        else for (let i = 3; i < same.data.length; i += 4) expect(same.data[i]).toBe(pixels.data[i])
      }),
    )
  })

  it('keeps the mean of a grey picture within the rounding', () => {
    const mean = ({ data }: Pixels) => data.reduce((sum, level) => sum + level, 0) / data.length
    fc.assert(
      fc.property(
        anyPixels(16),
        fc.integer({ min: 1, max: 16 }),
        fc.integer({ min: 1, max: 16 }),
        (pixels, width, height) => {
          if (pixels.channels === 4) return
          const small = shrinkPixels(pixels, Math.min(width, pixels.width), Math.min(height, pixels.height))
          expect(Math.abs(mean(small) - mean(pixels))).toBeLessThanOrEqual(0.51)
        },
      ),
    )
  })

  it('averages blocks exactly, and does not let transparent pixels bleed in', () => {
    const grey: Pixels = { width: 4, height: 2, channels: 1, data: Uint8Array.of(0, 100, 10, 20, 100, 200, 30, 40) }
    expect([...shrinkPixels(grey, 2, 1).data]).toEqual([100, 25])
    const colour = createPixels(2, 1, 4)
    colour.data.set([200, 10, 10, 255, 0, 255, 0, 0])
    expect([...shrinkPixels(colour, 1, 1).data]).toEqual([200, 10, 10, 128])
  })

  it('refuses to grow', () => {
    const grey = createPixels(3, 3, 1)
    expect(() => shrinkPixels(grey, 4, 3)).toThrow('shrink to 4 x 3: expected 1 x 1 up to 3 x 3')
    expect(() => shrinkPixels(grey, 0, 3)).toThrow(RangeError)
  })

  it('fits a side without growing, keeping proportions', () => {
    expect(fitSize(4096, 1024, 2048)).toEqual({ width: 2048, height: 512 })
    expect(fitSize(100, 50, 2048)).toEqual({ width: 100, height: 50 })
    expect(fitSize(4096, 1, 64)).toEqual({ width: 64, height: 1 })
  })
})

describe('trimming', () => {
  it('gives the smallest part that holds every counted pixel', () => {
    fc.assert(
      fc.property(anyPixels(), fc.integer({ min: 1, max: 255 }), (pixels, from) => {
        if (pixels.channels === 4) return
        const counted = pixels.data.filter((level) => level >= from).length
        const mark = trimToMark(pixels, from)
        expect(mark === undefined).toBe(counted === 0)
        if (!mark) return
        expect(mark.data.filter((level) => level >= from).length).toBe(counted)
        const row = (y: number) => mark.data.subarray(y * mark.width, (y + 1) * mark.width)
        const column = (x: number) => Array.from({ length: mark.height }, (_, y) => mark.data[y * mark.width + x])
        for (const edge of [row(0), row(mark.height - 1), column(0), column(mark.width - 1)])
          expect(Math.max(...edge)).toBeGreaterThanOrEqual(from)
      }),
    )
  })
})
