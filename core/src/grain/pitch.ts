/** A grey picture, a byte a pixel. */
type Grey = { grey: Uint8Array; width: number; height: number }

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
/** A line of less spread than this, levels squared, is even. */
const LEAST_SPREAD = 0.01
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
export function findRepeat({ grey, width, height }: Grey, axis: 'across' | 'down'): Repeat | undefined {
  const [length, rows] = axis === 'across' ? [width, height] : [height, width]
  const lines = linesOf(grey, {
    length,
    rows,
    step: axis === 'across' ? 1 : width,
    between: axis === 'across' ? width : 1,
  })
  const factor = Math.ceil(length / COARSE_MAX)
  const coarse = lines.map((line) => shorten(line, factor))
  const size = Math.floor(length / factor)
  const likeness = new Float64Array(Math.floor(size / 2) + 1)
  for (let lag = 1; lag < likeness.length; lag++) likeness[lag] = likenessAt(coarse, lag)
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

function linesOf(grey: Uint8Array, { length, rows, step, between }: Along): Float32Array[] {
  const every = Math.max(1, Math.floor(rows / ROWS_MAX))
  const lines: Float32Array[] = []
  for (let row = Math.floor(every / 2); row < rows; row += every) {
    const line = new Float32Array(length)
    for (let k = 0, i = row * between; k < length; k++, i += step) line[k] = grey[i]
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

/** How alike all lines are to themselves, moved by a lag, within the tile. */
const likenessAt = (lines: readonly Float32Array[], lag: number): number =>
  correlation(lines, (length) => ({ from: 0, to: lag, count: length - lag }))

/** How alike all lines are to themselves, moved by a lag, where that carries them over the tile's end. */
const likenessOverWrap = (lines: readonly Float32Array[], lag: number): number => {
  const px = Math.round(lag)
  return correlation(lines, (length) => ({ from: length - px, to: 0, count: Math.min(px, length) }))
}

/** Pearson's correlation of two parts of each line, about the means of those parts. */
function correlation(
  lines: readonly Float32Array[],
  parts: (length: number) => { from: number; to: number; count: number },
): number {
  let [varianceA, varianceB, together, all] = [0, 0, 0, 0]
  for (const line of lines) {
    const { from, to, count } = parts(line.length)
    if (count < 1 || from < 0) continue
    let [sumA, sumB, sumAA, sumBB, sumAB] = [0, 0, 0, 0, 0]
    for (let k = 0; k < count; k++) {
      const a = line[from + k]
      const b = line[to + k]
      sumA += a
      sumB += b
      sumAA += a * a
      sumBB += b * b
      sumAB += a * b
    }
    varianceA += sumAA - (sumA * sumA) / count
    varianceB += sumBB - (sumB * sumB) / count
    together += sumAB - (sumA * sumB) / count
    all += count
  }
  const spread = Math.sqrt(Math.max(0, varianceA) * Math.max(0, varianceB))
  return spread > LEAST_SPREAD * all ? together / spread : 0
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
