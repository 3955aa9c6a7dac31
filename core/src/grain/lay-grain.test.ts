import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { anyPixels } from '../testing.ts'
import { layGrain } from './lay-grain.ts'
import { type GrainLevel, prepareGrain, weightOf } from './prepare-grain.ts'

const FULL = { strength: 1, brightness: 0, contrast: 0 }
const UPRIGHT = { cos: 1, sin: 0, x: 0, y: 0 }
const FIXED_ONE = 65_536

describe('a prepared grain', () => {
  const SCALES = [1, 0.9, 0.71, 0.5, 0.33, 0.1, 0.01]

  it('keeps its mean at every scale, so that it weighs the same', () => {
    fc.assert(
      fc.property(anyPixels(12), (pixels) => {
        const grain = prepareGrain(pixels, FULL)
        const mean = ({ width, height, stride, data }: GrainLevel) => {
          let sum = 0
          for (let y = 0; y < height; y++) for (let x = 0; x < width; x++) sum += data[y * stride + x]
          return sum / (width * height)
        }
        const own = mean(grain.levelFor(1))
        for (const scale of SCALES) expect(Math.abs(mean(grain.levelFor(scale)) - own)).toBeLessThanOrEqual(1)
      }),
    )
  })

  it('repeats its first column and row behind its last', () => {
    fc.assert(
      fc.property(anyPixels(9), (pixels) => {
        const grain = prepareGrain(pixels, FULL)
        for (const { width, height, stride, data } of SCALES.map((scale) => grain.levelFor(scale))) {
          for (let y = 0; y < height; y++) expect(data[y * stride + width]).toBe(data[y * stride])
          for (let x = 0; x < width; x++) expect(data[height * stride + x]).toBe(data[x])
        }
      }),
    )
  })

  it('has two samples a canvas pixel below its own scale, one where a tile is too large for that, and is itself above', () => {
    const sizesAt = (side: number, scale: number) => {
      const { width, height } = prepareGrain({ width: side, height: 3, channels: 1, data: new Uint8Array(side * 3) }, FULL).levelFor(scale)
      return [width, height]
    }
    expect([sizesAt(8, 4), sizesAt(8, 1), sizesAt(8, 0.9), sizesAt(8, 0.5), sizesAt(8, 0.01)]).toEqual([[8, 3], [8, 3], [14, 5], [8, 3], [1, 1]])
    expect(sizesAt(500_000, 0.9)).toEqual([450_000, 3])
  }) // biome-ignore format: a row of sizes

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
    const laid = layGrain(grain, { scale: 1, ...UPRIGHT })
    expect([laid.level.width, laid.du, Math.abs(laid.dv)]).toEqual([8, FIXED_ONE, 0])
    expect(laid.startAt(3, 2)).toEqual({ u: 3 * FIXED_ONE, v: 2 * FIXED_ONE })
    expect(laid.startAt(3 + 8, 2 - 5)).toEqual(laid.startAt(3, 2))
  })

  it('moves with its origin and turns about it', () => {
    const moved = layGrain(grain, { scale: 1, cos: 1, sin: 0, x: 3, y: 2 })
    expect(moved.startAt(3, 2)).toEqual({ u: 0, v: 0 })
    const turned = layGrain(grain, { scale: 1, cos: 0, sin: 1, x: 0, y: 0 })
    expect([turned.du, turned.dv].map(Math.abs)).toEqual([0, FIXED_ONE]) // along a row it is read down a column
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
          const laid = layGrain(grain, { scale, cos: Math.cos(turn), sin: Math.sin(turn), x: originX, y: originY })
          const { u, v } = laid.startAt(x, y)
          expect(u >= 0 && u < laid.periodU && v >= 0 && v < laid.periodV).toBe(true)
          expect(Math.abs(laid.du) < laid.periodU && Math.abs(laid.dv) < laid.periodV).toBe(true)
        },
      ),
    )
  })
})
