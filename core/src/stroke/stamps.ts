import { uniformFloat64 } from 'pure-rand/distribution/uniformFloat64'
import { xoroshiro128plus } from 'pure-rand/generator/xoroshiro128plus'
import { type Curve, type FrameRule, type Recipe, spreadRange } from '../brush/recipe.ts'
import { type CurveFn, createCurve } from './curve.ts'
import { SAMPLE, SAMPLE_STRIDE, type Samples } from './samples.ts'
import { cosSinDeg, directionDeg } from './trig.ts'

/** Numbers per stamp: centre in px, px drawn per tip px, cosine and sine of its turn, squash, paint 0…1, frame index. */
export const STAMP_STRIDE = 8
export const STAMP = { x: 0, y: 1, scale: 2, cos: 3, sin: 4, squash: 5, alpha: 6, frame: 7 } as const

/** A tip's geometry is all that placing stamps needs. */
export type FrameSize = { width: number; height: number }

/** However small the spacing, stamps stand at least this far apart, px; closer ones cannot be told apart. */
const STEP_MIN_PX = 0.5
/** Most stamps one stroke may hold, so that no recipe can freeze the page. */
export const STAMPS_MAX = 100_000
/** Speed at which a curve's input is 1, px per ms; common practice, no source. */
const SPEED_FULL = 4

/** Draws taken for every stamp, used or not: changing one variation never reshuffles the others. */
const DRAWS = { size: 0, angle: 1, squash: 2, opacity: 3, flow: 4, across: 5, along: 6, frame: 7 } as const
const DRAWS_PER_STAMP = 12 // four spare for hue, saturation, value and grain

type Compiled = {
  pressure: Partial<Record<keyof Recipe['hand']['pressure'], CurveFn>>
  tilt: Partial<Record<keyof Recipe['hand']['tilt'], CurveFn>>
  speed: Partial<Record<keyof Recipe['hand']['speed'], CurveFn>>
}

/**
 * Places the stamps of one stroke, sample by sample. The same seed, recipe and samples give the same stamps bit for
 * bit, however the samples are cut into pieces.
 */
export class StampPlacer {
  readonly #recipe: Recipe
  readonly #frames: readonly FrameSize[]
  readonly #curves: Compiled
  readonly #random: ReturnType<typeof xoroshiro128plus>
  readonly #draws = new Float64Array(DRAWS_PER_STAMP)
  readonly #turn = new Float64Array(2)
  readonly #last = new Float64Array(SAMPLE_STRIDE)
  #started = false
  #untilNext = 0
  #placed = 0
  #speed = 0
  #firstDirection: number | undefined
  #out: number[] = []

  constructor(recipe: Recipe, frames: readonly FrameSize[], seed: number) {
    this.#recipe = recipe
    this.#frames = frames
    this.#random = xoroshiro128plus(seed | 0)
    const { pressure, tilt, speed } = recipe.hand
    this.#curves = { pressure: compile(pressure), tilt: compile(tilt), speed: compile(speed) }
  }

  /** Takes more of the path. @returns The stamps it adds, `STAMP_STRIDE` numbers each. */
  add(samples: Samples): Float64Array {
    this.#out = []
    for (let i = 0; i + SAMPLE_STRIDE <= samples.length; i += SAMPLE_STRIDE) this.#addSample(samples, i)
    return Float64Array.from(this.#out)
  }

  #addSample(samples: Samples, i: number): void {
    const last = this.#last
    if (!this.#started) {
      this.#started = true
      last.set(samples.subarray(i, i + SAMPLE_STRIDE))
      // A path that is one point is a single stamp; its direction is unknown, so it lies as drawn.
      this.#untilNext = this.#stampsAt(last, 0, 0)
      return
    }
    const dx = samples[i] - last[SAMPLE.x]
    const dy = samples[i + 1] - last[SAMPLE.y]
    const length = Math.sqrt(dx * dx + dy * dy)
    const ms = samples[i + SAMPLE.ms] - last[SAMPLE.ms]
    if (ms > 0) this.#speed = Math.min(1, length / ms / SPEED_FULL)
    const from = last.slice()
    const at = new Float64Array(SAMPLE_STRIDE)
    let done = 0
    while (length - done >= this.#untilNext && this.#placed < STAMPS_MAX) {
      done += this.#untilNext
      const t = done / length
      for (let k = 0; k < SAMPLE_STRIDE; k++) at[k] = from[k] + (samples[i + k] - from[k]) * t
      this.#untilNext = this.#stampsAt(at, dx, dy)
    }
    this.#untilNext -= length - done
    last.set(samples.subarray(i, i + SAMPLE_STRIDE))
  }

  /** Places one step's stamps. @returns The distance to the next step, px. */
  #stampsAt(at: Float64Array, dx: number, dy: number): number {
    const { mark, path } = this.#recipe
    const direction = dx === 0 && dy === 0 ? 0 : directionDeg(dx, dy)
    if (this.#firstDirection === undefined && (dx !== 0 || dy !== 0)) this.#firstDirection = direction
    const sizePx = mark.sizePx * this.#curved('size', at)
    let step = 0
    for (let n = 0; n < path.count && this.#placed < STAMPS_MAX; n++) {
      const frame = this.#pickFrame(at, direction)
      const { width, height } = this.#frames[frame]
      const scale = sizePx / Math.max(width, height)
      if (n === 0) step = (path.spacingPct / 100) * width * scale
      this.#place(at, direction, frame, scale, width * scale)
      this.#placed++
    }
    return Math.max(STEP_MIN_PX, step)
  }

  #place(at: Float64Array, direction: number, frame: number, scale: number, widthPx: number): void {
    const { mark, path, variation, colour } = this.#recipe
    const draws = this.#draws
    const base =
      mark.angle.mode === 'following' ? direction : mark.angle.mode === 'first' ? (this.#firstDirection ?? 0) : 0
    const turnDeg = base + mark.angle.deg + variation.angle * 180 * (2 * draws[DRAWS.angle] - 1) + this.#turned(at)
    const reach = (path.scatterPct / 100) * widthPx
    const across = path.scatterAxis === 'along' ? 0 : reach * (2 * draws[DRAWS.across] - 1)
    const along = path.scatterAxis === 'across' ? 0 : reach * (2 * draws[DRAWS.along] - 1)
    cosSinDeg(direction, this.#turn)
    const [pathCos, pathSin] = this.#turn
    const x = at[SAMPLE.x] + along * pathCos - across * pathSin
    const y = at[SAMPLE.y] + along * pathSin + across * pathCos
    cosSinDeg(turnDeg, this.#turn)
    const flow = colour.flow * drawn(variation.flow, draws[DRAWS.flow]) * this.#curved('flow', at)
    const opacity = drawn(variation.opacity, draws[DRAWS.opacity]) * this.#curved('opacity', at)
    this.#out.push(
      x,
      y,
      scale * drawn(variation.size, draws[DRAWS.size]),
      this.#turn[0],
      this.#turn[1],
      mark.squash * drawn(variation.squash, draws[DRAWS.squash]),
      Math.min(1, flow * opacity),
      frame,
    )
  }

  #pickFrame(at: Float64Array, direction: number): number {
    for (let k = 0; k < DRAWS_PER_STAMP; k++) this.#draws[k] = uniformFloat64(this.#random)
    const rules = this.#recipe.path.nextFrame
    let index = 0
    // In-order dimensions count like the digits of one number, the last digit fastest.
    let counter = this.#placed
    const digits: number[] = []
    for (let d = rules.length - 1; d >= 0; d--) {
      digits[d] = counter % rules[d].frames
      if (rules[d].rule === 'inOrder') counter = Math.floor(counter / rules[d].frames)
    }
    let draw = this.#draws[DRAWS.frame]
    for (let d = 0; d < rules.length; d++) {
      const { rule, frames } = rules[d]
      const digit = rule === 'inOrder' ? digits[d] : this.#digit(rule, frames, draw, at, direction)
      if (rule === 'random') draw = draw * frames - digit // what is left of the draw serves the next dimension
      index = index * frames + digit
    }
    return index % this.#frames.length
  }

  #digit(rule: FrameRule, frames: number, draw: number, at: Float64Array, direction: number): number {
    const part = (share: number) => Math.max(0, Math.min(frames - 1, Math.floor(share * frames)))
    switch (rule) {
      case 'inOrder':
        return this.#placed % frames
      case 'random':
        return part(draw)
      case 'direction':
        return Math.floor((direction / 360) * frames + 0.5) % frames
      case 'pressure':
        return part(this.#curves.pressure.frame?.(at[SAMPLE.pressure]) ?? at[SAMPLE.pressure])
      case 'speed':
        return part(this.#curves.speed.frame?.(this.#speed) ?? this.#speed)
      case 'tiltX':
        return part((at[SAMPLE.tiltX] + 90) / 180)
      case 'tiltY':
        return part((at[SAMPLE.tiltY] + 90) / 180)
    }
  }

  /** Product of the curves that lead to `part`; 1 where there is none. */
  #curved(part: 'size' | 'opacity' | 'flow', at: Float64Array): number {
    const { pressure, tilt, speed } = this.#curves
    let factor = 1
    if (pressure[part]) factor *= pressure[part](at[SAMPLE.pressure])
    if (tilt[part]) factor *= tilt[part](tiltAmount(at))
    if (speed[part]) factor *= speed[part](this.#speed)
    return factor
  }

  /** Turn added by angle curves: out 0…1 turns 0…360 degrees. */
  #turned(at: Float64Array): number {
    const { pressure, tilt, speed } = this.#curves
    let deg = 0
    if (pressure.angle) deg += 360 * pressure.angle(at[SAMPLE.pressure])
    if (tilt.angle) deg += 360 * tilt.angle(tiltAmount(at))
    if (speed.angle) deg += 360 * speed.angle(this.#speed)
    return deg
  }
}

/** Places the stamps of a whole stroke at once. @returns `STAMP_STRIDE` numbers a stamp. */
export function placeStamps(
  recipe: Recipe,
  frames: readonly FrameSize[],
  samples: Samples,
  seed: number,
): Float64Array {
  return new StampPlacer(recipe, frames, seed).add(samples)
}

function compile<Key extends string>(curves: Partial<Record<Key, Curve | undefined>>): Partial<Record<Key, CurveFn>> {
  const out: Partial<Record<Key, CurveFn>> = {}
  for (const key of Object.keys(curves) as Key[]) {
    const points = curves[key]
    if (points) out[key] = createCurve(points)
  }
  return out
}

function drawn(spread: Parameters<typeof spreadRange>[0], draw: number): number {
  const { from, to } = spreadRange(spread)
  return from + (to - from) * draw
}

const tiltAmount = (at: Float64Array) =>
  Math.min(1, Math.max(Math.abs(at[SAMPLE.tiltX]), Math.abs(at[SAMPLE.tiltY])) / 90)
