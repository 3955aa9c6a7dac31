import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { LevelStore } from '../raster/level-store.ts'
import { createPixels } from '../raster/pixels.ts'
import { anyPixels } from '../testing.ts'
import { nearestScale } from './level-ladder.ts'
import { type Level, levelBytesMax, prepareFrame } from './levels.ts'

const anyScale = fc.double({ min: 0.001, max: 3, noNaN: true })

/** The sum of one channel over a level, border and all. */
const sumOf = ({ data }: Level, channels: number, c: number) => {
  let sum = 0
  for (let i = c; i < data.length; i += channels) sum += data[i]
  return sum
}

describe('levels of a frame', () => {
  it('are the frame itself from its own size on', () => {
    const frame = prepareFrame(createPixels(13, 5, 1))
    const own = frame.levelFor(1, 1)
    expect([own.width, own.height, own.perX, own.originX]).toEqual([13, 5, 1, 0.5])
    expect(frame.levelFor(2.5, 1.2)).toBe(own)
  })

  it('have two samples a canvas pixel below it, on the edges of half pixels, each axis for itself', () => {
    const frame = prepareFrame(createPixels(13, 5, 1))
    const half = frame.levelFor(0.5, 2)
    expect([half.width, half.perX, half.originX]).toEqual([14, 1, 1])
    expect([half.height, half.perY, half.originY]).toEqual([5, 1, 0.5])
  })

  it('keep the paint: means over areas neither add nor lose, but for rounding', () => {
    fc.assert(
      fc.property(anyPixels(16), anyScale, anyScale, (pixels, scaleX, scaleY) => {
        const frame = prepareFrame(pixels)
        const level = frame.levelFor(scaleX, scaleY)
        const own = frame.levelFor(1, 1)
        for (let c = 0; c < frame.channels; c++) {
          const perPx = level.perX * level.perY
          const off = Math.abs(sumOf(level, frame.channels, c) / perPx - sumOf(own, frame.channels, c))
          // half a level a sample, and as much for each of the few halvings before
          expect(off).toBeLessThanOrEqual((2.5 * level.width * level.height) / perPx)
        }
      }),
    )
  })

  it('have an empty border all round, so that what lies outside a tip paints nothing', () => {
    fc.assert(
      fc.property(anyPixels(9), anyScale, anyScale, (pixels, scaleX, scaleY) => {
        const frame = prepareFrame(pixels)
        const { channels } = frame
        const { width, height, stride, data } = frame.levelFor(scaleX, scaleY)
        expect(data.length).toBe(stride * (height + 2) * channels)
        expect(data.length).toBeLessThanOrEqual(levelBytesMax(frame))
        for (let y = 0; y < height + 2; y++)
          for (let x = 0; x < stride; x++) {
            if (x > 0 && x <= width && y > 0 && y <= height) continue
            const at = (y * stride + x) * channels
            expect(data.subarray(at, at + channels).every((value) => value === 0)).toBe(true)
          }
      }),
    )
  })

  it('of large tips have one sample a canvas pixel, and never more than the tip has', () => {
    const large = prepareFrame(createPixels(1400, 1400, 1))
    expect([large.levelFor(0.9, 0.9).width, large.levelFor(0.6, 0.6).width]).toEqual([1260, 1681])
  })

  it('are premultiplied: no colour is stronger than its alpha, and clear pixels have none', () => {
    const tip = createPixels(2, 1, 4)
    tip.data.set([200, 100, 50, 128, 255, 255, 255, 0])
    const { data } = prepareFrame(tip).levelFor(1, 1)
    const [first, second] = [(4 + 1) * 4, (4 + 2) * 4]
    expect([...data.subarray(first, first + 4)]).toEqual([100, 50, 25, 128])
    expect([...data.subarray(second, second + 4)]).toEqual([0, 0, 0, 0])
  })

  it('can be asked for at any scale, also far below a pixel', () => {
    const frame = prepareFrame(createPixels(64, 9, 4))
    for (const scale of [1e-3, 1e-9, 1e-300]) expect(frame.levelFor(scale, scale).width).toBeLessThanOrEqual(2)
  })
})

describe('kept levels', () => {
  const level = (bytes: number) => ({ data: new Uint8Array(bytes) })

  it('are made once, until those not read for longest have to go', () => {
    const store = new LevelStore<{ data: Uint8Array }>()
    const made: string[] = []
    const ask = (key: string) => store.keep(key, () => (made.push(key) ? level(20 << 20) : level(0)))
    expect(ask('a')).toBe(ask('a'))
    ask('b')
    ask('a')
    ask('c') // 60 MiB: b goes
    ask('a')
    ask('b')
    expect(made.join('')).toBe('abcb')
  })

  it('may be larger than the budget: the one in use stays', () => {
    const store = new LevelStore<{ data: Uint8Array }>()
    expect(store.keep('a', () => level(60 << 20))).toBe(store.keep('a', () => level(1)))
  })
})

describe('the ladder of scales', () => {
  it('starts from the own scale, is never far off, and falls on few steps', () => {
    expect(nearestScale(0.37, 0.37, 100)).toBe(0.37)
    fc.assert(
      fc.property(anyScale, anyScale, fc.integer({ min: 1, max: 128 }), (own, scale, sizePx) => {
        const found = nearestScale(own, scale, sizePx)
        expect(Math.abs(Math.log2(found / scale))).toBeLessThanOrEqual(1 / 32 + 1e-9)
        expect(nearestScale(own, found, sizePx)).toBe(found)
        const steps = Math.log2(found / own) * 128
        expect(Math.abs(steps - Math.round(steps))).toBeLessThan(1e-6)
      }),
    )
  })

  it('is finest where steps could be seen most, and takes a mark of no size for one of full size', () => {
    const steps = (sizePx: number) =>
      new Set(Array.from({ length: 1000 }, (_, i) => nearestScale(1, 1 + i / 1000, sizePx))).size
    expect([8, 32, 100, 200, 1000].map(steps)).toEqual([17, 33, 129, 65, 17])
    expect(nearestScale(0.5, 0, 1)).toBe(0.5)
  })

  it('ends for numbers that all but vanish', () => {
    expect(nearestScale(0.5, 5e-324, 1)).toBe(0.5 / 2 ** 24)
    expect(nearestScale(5e-324, 1, 1)).toBe(5e-324)
  })
})
