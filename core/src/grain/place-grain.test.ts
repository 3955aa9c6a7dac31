import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { anyPixels } from '../testing.ts'
import { placeGrain } from './place-grain.ts'
import { prepareGrain, weightOf } from './prepare-grain.ts'

const FULL = { strength: 1, brightness: 0, contrast: 0 }
const UPRIGHT = { cos: 1, sin: 0, x: 0, y: 0 }
const FIXED_ONE = 65_536

describe('a prepared grain', () => {
  it('keeps its mean on every level, so that it weighs the same at every scale', () => {
    fc.assert(
      fc.property(anyPixels(12), (pixels) => {
        const { levels } = prepareGrain(pixels, FULL)
        const mean = ({ width, height, stride, data }: (typeof levels)[number]) => {
          let sum = 0
          for (let y = 0; y < height; y++) for (let x = 0; x < width; x++) sum += data[y * stride + x]
          return sum / (width * height)
        }
        for (const level of levels) expect(Math.abs(mean(level) - mean(levels[0]))).toBeLessThanOrEqual(1)
      }),
    )
  })

  it('repeats its first column and row behind its last', () => {
    fc.assert(
      fc.property(anyPixels(9), (pixels) => {
        for (const { width, height, stride, data } of prepareGrain(pixels, FULL).levels) {
          for (let y = 0; y < height; y++) expect(data[y * stride + width]).toBe(data[y * stride])
          for (let x = 0; x < width; x++) expect(data[height * stride + x]).toBe(data[x])
        }
      }),
    )
  })

  it('weighs between 1 − strength and 1, and lighter greys never weigh less', () => {
    const share = fc.double({ min: 0, max: 1, noNaN: true })
    const signed = fc.double({ min: -1, max: 1, noNaN: true })
    fc.assert(
      fc.property(share, share, share, signed, signed, (a, b, strength, brightness, contrast) => {
        const tones = { strength, brightness, contrast }
        const [low, high] = [Math.min(a, b), Math.max(a, b)].map((grey) => weightOf(grey, tones))
        expect(low).toBeLessThanOrEqual(high + 1e-12)
        for (const weight of [low, high]) expect(weight >= 1 - strength - 1e-12 && weight <= 1 + 1e-12).toBe(true)
      }),
    )
  })
})

describe('a grain laid on the canvas', () => {
  const grain = prepareGrain({ width: 8, height: 5, channels: 1, data: new Uint8Array(40).map((_, i) => i * 6) }, FULL)

  it('is read pixel by pixel at its own scale, and starts again after its width and height', () => {
    const place = placeGrain(grain, { scale: 1, ...UPRIGHT })
    expect([place.level, place.du, Math.abs(place.dv)]).toEqual([0, FIXED_ONE, 0])
    expect(place.startAt(3, 2)).toEqual({ u: 3 * FIXED_ONE, v: 2 * FIXED_ONE })
    expect(place.startAt(3 + 8, 2 - 5)).toEqual(place.startAt(3, 2))
  })

  it('moves with its origin and turns about it', () => {
    const moved = placeGrain(grain, { scale: 1, cos: 1, sin: 0, x: 3, y: 2 })
    expect(moved.startAt(3, 2)).toEqual({ u: 0, v: 0 })
    const turned = placeGrain(grain, { scale: 1, cos: 0, sin: 1, x: 0, y: 0 })
    expect([turned.du, turned.dv].map(Math.abs)).toEqual([0, FIXED_ONE]) // along a row it is read down a column
  })

  it('is read from the level that is nearest to its scale', () => {
    const levelAt = (scale: number) => placeGrain(grain, { scale, ...UPRIGHT }).level
    expect([levelAt(4), levelAt(1), levelAt(0.71), levelAt(0.7), levelAt(0.35), levelAt(0.001)]).toEqual([
      0, 0, 0, 1, 2, 3,
    ])
  })

  it('never asks for a place outside its period', () => {
    const any = fc.double({ min: -5000, max: 5000, noNaN: true })
    fc.assert(
      fc.property(
        any,
        any,
        any,
        any,
        fc.double({ min: 0.01, max: 20, noNaN: true }),
        fc.double({ min: 0, max: 6.28, noNaN: true }),
        (x, y, originX, originY, scale, turn) => {
          const place = placeGrain(grain, { scale, cos: Math.cos(turn), sin: Math.sin(turn), x: originX, y: originY })
          const { u, v } = place.startAt(x, y)
          expect(u >= 0 && u < place.periodU && v >= 0 && v < place.periodV).toBe(true)
          expect(Math.abs(place.du) < place.periodU && Math.abs(place.dv) < place.periodV).toBe(true)
        },
      ),
    )
  })
})
