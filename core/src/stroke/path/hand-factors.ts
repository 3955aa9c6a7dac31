import type { Curve, Recipe } from '../../brush/recipe.ts'
import { type CurveFn, createCurve } from './curve.ts'
import { SAMPLE } from './samples.ts'

/** Speed at which a curve's input is 1, px per ms; common practice, no source. */
const SPEED_FULL = 4

type Part = keyof Recipe['hand']['pressure']
type Compiled = Partial<Record<Part, CurveFn>>

/** What the hand does to a stroke: the recipe's curves of pressure, tilt and speed, ready to be asked. */
export type HandFactors = {
  /** Product of the curves that lead to a part; 1 where there is none. */
  factor(part: 'size' | 'opacity' | 'flow', at: Float64Array, speed: number): number
  /** Turn added by angle curves, degrees: out 0…1 turns 0…360. */
  turnDeg(at: Float64Array, speed: number): number
  /** Where along the frames the hand points, 0…1. */
  frameShare(by: 'pressure' | 'speed' | 'tiltX' | 'tiltY', at: Float64Array, speed: number): number
  /** Speed 0…1 from one sample to the next; 0 where no time passed. */
  speedOf(from: Float64Array, to: Float64Array, lengthPx: number): number
}

export function createHandFactors({ hand }: Recipe): HandFactors {
  const [pressure, tilt, speed] = [compile(hand.pressure), compile(hand.tilt), compile(hand.speed)]
  const outputs = (part: Part, at: Float64Array, speedNow: number): (number | undefined)[] => [
    pressure[part]?.(at[SAMPLE.pressure]),
    tilt[part]?.(tiltAmount(at)),
    speed[part]?.(speedNow),
  ]
  return {
    factor: (part, at, speedNow) => outputs(part, at, speedNow).reduce<number>((all, one) => all * (one ?? 1), 1),
    turnDeg: (at, speedNow) => outputs('angle', at, speedNow).reduce<number>((all, one) => all + 360 * (one ?? 0), 0),
    frameShare(by, at, speedNow) {
      switch (by) {
        case 'pressure':
          return pressure.frame?.(at[SAMPLE.pressure]) ?? at[SAMPLE.pressure]
        case 'speed':
          return speed.frame?.(speedNow) ?? speedNow
        case 'tiltX':
        case 'tiltY': {
          const share = (at[SAMPLE[by]] + 90) / 180
          return tilt.frame?.(share) ?? share
        }
      }
    },
    speedOf: (from, to, lengthPx) => {
      const ms = to[SAMPLE.ms] - from[SAMPLE.ms]
      return ms > 0 ? Math.min(1, lengthPx / ms / SPEED_FULL) : 0
    },
  }
}

function compile(curves: Partial<Record<Part, Curve | undefined>>): Compiled {
  const out: Compiled = {}
  for (const part of Object.keys(curves) as Part[]) {
    const points = curves[part]
    if (points) out[part] = createCurve(points)
  }
  return out
}

const tiltAmount = (at: Float64Array) =>
  Math.min(1, Math.max(Math.abs(at[SAMPLE.tiltX]), Math.abs(at[SAMPLE.tiltY])) / 90)
