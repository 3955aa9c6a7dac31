import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { defaultRecipe } from '../brush/recipe.ts'
import { SAMPLE, SAMPLE_STRIDE, type Samples } from '../stroke/path/samples.ts'
import { gaugeStrokes, layOutGauge, listStroke } from './gauge.ts'

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
    expect(new Set(ys(level))).toEqual(new Set([MARGIN + (HEIGHT - 8 * MARGIN) * 0.075]))
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
    const rest = HEIGHT - 8 * MARGIN
    expect(Math.min(...y)).toBeCloseTo(2 * MARGIN + rest * 0.15 + MARGIN, 0)
    expect(Math.max(...y)).toBeCloseTo(4 * MARGIN + rest * 0.5 - MARGIN, 0)
    expect(y[0]).toBeCloseTo(y.at(-1) ?? 0, 6)
  })

  it('have a zigzag that is fast, at full pressure, with five corners', () => {
    const { zigzag, level } = strokes
    const mean = (values: number[]) => values.reduce((sum, value) => sum + value, 0) / values.length
    expect(mean(speeds(zigzag))).toBeGreaterThan(7 * mean(speeds(level)))
    expect(new Set(pressures(zigzag))).toEqual(new Set([1]))
    const y = ys(zigzag)
    const ways = y
      .slice(1)
      .map((value, i) => Math.sign(value - y[i]))
      .filter((way) => way !== 0)
    const corners = ways.slice(1).filter((way, i) => way !== ways[i]).length
    expect(corners).toBe(5)
  })

  it('end with three single stamps, evenly apart, in a band of their own', () => {
    const { stamps } = strokes
    expect(stamps.map((samples) => samples.length)).toEqual([6, 6, 6])
    const [one, two, three] = stamps.map((samples) => samples[SAMPLE.x])
    expect(two - one).toBeCloseTo(three - two, 9)
    expect(
      stamps.every((samples) => Math.abs(samples[SAMPLE.y] - (HEIGHT - MARGIN - (HEIGHT - 8 * MARGIN) * 0.075)) < 1e-9),
    ).toBe(true)
  })

  it('are laid out by how wide a brush paints: none touches another or the edge, at any size and scatter', () => {
    const any = fc.tuple(fc.integer({ min: 1, max: 4096 }), fc.integer({ min: 0, max: 1200 }))
    fc.assert(
      fc.property(any, ([sizePx, acrossPct]) => {
        const recipe = defaultRecipe({ sizePx })
        recipe.path.scatter.acrossPct = acrossPct
        const { strokes, recipe: shown, scale } = layOutGauge(recipe, WIDTH, HEIGHT)
        const reach = (shown.mark.sizePx * (1 + (2 * acrossPct) / 100)) / 2
        const spans = [strokes.level, strokes.curve, strokes.zigzag, strokes.stamps[0]].map((samples) => [
          Math.min(...ys(samples)) - reach,
          Math.max(...ys(samples)) + reach,
        ])
        for (const [i, [top, bottom]] of spans.entries()) {
          expect(top).toBeGreaterThanOrEqual((spans[i - 1]?.[1] ?? 0) - 1e-6)
          expect(bottom).toBeLessThanOrEqual(HEIGHT + 1e-6)
        }
        expect(scale).toBeLessThanOrEqual(1)
        expect(shown.mark.sizePx).toBeCloseTo(sizePx * scale, 6)
      }),
    )
    expect(layOutGauge(defaultRecipe({ sizePx: 40 }), WIDTH, HEIGHT).scale).toBe(1)
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
