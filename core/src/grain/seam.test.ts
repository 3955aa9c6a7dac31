import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { createPixels, type Pixels } from '../raster/pixels.ts'
import { anyPixels } from '../testing.ts'
import { MENDS, mendSeams, moveByHalf } from './mend.ts'
import { gapOver } from './pitch.ts'
import { drawGrain, fittingLattice, fittingPitches, GRAIN_RULES } from './rules.ts'
import { measureSeam, measureSeamFigures, SEAM_VISIBLE } from './seam.ts'

const tile = (width: number, height: number, at: (x: number, y: number) => number): Pixels => ({
  width,
  height,
  channels: 1,
  data: Uint8Array.from({ length: width * height }, (_, i) => Math.round(at(i % width, Math.floor(i / width)))),
})
const TURN = 2 * Math.PI

/** Threads in two colours with sharp edges: large steps of its own, and seamless. */
const plaid = tile(240, 180, (x, y) => 60 + 90 * Number(x % 40 < 20) + 70 * Number(y % 30 < 9))
/** Smooth, and not made to repeat. */
const cloud = tile(
  301,
  211,
  (x, y) => 128 + 60 * Math.sin((x * TURN) / 173 + 0.4) + 50 * Math.cos((y * TURN) / 131 + (x / 301) * 2),
)
const paper = drawGrain('fibre', { width: 300, height: 220, pitchPx: 24, size: 0.4, angleDeg: 0, seed: 7 })
const cropOf = ({ width, height, data }: Pixels, w: number, h: number): Pixels => {
  const out = createPixels(w, h, 1)
  for (let y = 0; y < h; y++) out.data.set(data.subarray(y * width, y * width + w), y * w)
  return { ...out, height: Math.min(h, height) }
}

describe('a seam', () => {
  it('of a regular plaid cannot be seen, whatever steps it has inside', () => {
    const { across, down } = measureSeam(plaid)
    expect([across.isSeamless, down.isSeamless]).toEqual([true, true])
    expect(across.pitchPx).toBeCloseTo(40, 1)
    expect(down.pitchPx).toBeCloseTo(30, 1)
  })

  it('of a plaid cut off in the middle of its pattern is told by its gap', () => {
    const { across, down } = measureSeam(cropOf(plaid, 227, 180))
    expect(across.isSeamless).toBe(false)
    expect(across.gapPx).toBeCloseTo(-13, 0)
    expect(down.isSeamless).toBe(true)
  })

  it('of paper that repeats by construction is none, and that of a part of it shows', () => {
    const whole = measureSeam(paper)
    expect([whole.across.isSeamless, whole.down.isSeamless]).toEqual([true, true])
    const part = measureSeam(cropOf(paper, 211, 163))
    expect([part.across.isSeamless, part.down.isSeamless]).toEqual([false, false])
  })

  it('of a smooth picture shows', () => {
    const { across, down } = measureSeam(cloud)
    expect([across.isSeamless, down.isSeamless]).toEqual([false, false])
    expect(across.figure).toBeGreaterThan(5)
  })

  // 5000 mod 1245 = 20 and 5000 mod 1250 = 0: common practice, no source
  it.each([0.2, 0.6])('of dots of pitch 1245 on 5000 px has no step, and a gap that is 20 px off: size %f', (size) => {
    const dots = drawGrain('dots', { width: 5000, height: 400, pitchPx: 1245, size, angleDeg: 0 })
    const { across } = measureSeam(dots)
    expect(across.figure).toBeLessThanOrEqual(SEAM_VISIBLE)
    expect(across.pitchPx).toBeCloseTo(1245, 0)
    expect(across.gapPx).toBeCloseTo(20, 0)
    expect(across.isSeamless).toBe(false)
    expect(measureSeamFigures(dots).across).toBeGreaterThan(SEAM_VISIBLE)
  })

  it('of dots of pitch 1250 on 5000 px is none', () => {
    const { across } = measureSeam(
      drawGrain('dots', { width: 5000, height: 400, pitchPx: 1250, size: 0.2, angleDeg: 0 }),
    )
    expect(across.gapPx).toBeCloseTo(0, 0)
    expect(across.isSeamless).toBe(true)
  })

  it.each([
    [1, 1],
    [1, 9],
    [2, 2],
  ])('of a picture of %i x %i px is measured without fault', (width, height) => {
    const { across, down } = measureSeam(tile(width, height, (x, y) => 9 * x + 5 * y))
    expect(Number.isFinite(across.figure + down.figure)).toBe(true)
  })

  it('is measured without NaN for any picture', () => {
    fc.assert(
      fc.property(anyPixels(9), (pixels) => {
        const { across, down } = measureSeamFigures(pixels)
        expect(across >= 0 && down >= 0 && Number.isFinite(across + down)).toBe(true)
      }),
    )
  })

  it('of one even tone is none', () => {
    const { across, down } = measureSeam(tile(20, 20, () => 90))
    expect([across.isSeamless, down.isSeamless]).toEqual([true, true])
  })

  it('counts what is left over as a wider or a narrower gap', () => {
    expect(gapOver(5000, 1245)).toBe(20)
    expect(gapOver(5000, 1250)).toBe(0)
    expect(gapOver(100, 34)).toBe(-2)
  })
})

describe('mending', () => {
  it.each(MENDS)('by %s closes both seams', (mend) => {
    for (const broken of [cloud, cropOf(paper, 211, 163)]) {
      const { across, down } = measureSeam(mendSeams(broken, mend))
      expect(across.figure).toBeLessThanOrEqual(SEAM_VISIBLE)
      expect(down.figure).toBeLessThanOrEqual(SEAM_VISIBLE)
    }
  })

  it.each(['cut', 'blend'] as const)('by %s leaves whole repetitions of a pattern', (mend) => {
    for (const broken of [
      cropOf(plaid, 227, 180),
      drawGrain('dots', { width: 300, height: 300, pitchPx: 37, size: 0.5, angleDeg: 0 }),
    ]) {
      const { across, down } = measureSeam(mendSeams(broken, mend))
      expect({ across, down }).toMatchObject({ across: { isSeamless: true }, down: { isSeamless: true } })
    }
  })

  it('a pattern that was cut off anywhere does not go on over the wrap', () => {
    const dots = drawGrain('dots', { width: 320, height: 320, pitchPx: 16, size: 0.6, angleDeg: 0 })
    for (const width of [309, 312, 315]) expect(measureSeam(cropOf(dots, width, 320)).across.isSeamless).toBe(false)
  })

  it('leaves what lies outside the overlap as it was', () => {
    for (const mend of ['blend', 'cut'] as const) {
      const mended = mendSeams(cloud, mend, 0.1)
      expect([mended.width, mended.height]).toEqual([271, 190])
      expect(mended.data[100 * 271 + 150]).toBe(cloud.data[100 * 301 + 150])
    }
  })

  it('cuts along the line of least difference: where both sides agree, nothing is blended', () => {
    // the end repeats the beginning but for a blot on one side of the overlap
    const period = tile(120, 60, (x, y) => 128 + 50 * Math.sin(((x % 100) * TURN) / 25) * Math.cos((y * TURN) / 60))
    for (let y = 20; y < 40; y++) for (let x = 104; x < 112; x++) period.data[y * 120 + x] = 255
    const { across } = measureSeam(mendSeams(period, 'cut', 20 / 120))
    expect(across.figure).toBeLessThanOrEqual(SEAM_VISIBLE)
  })

  it('is shown by moving the tile by half', () => {
    const moved = moveByHalf(tile(5, 4, (x, y) => 10 * y + x))
    expect(moved.data[0]).toBe(22)
    expect(moved.data.slice().sort()).toEqual(
      tile(5, 4, (x, y) => 10 * y + x)
        .data.slice()
        .sort(),
    )
  })
})

describe('grains from rules', () => {
  it.each(GRAIN_RULES)('close where their pitch does: %s', (rule) => {
    const settings = { width: 320, height: 240, pitchPx: 40, size: 0.5, angleDeg: 0 }
    const { across, down } = measureSeam(drawGrain(rule, settings))
    expect({ across, down }).toMatchObject({ across: { isSeamless: true }, down: { isSeamless: true } })
    expect(new Set(drawGrain(rule, settings).data).size).toBeGreaterThan(1)
  })

  it('close turned, too, at the angle and pitch that are offered', () => {
    const wanted = fittingLattice(400, 37, 30)
    expect(Math.abs(wanted.pitchPx - 37)).toBeLessThan(3)
    expect(Math.abs(wanted.angleDeg - 30)).toBeLessThan(3)
    const { across, down } = measureSeam(drawGrain('dots', { width: 400, height: 400, size: 0.5, ...wanted }))
    expect([across.isSeamless, down.isSeamless]).toEqual([true, true])
  })

  it('cover as much as they say', () => {
    const { data } = drawGrain('dots', { width: 400, height: 400, pitchPx: 40, size: 0.5, angleDeg: 0 })
    const share = data.reduce((a, b) => a + b, 0) / 255 / data.length
    expect(share).toBeCloseTo(Math.PI / 16, 2)
  })

  it('offer the pitches that fit, next to one that does not', () => {
    expect(fittingPitches(5000, 1245)).toEqual([1250, 1000])
    expect(fittingPitches(5000, 1250)).toEqual([1250])
    expect(fittingPitches(100, 130)).toEqual([100])
  })
})
