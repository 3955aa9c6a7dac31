import type { GrainLevel, PreparedGrain } from './prepare-grain.ts'

/** How a grain lies on the canvas: the level to read, its period and its steps along a row, 16.16 fixed point. */
export type LaidGrain = {
  level: GrainLevel
  periodU: number
  periodV: number
  du: number
  dv: number
  /** Where the level is read at the middle of a canvas pixel, 0 ≤ u < periodU and 0 ≤ v < periodV. */
  startAt(x: number, y: number): { u: number; v: number }
}

export type GrainPose = {
  /** Canvas px per grain px. */
  scale: number
  /** Cosine and sine of the grain's turn. */
  cos: number
  sin: number
  /** The canvas point that the grain's corner lies on, px. */
  x: number
  y: number
}

const FIXED_ONE = 65_536

/** Lays a grain on the canvas. The same pose gives the same weights, wherever a row begins. */
export function layGrain(grain: PreparedGrain, { scale, cos, sin, x: originX, y: originY }: GrainPose): LaidGrain {
  const level = grain.levelFor(scale)
  // level px per canvas px; a level is not always an exact part of the tile
  const perU = level.width / grain.width / scale
  const perV = level.height / grain.height / scale
  const periodU = level.width * FIXED_ONE
  const periodV = level.height * FIXED_ONE
  return {
    level,
    periodU,
    periodV,
    du: Math.round(cos * perU * FIXED_ONE) % periodU,
    dv: Math.round(-sin * perV * FIXED_ONE) % periodV,
    startAt(x, y) {
      const dx = x + 0.5 - originX
      const dy = y + 0.5 - originY
      const u = (cos * dx + sin * dy) * perU + level.origin
      const v = (-sin * dx + cos * dy) * perV + level.origin
      return { u: wrap(Math.floor(u * FIXED_ONE), periodU), v: wrap(Math.floor(v * FIXED_ONE), periodV) }
    },
  }
}

const wrap = (value: number, period: number) => ((value % period) + period) % period
