import { type FrameRule, pointsRange, type Recipe, type Spread, spreadRange, turnRange } from '../../brush/recipe.ts'
import { createHandFactors, type HandFactors } from '../path/hand-factors.ts'
import { createRandom, type Random } from '../path/random.ts'
import { SAMPLE, SAMPLE_STRIDE, type Samples } from '../path/samples.ts'
import { createTaper } from '../path/taper.ts'
import { cosSinDeg, directionDeg, tiltDirectionDeg } from '../path/trig.ts'

/**
 * Numbers per stamp: centre in px, px drawn per tip px, cosine and sine of its turn, squash, paint 0…1, frame index,
 * hue in degrees, saturation and value in points, and a uniform draw 0…1 for the turn of its grain.
 */
export const STAMP_STRIDE = 12
export const STAMP = {
  x: 0, y: 1, scale: 2, cos: 3, sin: 4, squash: 5, alpha: 6, frame: 7, hue: 8, saturation: 9, value: 10, grain: 11,
} as const // biome-ignore format: a row of numbers

/** A tip's geometry is all that placing stamps needs. */
export type FrameSize = { width: number; height: number }

/** However small the spacing, stamps stand at least this far apart, px; closer ones cannot be told apart. */
const STEP_MIN_PX = 0.5
/** Most stamps one stroke may hold, so that no recipe can freeze the page. */
export const STAMPS_MAX = 100_000

/** Draws taken for every stamp, used or not: changing one variation never reshuffles the others. */
const DRAWS = {
  size: 0, angle: 1, squash: 2, opacity: 3, flow: 4, across: 5, along: 6, frame: 7, hue: 8, saturation: 9, value: 10, grain: 11,
} as const // biome-ignore format: a row of numbers
const DRAWS_PER_STAMP = 12

type Laying = { direction: number; frame: number; scale: number; widthPx: number; cover: number }
const NO_TAPER = { size: 1, opacity: 1 }

/**
 * Places the stamps of one stroke, sample by sample. The same seed, recipe and samples give the same stamps bit for
 * bit, however the samples are cut into pieces.
 */
export class StampPlacer {
  readonly #recipe: Recipe
  readonly #frames: readonly FrameSize[]
  readonly #hand: HandFactors
  readonly #random: Random
  readonly #draws = new Float64Array(DRAWS_PER_STAMP)
  readonly #turn = new Float64Array(2)
  readonly #last = new Float64Array(SAMPLE_STRIDE)
  #started = false
  /** The first stamps wait for the stroke's direction. */
  #startWaits = false
  #untilNext = 0
  #placed = 0
  #speed = 0
  #firstDirection: number | undefined
  #out: number[] = []
  readonly #taper: ReturnType<typeof createTaper>
  /** Samples that wait: how they taper depends on where the stroke will end. */
  #waiting: { sample: Float64Array; distancePx: number }[] = []
  #heardPx = 0
  #walkedPx = 0
  #lengthPx = Number.POSITIVE_INFINITY

  readonly #most: number

  /** @param most How many stamps it may place, if fewer than any stroke may hold. */
  constructor(recipe: Recipe, frames: readonly FrameSize[], seed: number, most = STAMPS_MAX) {
    this.#most = Math.min(STAMPS_MAX, most)
    this.#recipe = recipe
    this.#frames = frames
    this.#random = createRandom(seed)
    this.#hand = createHandFactors(recipe)
    this.#taper = createTaper(recipe.path.taper)
  }

  /** Whether the stroke holds as many stamps as it may. */
  get isFull(): boolean {
    return this.#placed >= this.#most
  }

  /**
   * Takes more of the path. Where the recipe tapers the end, stamps come only once it is known that they lie before it.
   * @returns The stamps it adds, `STAMP_STRIDE` numbers each.
   */
  add(samples: Samples): Float64Array {
    this.#out = []
    for (let i = 0; i + SAMPLE_STRIDE <= samples.length; i += SAMPLE_STRIDE) {
      const sample = samples.subarray(i, i + SAMPLE_STRIDE)
      if (!sample.every(Number.isFinite)) continue
      if (this.#taper) this.#wait(sample, this.#taper.endPx)
      else this.#addSample(sample)
    }
    return Float64Array.from(this.#out)
  }

  /** Ends the stroke. @returns The stamps that waited for its end. */
  finish(): Float64Array {
    this.#out = []
    this.#lengthPx = this.#heardPx
    for (const { sample } of this.#waiting) this.#addSample(sample)
    this.#waiting = []
    // A path that is one point is a single stamp; it has no direction, so it lies as drawn.
    if (this.#startWaits) this.#stampsAt(this.#last, 0, 0)
    this.#startWaits = false
    return Float64Array.from(this.#out)
  }

  #wait(sample: Float64Array, endPx: number): void {
    const before = this.#waiting.at(-1)?.sample ?? (this.#started ? this.#last : sample)
    const dx = sample[SAMPLE.x] - before[SAMPLE.x]
    const dy = sample[SAMPLE.y] - before[SAMPLE.y]
    this.#heardPx += Math.sqrt(dx * dx + dy * dy)
    this.#waiting.push({ sample: sample.slice(), distancePx: this.#heardPx })
    // A stroke without length is a tap, which does not taper: nothing is placed before there is some.
    let ready = 0
    while (
      ready < this.#waiting.length &&
      this.#heardPx > 0 &&
      this.#waiting[ready].distancePx <= this.#heardPx - endPx
    ) {
      this.#addSample(this.#waiting[ready].sample)
      ready++
    }
    this.#waiting.splice(0, ready)
  }

  #addSample(sample: Float64Array): void {
    const last = this.#last
    if (!this.#started) {
      this.#started = true
      last.set(sample)
      this.#startWaits = needsDirection(this.#recipe)
      if (!this.#startWaits) this.#untilNext = this.#stampsAt(last, 0, 0)
      return
    }
    const dx = sample[SAMPLE.x] - last[SAMPLE.x]
    const dy = sample[SAMPLE.y] - last[SAMPLE.y]
    const length = Math.sqrt(dx * dx + dy * dy)
    if (this.#startWaits) {
      if (length === 0) return
      this.#startWaits = false
      this.#untilNext = this.#stampsAt(last, dx, dy)
    }
    if (sample[SAMPLE.ms] > last[SAMPLE.ms]) this.#speed = this.#hand.speedOf(last, sample, length)
    const from = last.slice()
    const at = new Float64Array(SAMPLE_STRIDE)
    const walked = this.#walkedPx
    let done = 0
    while (length - done >= this.#untilNext && this.#placed < this.#most) {
      done += this.#untilNext
      const t = done / length
      for (let k = 0; k < SAMPLE_STRIDE; k++) at[k] = from[k] + (sample[k] - from[k]) * t
      this.#walkedPx = walked + done
      this.#untilNext = this.#stampsAt(at, dx, dy)
    }
    this.#untilNext -= length - done
    this.#walkedPx = walked + length
    last.set(sample)
  }

  /** Places one step's stamps. @returns The distance to the next step, px. */
  #stampsAt(at: Float64Array, dx: number, dy: number): number {
    const { mark, path } = this.#recipe
    const direction = dx === 0 && dy === 0 ? 0 : directionDeg(dx, dy)
    if (this.#firstDirection === undefined && (dx !== 0 || dy !== 0)) this.#firstDirection = direction
    const taper = this.#taper?.at(this.#walkedPx, this.#lengthPx) ?? NO_TAPER
    const sizePx = mark.sizePx * this.#hand.factor('size', at, this.#speed) * taper.size
    let step = 0
    for (let n = 0; n < path.count && this.#placed < this.#most; n++) {
      const frame = this.#pickFrame(at, direction)
      const { width, height } = this.#frames[frame]
      const scale = sizePx / Math.max(width, height)
      if (n === 0) step = (path.spacingPct / 100) * width * scale
      this.#place(at, { direction, frame, scale, widthPx: width * scale, cover: taper.opacity })
      this.#placed++
    }
    return Math.max(STEP_MIN_PX, step)
  }

  #place(at: Float64Array, { direction, frame, scale, widthPx, cover }: Laying): void {
    const { mark, path, variation, colour } = this.#recipe
    const draws = this.#draws
    const turnDeg =
      this.#baseAngle(at, direction) +
      mark.angle.deg +
      between(turnRange(variation.angle), draws[DRAWS.angle]) +
      this.#hand.turnDeg(at, this.#speed)
    const across = (path.scatter.acrossPct / 100) * widthPx * (2 * draws[DRAWS.across] - 1)
    const along = (path.scatter.alongPct / 100) * widthPx * (2 * draws[DRAWS.along] - 1)
    cosSinDeg(direction, this.#turn)
    const [pathCos, pathSin] = this.#turn
    const x = at[SAMPLE.x] + along * pathCos - across * pathSin
    const y = at[SAMPLE.y] + along * pathSin + across * pathCos
    cosSinDeg(turnDeg, this.#turn)
    const flow = colour.flow * drawn(variation.flow, draws[DRAWS.flow]) * this.#hand.factor('flow', at, this.#speed)
    const opacity =
      cover * drawn(variation.opacity, draws[DRAWS.opacity]) * this.#hand.factor('opacity', at, this.#speed)
    this.#out.push(
      x,
      y,
      scale * drawn(variation.size, draws[DRAWS.size]),
      this.#turn[0],
      this.#turn[1],
      mark.squash * drawn(variation.squash, draws[DRAWS.squash]),
      Math.min(1, flow * opacity),
      frame,
      between(turnRange(variation.hue), draws[DRAWS.hue]),
      between(pointsRange(variation.saturation), draws[DRAWS.saturation]),
      between(pointsRange(variation.value), draws[DRAWS.value]),
      draws[DRAWS.grain],
    )
  }

  #baseAngle(at: Float64Array, direction: number): number {
    switch (this.#recipe.mark.angle.mode) {
      case 'fixed':
        return 0
      case 'following':
        return direction
      case 'first':
        return this.#firstDirection ?? 0
      case 'tilt':
        return tiltDirectionDeg(at[SAMPLE.tiltX], at[SAMPLE.tiltY])
    }
  }

  #pickFrame(at: Float64Array, direction: number): number {
    for (let k = 0; k < DRAWS_PER_STAMP; k++) this.#draws[k] = this.#random()
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
      const digit = rule === 'inOrder' ? digits[d] : this.#digit(rule, { frames, draw, at, direction })
      if (rule === 'random') draw = draw * frames - digit // what is left of the draw serves the next dimension
      index = index * frames + digit
    }
    return index % this.#frames.length
  }

  #digit(rule: Exclude<FrameRule, 'inOrder'>, { frames, draw, at, direction }: Asked): number {
    const part = (share: number) => Math.max(0, Math.min(frames - 1, Math.floor(share * frames)))
    switch (rule) {
      case 'random':
        return part(draw)
      case 'direction':
        return Math.floor((direction / 360) * frames + 0.5) % frames
      case 'pressure':
      case 'speed':
      case 'tiltX':
      case 'tiltY':
        return part(this.#hand.frameShare(rule, at, this.#speed))
    }
  }
}

/** What a rule goes by: how many frames there are, a uniform draw, the sample and the path's direction there. */
type Asked = { frames: number; draw: number; at: Float64Array; direction: number }

/** Whether the way a stroke goes tells how its stamps lie, so that the first one has to wait for it. */
const needsDirection = ({ mark, path }: Recipe): boolean =>
  mark.angle.mode === 'following' ||
  mark.angle.mode === 'first' ||
  path.nextFrame.some(({ rule }) => rule === 'direction') ||
  path.scatter.acrossPct !== path.scatter.alongPct

/** Places the stamps of a whole stroke at once. @returns `STAMP_STRIDE` numbers a stamp. */
export function placeStamps(
  recipe: Recipe,
  frames: readonly FrameSize[],
  samples: Samples,
  seed: number,
): Float64Array {
  const placer = new StampPlacer(recipe, frames, seed)
  const placed = placer.add(samples)
  const rest = placer.finish()
  const all = new Float64Array(placed.length + rest.length)
  all.set(placed)
  all.set(rest, placed.length)
  return all
}

const between = ({ from, to }: { from: number; to: number }, draw: number) => from + (to - from) * draw
const drawn = (spread: Spread, draw: number) => between(spreadRange(spread), draw)
