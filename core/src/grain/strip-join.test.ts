import { describe, expect, it } from 'vitest'
import type { Pixels } from '../raster/pixels.ts'
import { findJoin, measureJoin } from './strip-join.ts'

const grey = (width: number, height: number, at: (x: number, y: number) => number): Pixels => ({
  width,
  height,
  channels: 1,
  data: Uint8Array.from({ length: width * height }, (_, i) => Math.round(at(i % width, Math.floor(i / width)))),
})

const wave = (period: number) => (x: number, y: number) =>
  128 + 60 * Math.sin((2 * Math.PI * x) / period + 1) + 40 * Math.cos((2 * Math.PI * y) / 32 + 1)

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
