import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { SAMPLE, SAMPLE_STRIDE, type Samples } from '../stroke/path/samples.ts'
import { gaugeStrokes, listStroke } from './gauge.ts'

const [WIDTH, HEIGHT, MARGIN] = [600, 400, 20]
const strokes = gaugeStrokes(WIDTH, HEIGHT, MARGIN)

const column = (samples: Samples, part: number) =>
  Array.from({ length: samples.length / SAMPLE_STRIDE }, (_, i) => samples[i * SAMPLE_STRIDE + part])
const xs = (samples: Samples) => column(samples, SAMPLE.x)
const ys = (samples: Samples) => column(samples, SAMPLE.y)
const pressures = (samples: Samples) => column(samples, SAMPLE.pressure)
/** px per ms from each sample to the next. */
const speeds = (samples: Samples) => {
  const [x, y, ms] = [xs(samples), ys(samples), column(samples, SAMPLE.ms)]
  return x.slice(1).map((_, i) => Math.hypot(x[i + 1] - x[i], y[i + 1] - y[i]) / (ms[i + 1] - ms[i]))
}

describe('gauge strokes', () => {
  it('begin with a level line whose pressure goes 0-1-0, evenly', () => {
    const { level } = strokes
    expect(new Set(ys(level))).toEqual(new Set([HEIGHT / 8]))
    expect([xs(level)[0], xs(level).at(-1)]).toEqual([MARGIN, WIDTH - MARGIN])
    const pressure = pressures(level)
    expect([pressure[0], pressure.at(-1)]).toEqual([0, 0])
    expect(Math.max(...pressure)).toBeCloseTo(1, 1)
    const middle = pressure.indexOf(Math.max(...pressure))
    expect(pressure.slice(0, middle).every((value, i) => value < pressure[i + 1])).toBe(true)
    expect(pressure.slice(middle, -1).every((value, i) => value > pressure[middle + i + 1])).toBe(true)
  })

  it('go on with an S at pressure 0.7 that fills its band: once down, once up', () => {
    const { curve } = strokes
    expect(new Set(pressures(curve))).toEqual(new Set([0.7]))
    const y = ys(curve)
    const turns = y.slice(1, -1).filter((value, i) => (value - y[i]) * (y[i + 2] - value) < 0).length
    expect(turns).toBe(2)
    expect(Math.max(...y)).toBeCloseTo(HEIGHT / 2 - MARGIN, 0)
    expect(Math.min(...y)).toBeCloseTo(HEIGHT / 4 + MARGIN, 0)
    expect(y[0]).toBeCloseTo(y.at(-1) ?? 0, 6)
  })

  it('have a zigzag that is fast, at full pressure, with five corners', () => {
    const { zigzag, level } = strokes
    const mean = (values: number[]) => values.reduce((sum, value) => sum + value, 0) / values.length
    expect(mean(speeds(zigzag))).toBeGreaterThan(7 * mean(speeds(level)))
    expect(new Set(pressures(zigzag))).toEqual(new Set([1]))
    const y = ys(zigzag)
    const corners = y.slice(1, -1).filter((value, i) => (value - y[i]) * (y[i + 2] - value) < 0).length
    expect(corners).toBe(5)
  })

  it('end with three single stamps, evenly apart, in a band of their own', () => {
    const { stamps } = strokes
    expect(stamps.map((samples) => samples.length)).toEqual([6, 6, 6])
    const [one, two, three] = stamps.map((samples) => samples[SAMPLE.x])
    expect(two - one).toBeCloseTo(three - two, 9)
    expect(stamps.every((samples) => samples[SAMPLE.y] === 3.5 * (HEIGHT / 4))).toBe(true)
  })

  it('and a list’s stroke stay inside the picture and go forward in time, whatever its size', () => {
    const size = fc.integer({ min: 8, max: 2000 })
    fc.assert(
      fc.property(size, size, fc.double({ min: 0, max: 0.2, noNaN: true }), (width, height, share) => {
        const margin = share * Math.min(width, height)
        const { level, curve, zigzag, stamps } = gaugeStrokes(width, height, margin)
        for (const samples of [level, curve, zigzag, ...stamps, listStroke(width, height, margin)]) {
          expect(samples.every(Number.isFinite)).toBe(true)
          expect(xs(samples).every((x) => x >= 0 && x <= width)).toBe(true)
          expect(ys(samples).every((y) => y >= -1e-6 && y <= height + 1e-6)).toBe(true)
          expect(speeds(samples).every((speed) => speed >= 0)).toBe(true)
        }
      }),
      { numRuns: 60 },
    )
  })
})
