import { greyAt } from '../raster/grey.ts'
import type { Pixels } from '../raster/pixels.ts'
import { likenessAt, likenessByLag, likenessOverWrap } from './self-likeness.ts'

/** So many rows tell where a picture repeats. */
const ROWS_MAX = 32
/** Longer lines are looked at coarsely first, then again near what was found. */
const COARSE_MAX = 600
/** Parts of a px that a correlation of whole ones tells apart. */
const TELLABLE_PX = 0.05
/** Shorter ones are the grain of the picture itself, px of the coarse look. */
const LEAST_PITCH = 2
/** A line repeats where it is so much like itself (Pearson's correlation); chosen so that leaves and sand do not. */
const REPEATS_FROM = 0.6
/** By so much more has the wrap to be like itself with the gap than without; more where the pattern is unlike itself inside. */
const FITS_BETTER = 0.01
const UNLIKE_WEIGHT = 0.3
/** A wrap so much less like itself than the inside does not go on as that does. */
const UNLIKE_FROM = 0.25
/** The first repetition that is nearly as good as the best one is the pitch; the others are its multiples. */
const NEARLY_BEST = 0.92

/** Where a tile repeats inside, px, and how much wider the gap over its wrap is than that; narrower below 0. */
export type Repeat = {
  pitchPx: number
  gapPx: number
  /** How much the tile is like itself a pitch on, up to 1. */
  likeness: number
}

/**
 * Where a tile repeats inside along an axis, from its own correlation without wrapping round, and whether the gap over the
 * wrap is the same.
 * @returns Undefined where it does not repeat at least twice.
 */
export function findRepeat(tile: Pixels, axis: 'across' | 'down'): Repeat | undefined {
  const { width, height } = tile
  const [length, rows] = axis === 'across' ? [width, height] : [height, width]
  const lines = linesOf(tile, {
    length,
    rows,
    step: axis === 'across' ? 1 : width,
    between: axis === 'across' ? width : 1,
  })
  const factor = Math.ceil(length / COARSE_MAX)
  const coarse = lines.map((line) => shorten(line, factor))
  const size = Math.floor(length / factor)
  const likeness = likenessByLag(coarse, Math.floor(size / 2) + 1)
  const lag = firstPeak(likeness)
  if (lag === undefined) return undefined
  const pitchPx = refine(lines, lag * factor, factor, length)
  const gapPx = gapOver(length, pitchPx)
  const inside = likenessAt(lines, Math.round(pitchPx))
  const over = likenessOverWrap(lines, pitchPx)
  const slack = UNLIKE_WEIGHT * (1 - inside)
  // what repeats only nearly has a gap by reckoning that it has not to the eye: the wrap itself has to be unlike the rest,
  // or to fit the gap better than the pitch
  const isOff =
    inside - over > UNLIKE_FROM + slack || likenessOverWrap(lines, pitchPx + gapPx) - over > FITS_BETTER + slack
  return { pitchPx, gapPx: isOff ? gapPx : 0, likeness: inside }
}

/** What is left of a length once whole pitches are laid: a gap that much wider than the others, or narrower. */
export function gapOver(lengthPx: number, pitchPx: number): number {
  const left = lengthPx - Math.round(lengthPx / pitchPx) * pitchPx
  return Math.abs(left) < 1e-9 ? 0 : left
}

type Along = { length: number; rows: number; step: number; between: number }

/** Only what is looked at is made grey: some lines of a picture that may be large. */
function linesOf(tile: Pixels, { length, rows, step, between }: Along): Float32Array[] {
  const every = Math.max(1, Math.floor(rows / ROWS_MAX))
  const lines: Float32Array[] = []
  for (let row = Math.floor(every / 2); row < rows; row += every) {
    const line = new Float32Array(length)
    for (let k = 0, i = row * between; k < length; k++, i += step) line[k] = greyAt(tile, i)
    lines.push(line)
  }
  return lines
}

function shorten(line: Float32Array, factor: number): Float32Array {
  if (factor === 1) return line
  const out = new Float32Array(Math.floor(line.length / factor))
  for (let k = 0; k < out.length; k++) {
    let sum = 0
    for (let j = 0; j < factor; j++) sum += line[k * factor + j]
    out[k] = sum / factor
  }
  return out
}

/** The first lag at which the picture is like itself again, after it was not. */
function firstPeak(likeness: Float64Array): number | undefined {
  let lag = LEAST_PITCH
  while (lag + 1 < likeness.length && likeness[lag + 1] <= likeness[lag]) lag++
  let best = 0
  for (let k = lag; k < likeness.length; k++) best = Math.max(best, likeness[k])
  if (best < REPEATS_FROM) return undefined
  for (let k = lag; k < likeness.length; k++) {
    const isPeak = likeness[k] >= likeness[k - 1] && (k + 1 === likeness.length || likeness[k] > likeness[k + 1])
    if (isPeak && likeness[k] >= NEARLY_BEST * best) return k
  }
  return undefined
}

/** The pitch to a part of a px: from the farthest multiple that still lies inside, looked at closely. */
function refine(lines: readonly Float32Array[], roughPx: number, reach: number, length: number): number {
  let pitch = peakNear(lines, roughPx, reach)
  for (let times = 2; pitch >= 1 && times * pitch <= length / 2; times *= 2) {
    const wanted = Math.round(times * pitch)
    pitch = peakNear(lines, wanted, Math.max(1, Math.min(times, Math.floor(pitch / 3)))) / times
  }
  // nearer to a whole px than can be told: drawings are made in whole ones
  return Math.abs(pitch - Math.round(pitch)) < TELLABLE_PX ? Math.round(pitch) : pitch
}

/** The lag of the highest likeness around one, between px by a parabola through three. */
function peakNear(lines: readonly Float32Array[], around: number, reach: number): number {
  let best = around
  let most = Number.NEGATIVE_INFINITY
  for (let lag = Math.max(1, around - reach); lag <= around + reach; lag++) {
    const value = likenessAt(lines, lag)
    if (value <= most) continue
    most = value
    best = lag
  }
  const [before, after] = [likenessAt(lines, best - 1), likenessAt(lines, best + 1)]
  const bend = before - 2 * most + after
  // beyond half a px another lag would be the highest
  return bend < 0 ? best + Math.max(-0.5, Math.min(0.5, (before - after) / (2 * bend))) : best
}
