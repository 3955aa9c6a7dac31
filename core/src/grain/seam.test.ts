import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import type { Pixels } from '../raster/pixels.ts'
import { anyPixels, roundTip } from '../testing.ts'
import { guessUse } from './picture-use.ts'
import { measureSeam, SEAM_VISIBLE } from './seam.ts'
import { findJoin, measureJoin } from './strip-join.ts'

const grey = (width: number, height: number, at: (x: number, y: number) => number): Pixels => ({
  width,
  height,
  channels: 1,
  data: Uint8Array.from({ length: width * height }, (_, i) => Math.round(at(i % width, Math.floor(i / width)))),
})
const wave = (period: number) => (x: number, y: number) =>
  128 + 60 * Math.sin((2 * Math.PI * x) / period + 1) + 40 * Math.cos((2 * Math.PI * y) / 32 + 1)

describe('a seam', () => {
  it('is about 1 for a picture that repeats, and shows where it does not fit', () => {
    const fits = measureSeam(grey(96, 64, wave(24)))
    expect(Math.max(fits.across, fits.down)).toBeLessThanOrEqual(SEAM_VISIBLE)
    const off = measureSeam(grey(90, 64, wave(24))) // 90 is no multiple of 24
    expect(off.across).toBeGreaterThan(3)
    expect(off.down).toBeCloseTo(fits.down, 1)
  })

  it('is measured without NaN for any picture', () => {
    fc.assert(
      fc.property(anyPixels(9), (pixels) => {
        const { across, down } = measureSeam(pixels)
        expect(across >= 0 && down >= 0 && Number.isFinite(across + down)).toBe(true)
      }),
    )
  })
})

describe('the first guess of what a picture is for', () => {
  it('goes by shape, border and seam', () => {
    expect(guessUse([grey(512, 128, wave(64))])).toBe('strip')
    expect(guessUse([grey(96, 64, wave(24))])).toBe('grain')
    expect(guessUse([grey(90, 64, wave(24))])).toBe('tip') // its seam shows
    expect(guessUse([roundTip(96)])).toBe('tip') // a mark on even ground
    const ring = (x: number, y: number) => (Math.abs(Math.hypot(x - 60, y - 30) - 40) < 12 ? 60 : 255)
    expect(guessUse([grey(96, 96, ring)])).toBe('tip') // cut at the border, but paper around it
    expect(guessUse([grey(512, 128, (x, y) => (Math.hypot(x - 200, y - 64) < 50 ? 40 : 255))])).toBe('tip') // a mark on a long sheet
    expect(guessUse([grey(32, 32, wave(32))])).toBe('tip') // too small for a grain
    expect(guessUse([grey(512, 128, wave(64)), grey(512, 128, wave(64))])).toBe('tip') // frames
  })
})

describe('the join of a strip', () => {
  /** A lead-in that falls, a body of waves 40 px long, a lead-out that rises. */
  const strip = grey(300, 24, (x, y) => {
    if (x < 50) return 250 - 2 * x + (y % 5)
    if (x >= 250) return 40 + 3 * (x - 250)
    return 128 + 70 * Math.sin((2 * Math.PI * (x - 50)) / 40) + y
  })

  it('has a break of nothing where the repeated part fits itself, and a great one where it does not', () => {
    expect(measureJoin(strip, { leadInPx: 60, leadOutPx: 80 })).toBeLessThan(0.1) // 160 px: four waves
    expect(measureJoin(strip, { leadInPx: 60, leadOutPx: 60 })).toBeGreaterThan(3) // 180 px: four and a half
  })

  it('is found by itself: whole waves, as many as there are', () => {
    const found = findJoin(strip)
    expect(found.break).toBeLessThanOrEqual(0.25)
    const body = 300 - found.leadInPx - found.leadOutPx
    expect(Math.min(body % 40, 40 - (body % 40))).toBeLessThanOrEqual(1)
    expect(body).toBeGreaterThanOrEqual(80)
    expect(found.leadInPx).toBeGreaterThanOrEqual(48)
  })

  it('of a strip that repeats as a whole is the whole strip', () => {
    expect(findJoin(grey(160, 16, wave(40)))).toMatchObject({ leadInPx: 0, leadOutPx: 0 })
  })
})
