import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { Centreline } from './centreline.ts'
import { SAMPLE, SAMPLE_STRIDE } from './samples.ts'

const coordinate = fc.double({ min: -500, max: 500, noNaN: true })
const anyPath = fc
  .array(fc.tuple(coordinate, coordinate, fc.double({ min: 0, max: 1, noNaN: true })), { minLength: 1, maxLength: 12 })
  .map((points) => Float64Array.from(points.flatMap(([x, y, pressure], i) => [x, y, pressure, 0, 0, i * 8])))

function lineOf(...paths: Float64Array[]): Centreline {
  const line = new Centreline()
  for (const samples of paths) line.add(samples)
  line.finish()
  return line
}
const flat = ({ points }: Centreline) => points.flatMap(({ at, distancePx }) => [...at, distancePx])

describe('a smoothed path', () => {
  it('keeps both ends, and its distances are the lengths between its points', () => {
    fc.assert(
      fc.property(anyPath, (samples) => {
        const { points } = lineOf(samples)
        expect([...points[0].at.subarray(0, 2)]).toEqual([...samples.subarray(0, 2)])
        const end = samples.subarray(-SAMPLE_STRIDE)
        expect(points.at(-1)?.at[SAMPLE.x]).toBeCloseTo(end[SAMPLE.x], 6)
        expect(points.at(-1)?.at[SAMPLE.y]).toBeCloseTo(end[SAMPLE.y], 6)
        let along = 0
        for (let i = 1; i < points.length; i++) {
          const [a, b] = [points[i - 1].at, points[i].at]
          along += Math.hypot(b[SAMPLE.x] - a[SAMPLE.x], b[SAMPLE.y] - a[SAMPLE.y])
          expect(points[i].distancePx).toBeCloseTo(along, 6)
        }
      }),
    )
  })

  it('never leaves the box of its samples, nor pressure its range: a spline of this kind stays in their hull', () => {
    fc.assert(
      fc.property(anyPath, (samples) => {
        const range = (part: number) => {
          const values = samples.filter((_, i) => i % SAMPLE_STRIDE === part)
          return [Math.min(...values) - 1e-6, Math.max(...values) + 1e-6]
        }
        for (const part of [SAMPLE.x, SAMPLE.y, SAMPLE.pressure]) {
          const [least, most] = range(part)
          for (const { at } of lineOf(samples).points) expect(at[part] >= least && at[part] <= most).toBe(true)
        }
      }),
    )
  })

  it('is the same whole or in pieces, and after going back to a mark', () => {
    fc.assert(
      fc.property(anyPath, anyPath, (one, two) => {
        const whole = new Float64Array([...one, ...two])
        const expected = flat(lineOf(whole))
        expect(flat(lineOf(one, two))).toEqual(expected)
        const line = new Centreline()
        line.add(one)
        const mark = line.mark()
        line.finish()
        line.goBack(mark)
        line.add(two)
        line.finish()
        expect(flat(line)).toEqual(expected)
      }),
    )
  })

  it('runs straight through samples on a line, and passes over those that are no numbers', () => {
    const line = lineOf(
      Float64Array.of(0, 0, 1, 0, 0, 0, 50, 50, 1, 0, 0, 1, Number.NaN, 7, 1, 0, 0, 2, 100, 100, 1, 0, 0, 3),
    )
    for (const { at } of line.points) expect(at[SAMPLE.x]).toBeCloseTo(at[SAMPLE.y], 9)
    expect(line.points.at(-1)?.distancePx).toBeCloseTo(100 * Math.SQRT2, 6)
  })
})
