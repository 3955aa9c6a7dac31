import type { Recipe } from '../brush/recipe.ts'
import type { Likeness } from './like-mark.ts'
import { LAID_ROWS, LAID_WIDTH_PX, type StraightStroke } from './stroke-plane.ts'

/**
 * What a stroke is told by: numbers 0…1 of what it looks like wherever one cuts it, so that two strokes of one brush come close
 * however chance has laid its marks.
 */
type Feature = {
  /** How many numbers it is. */
  count: number
  /** What a difference of one of its numbers counts for; found by trial on strokes of clip art with recipes drawn at random. */
  weight: number
  measure(stroke: Measured): number[]
}

/** A stroke, and what is left of its cover once each row's mean is taken away. */
type Measured = StraightStroke & { rest: Float32Array; behaviour: Behaviour }
type Behaviour = Recipe['colour']['behaviour']

const PROFILE_BINS = 16
const LEVEL_BINS = 8
/** Distances at which a stroke is compared with itself, px of the laid stroke. */
const LAGS_ALONG = [1, 2, 3, 6, 12, 24, 36, 48]
const LAGS_ACROSS = [1, 2, 3, 6, 12]

/** How much paint lies at each distance from the middle: hard or soft edges, two tracks, a spray. */
const profile: Feature = {
  count: PROFILE_BINS,
  weight: 1,
  measure({ width, cover }) {
    const rows = LAID_ROWS / PROFILE_BINS
    return Array.from({ length: PROFILE_BINS }, (_, bin) => {
      let sum = 0
      for (let i = bin * rows * width; i < (bin + 1) * rows * width; i++) sum += cover[i]
      return sum / (rows * width)
    })
  },
}

/** How much of the stroke's places are how full. */
const levels: Feature = {
  count: LEVEL_BINS,
  weight: 1,
  measure({ width, cover }) {
    const counts = new Array<number>(LEVEL_BINS).fill(0)
    const from = ((LAID_ROWS - LAID_WIDTH_PX) / 2) * width
    const n = LAID_WIDTH_PX * width
    for (let i = from; i < from + n; i++) counts[Math.min(LEVEL_BINS - 1, Math.floor(cover[i] * LEVEL_BINS))]++
    return counts.map((count) => count / n)
  },
}

/** How alike the stroke is to itself some way further along, and across: the pitch of its marks, the size of its grain. */
const along: Feature = { count: LAGS_ALONG.length, weight: 1.5, measure: (stroke) => repeats(stroke, LAGS_ALONG, true) }
const across: Feature = {
  count: LAGS_ACROSS.length,
  weight: 1,
  measure: (stroke) => repeats(stroke, LAGS_ACROSS, false),
}

/** How far what comes and goes is from its mean, and how that is spread from the middle outwards. */
const unrest: Feature = {
  count: 4,
  weight: 2,
  measure({ width, height, rest }) {
    const rows = height / 4
    return Array.from({ length: 4 }, (_, part) => {
      let sum = 0
      for (let i = part * rows * width; i < (part + 1) * rows * width; i++) sum += rest[i] ** 2
      return Math.min(1, 2 * Math.sqrt(sum / (rows * width)))
    })
  },
}

const colour: Feature = {
  count: 3,
  weight: 1.5,
  measure: ({ width, height, cover, dark, chroma: [a, b] }) => {
    let [paint, darkness] = [0, 0]
    for (let i = 0; i < width * height; i++) {
      paint += cover[i]
      darkness += dark[i]
    }
    return [darkness / paint, (1 + a) / 2, (1 + b) / 2]
  },
}

/** What it does to what is there: a stroke that takes paint away looks like none that lays it. */
const behaviour: Feature = {
  count: 2,
  weight: 0.6,
  measure: (stroke) => (['erase', 'smear'] as const).map((each) => (stroke.behaviour === each ? 1 : 0)),
}

const FEATURES: readonly Feature[] = [profile, levels, along, across, unrest, colour, behaviour]
const LENGTH = FEATURES.reduce((sum, { count }) => sum + count, 0)
/** By how much each number counts: a feature counts alike however many numbers it is. */
const WEIGHTS = Float32Array.from(
  FEATURES.flatMap(({ count, weight }) => new Array<number>(count).fill(weight ** 2 / count)),
)

/** Bytes of one signature. */
export const SIGNATURE_BYTES = LENGTH

/** The signature of a stroke as bytes, 255ths. */
export function signatureOf(stroke: StraightStroke, does: Behaviour = 'paint'): Uint8Array {
  const measured = { ...stroke, rest: restOf(stroke), behaviour: does }
  const numbers = FEATURES.flatMap(({ measure }) => measure(measured))
  return Uint8Array.from(numbers, (value) => Math.round(255 * Math.min(1, Math.max(0, value))))
}

/** The distance at which two strokes have nothing in common any more; found by trial. */
const FAR = 1

/**
 * How like two strokes are by their signatures, 100 the same … 0 nothing in common.
 * @throws {RangeError} If one is not a whole signature.
 */
export function strokeLikeness(a: Uint8Array, b: Uint8Array): number {
  if (a.length !== LENGTH || b.length !== LENGTH)
    throw new RangeError(`a signature of ${a.length} bytes: expected ${LENGTH}`)
  let sum = 0
  for (let i = 0; i < LENGTH; i++) sum += WEIGHTS[i] * ((a[i] - b[i]) / 255) ** 2
  return 100 * Math.max(0, 1 - Math.sqrt(sum) / FAR)
}

/** Which of many signatures are most like a wanted one, the best first. @throws {RangeError} If one is not whole. */
export function rankSignatures(wanted: Uint8Array, candidates: readonly Uint8Array[], most: number): Likeness[] {
  return candidates
    .map((each, at) => ({ at, likeness: strokeLikeness(wanted, each) }))
    .sort((a, b) => b.likeness - a.likeness)
    .slice(0, most)
}

function restOf({ width, height, cover }: StraightStroke): Float32Array {
  const rest = new Float32Array(width * height)
  for (let y = 0; y < height; y++) {
    const row = cover.subarray(y * width, (y + 1) * width)
    let mean = 0
    for (const value of row) mean += value
    mean /= width
    for (let x = 0; x < width; x++) rest[y * width + x] = row[x] - mean
  }
  return rest
}

/** Correlation of what comes and goes with itself at each distance, from −1…1 to 0…1; a half where nothing does. */
function repeats({ width, height, rest }: Measured, lags: readonly number[], isAlong: boolean): number[] {
  let power = 0
  for (const value of rest) power += value ** 2
  const floor = width * height * 1e-4
  return lags.map((lag) => {
    const [dx, dy] = isAlong ? [lag, 0] : [0, lag]
    if (dx >= width) return 0.5
    let sum = 0
    for (let y = 0; y + dy < height; y++) {
      for (let x = 0; x + dx < width; x++) sum += rest[y * width + x] * rest[(y + dy) * width + x + dx]
    }
    const share = (width * height) / ((width - dx) * (height - dy))
    return Math.min(1, Math.max(0, 0.5 + (sum * share) / (power + floor) / 2))
  })
}
