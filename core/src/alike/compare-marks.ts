import type { Mark } from './mark.ts'
import { type Fit, layFitted, registerGrids, soften } from './register.ts'
import { swapsSides, TURNS, type Turn, turnedPlaces } from './turns.ts'

/** How two marks agree once the second is turned and laid over the first. */
export type Agreement = {
  turn: Turn
  fit: Fit
  /** How far their proportions are apart, as ln of the ratio of the ratios. */
  ratioOff: number
  /** Correlation of the shapes, below none where one is the other's negative; 1 where both are flat. */
  shape: number
  /** Correlation of the shapes where both are painted; 1 where both are flat there. */
  inside: number
  /** The largest difference of shape over a small neighbourhood, once levels are fitted, as a share of the range. */
  worst: number
  /** Correlation of lightness where both are painted; 1 where both have one tone, 0 where only one has. */
  tone: number
  /** The largest difference of lightness over a small neighbourhood, once the line through all is taken off. */
  toneWorst: number
  /** Mean distance of the colours in OKLab where both are painted; undefined where only one has its own colours. */
  colourOff: number | undefined
  /** How much of the second one's shape is left of the first one's, inside: other levels between none and most. */
  gain: number
}

export type Correlation = { r: number; gain: number; off: number }

/** Least variance of a layer that says anything. */
const FLAT_VARIANCE = 0.0002
const FLAT_TONE = 0.0016

/** Pearson's correlation of two layers over the weights, and the line that takes a to b. */
function correlate(a: Float32Array, b: Float32Array, weights?: Float32Array, flat = FLAT_VARIANCE): Correlation {
  let [n, sa, sb, saa, sbb, sab] = [0, 0, 0, 0, 0, 0]
  for (let i = 0; i < a.length; i++) {
    const w = weights ? weights[i] : 1
    n += w
    sa += w * a[i]
    sb += w * b[i]
    saa += w * a[i] * a[i]
    sbb += w * b[i] * b[i]
    sab += w * a[i] * b[i]
  }
  if (n === 0) return { r: 1, gain: 1, off: 0 }
  const va = saa / n - (sa / n) ** 2
  const vb = sbb / n - (sb / n) ** 2
  const vab = sab / n - (sa * sb) / n ** 2
  if (va < flat && vb < flat) return { r: 1, gain: 1, off: sb / n - sa / n }
  // One that is flat correlates with nothing.
  const r = vab / Math.sqrt(Math.max(va, flat) * Math.max(vb, flat))
  const gain = vab / Math.max(va, flat)
  return { r, gain, off: sb / n - (gain * sa) / n }
}

/** How much better another turn must be than none: what looks the same both ways is not turned. */
const TURN_BONUS = 0.02

/** The turn that brings the second mark over the first best. @returns Also how well, at most about 1. */
export function findTurn(a: Mark, b: Mark): { turn: Turn; score: number } {
  let best: { turn: Turn; score: number } = { turn: TURNS[0], score: -1 }
  let bestScore = -1
  for (const turn of TURNS) {
    const places = turnedPlaces(turn, a.side)
    const shape = correlateAt(a.shape, b.shape, places)
    const tone = a.tone && b.tone ? Math.abs(correlateAt(a.tone, b.tone, places, 0.05)) : 1
    const score = Math.min(Math.abs(shape), tone)
    const weighed =
      score + Math.abs(shape) / 10 + (turn === TURNS[0] ? TURN_BONUS : 0) + (shape > 0 ? TURN_BONUS / 2 : 0)
    if (weighed > bestScore) {
      best = { turn, score }
      bestScore = weighed
    }
  }
  return best
}

function correlateAt(a: Float32Array, b: Float32Array, places: Int32Array, flat = FLAT_VARIANCE): number {
  const n = a.length
  let [sa, sb, saa, sbb, sab] = [0, 0, 0, 0, 0]
  for (let i = 0; i < n; i++) {
    const y = b[places[i]]
    sa += a[i]
    sb += y
    saa += a[i] * a[i]
    sbb += y * y
    sab += a[i] * y
  }
  const va = saa / n - (sa / n) ** 2
  const vb = sbb / n - (sb / n) ** 2
  if (va < flat && vb < flat) return 1
  return (sab / n - (sa * sb) / n ** 2) / Math.sqrt(Math.max(va, flat) * Math.max(vb, flat))
}

const PAINTED_FROM = 0.3
/** What is painted from edge to edge: at the rim of a mark the ground shines in. */
const WHOLLY = 0.9
/** A span of lightness below which differences are measured against this one. */
const LEAST_RANGE = 0.25

/** Compares two marks laid on grids of one size. */
export function compareMarks(a: Mark, b: Mark): Agreement {
  const { side } = a
  const { turn } = findTurn(a, b)
  const places = turnedPlaces(turn, side)
  const toTurned = (grid: Float32Array) => grid.map((_, i) => grid[places[i]])
  const fit = registerGrids(a.shape, toTurned(b.shape), side)
  const lay = (grid: Float32Array) => layFitted(toTurned(grid), side, fit)
  const over = soften(lay(b.shape), side)
  const under = soften(a.shape, side)
  const { r, gain, off } = correlate(under, over)
  const core = under.map((value, i) => (value > PAINTED_FROM || over[i] > PAINTED_FROM ? 1 : 0))
  const weights = under.map((value, i) => Math.min(value, over[i]))
  const ratio = Math.log(b.widthPx / b.heightPx) * (swapsSides(turn) ? -1 : 1)
  return {
    turn,
    fit,
    ratioOff: Math.abs(Math.log(a.widthPx / a.heightPx) - ratio),
    shape: r,
    inside: correlate(under, over, core, 0.006).r,
    worst: worstOf(under, over, side, gain, off),
    ...compareTones(a, b, lay, weights),
    colourOff: compareColours(a, b, lay, weights),
    gain,
  }
}

function worstOf(a: Float32Array, b: Float32Array, side: number, gain: number, off: number): number {
  const rest = soften(
    b.map((value, i) => value - (gain * a[i] + off)),
    side,
    2,
  )
  let [worst, low, high] = [0, Number.POSITIVE_INFINITY, 0]
  for (let i = 0; i < rest.length; i++) {
    worst = Math.max(worst, Math.abs(rest[i]))
    low = Math.min(low, b[i])
    high = Math.max(high, b[i])
  }
  return worst / Math.max(high - low, 0.1)
}

type Lay = (grid: Float32Array) => Float32Array

function compareTones(a: Mark, b: Mark, lay: Lay, weights: Float32Array): Pick<Agreement, 'tone' | 'toneWorst'> {
  if (!a.colour && !b.colour) return { tone: 1, toneWorst: 0 }
  if (!a.colour || !b.colour) return { tone: 0, toneWorst: 1 }
  const over = softenWithin(lay(b.colour.L), weights, a.side)
  const under = softenWithin(a.colour.L, weights, a.side)
  const { r, gain, off } = correlate(under, over, weights, FLAT_TONE)
  const rest = soften(
    over.map((L, i) => (weights[i] > WHOLLY ? L - (gain * under[i] + off) : 0)),
    a.side,
    2,
  )
  let [worst, low, high] = [0, 1, 0]
  for (let i = 0; i < rest.length; i++) {
    if (weights[i] <= WHOLLY) continue
    worst = Math.max(worst, Math.abs(rest[i]))
    low = Math.min(low, over[i])
    high = Math.max(high, over[i])
  }
  return { tone: r, toneWorst: worst / Math.max(LEAST_RANGE, high - low) }
}

/** Softens what lies inside a mark, with nothing of what lies outside. */
function softenWithin(grid: Float32Array, weights: Float32Array, side: number): Float32Array {
  const sums = soften(
    grid.map((value, i) => value * weights[i]),
    side,
  )
  const shares = soften(weights, side)
  return sums.map((sum, i) => (shares[i] > 0 ? sum / shares[i] : 0))
}

function compareColours(a: Mark, b: Mark, lay: Lay, weights: Float32Array): number | undefined {
  if (!a.colour && !b.colour) return 0
  if (!a.colour || !b.colour) return undefined
  const [L, A, B] = [lay(b.colour.L), lay(b.colour.a), lay(b.colour.b)]
  // At rims the ground shines in: they count only for what is nothing but rims.
  const isWhole = weights.some((weight) => weight > WHOLLY)
  let [sum, weight] = [0, 0]
  for (let i = 0; i < L.length; i++) {
    if (weights[i] < (isWhole ? WHOLLY : WHOLLY / 2)) continue
    weight += weights[i]
    sum += weights[i] * Math.hypot(a.colour.L[i] - L[i], a.colour.a[i] - A[i], a.colour.b[i] - B[i])
  }
  return weight === 0 ? 0 : sum / weight
}
