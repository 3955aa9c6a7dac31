import { createPixels, type Pixels } from '../raster/pixels.ts'
import { findRepeat } from './pitch.ts'

export const MENDS = ['cut', 'blend', 'mirror'] as const
export type Mend = (typeof MENDS)[number]

/** Px over which the two sides of a cut flow into each other. */
const FEATHER_PX = 2
/** An overlap takes this share of a tile unless another is asked for. */
const OVERLAP_SHARE = 0.15

/** A picture as one of its axes sees it, so that across and down are mended by the same code. */
type Axis = {
  /** Along the axis that is mended, and across it, px. */
  length: number
  rows: number
  at: (along: number, row: number) => number
}

/**
 * Closes both seams of a tile. Blending and cutting lay its end over its beginning and so shorten it by the overlap;
 * mirroring doubles it.
 *
 * @param overlapShare The share of each side that is laid over the other, above 0 and at most 0.5.
 */
export function mendSeams(tile: Pixels, mend: Mend, overlapShare = OVERLAP_SHARE): Pixels {
  return MEND_BOTH[mend](tile, overlapShare)
}

const MEND_BOTH: Record<Mend, (tile: Pixels, overlapShare: number) => Pixels> = {
  blend: (tile, share) => turned(overlap(turned(overlap(tile, share, blendWeights)), share, blendWeights)),
  cut: (tile, share) => turned(overlap(turned(overlap(tile, share, cutWeights)), share, cutWeights)),
  mirror,
}

/** How much the end of the tile counts over its beginning: 0…1 for each place of the overlap, row by row. */
type Weights = (axis: Axis, overlapPx: number, channels: number) => Float32Array

/** The end of each row is laid over its beginning. */
function overlap(tile: Pixels, share: number, weigh: Weights): Pixels {
  const { width, height, channels, data } = tile
  if (width < 2) return tile
  const size = overlapOf(tile, share)
  const at = (x: number, y: number) => (y * width + x) * channels
  const weights = weigh(
    { length: width, rows: height, at: (x, y) => differenceAt(data, at(x, y), at(width - size + x, y), channels) },
    size,
    channels,
  )
  const out = createPixels(width - size, height, channels)
  for (let y = 0; y < height; y++) {
    const row = y * out.width * channels
    out.data.set(data.subarray(at(0, y), at(width - size, y)), row)
    for (let x = 0, o = row, end = at(width - size, y); x < size; x++) {
      const weight = weights[y * size + x]
      if (weight === 0) {
        o += channels
        end += channels
        continue
      }
      for (let c = 0; c < channels; c++, o++, end++)
        out.data[o] = out.data[o] + (data[end] - out.data[o]) * weight + 0.5
    }
  }
  return out
}

/** A tile so much like itself has a pattern, and not only a likeness. */
const PATTERN_FROM = 0.85

/** How much of a tile is laid over its other end, px: where it repeats inside, so much that whole repetitions are left. */
function overlapOf(tile: Pixels, share: number): number {
  const { width } = tile
  const wanted = Math.max(1, Math.min(Math.floor(width / 2), Math.round(width * share)))
  const repeat = findRepeat(tile, 'across')
  if (!repeat || repeat.likeness < PATTERN_FROM || 3 * repeat.pitchPx > width) return wanted
  const whole = Math.floor((width - wanted) / repeat.pitchPx)
  return whole < 1 ? wanted : Math.max(1, width - Math.round(whole * repeat.pitchPx))
}

function differenceAt(data: Uint8Array, a: number, b: number, channels: number): number {
  let sum = 0
  for (let c = 0; c < channels; c++) sum += (data[a + c] - data[b + c]) ** 2
  return sum
}

const blendWeights: Weights = ({ rows }, size) => {
  const weights = new Float32Array(rows * size)
  for (let y = 0; y < rows; y++) for (let x = 0; x < size; x++) weights[y * size + x] = 1 - (x + 0.5) / size
  return weights
}

/**
 * The end counts up to a line of least difference, found by dynamic programming (Efros and Freeman 2001, "Image quilting
 * for texture synthesis"). The line closes: it ends where it began, so that the other seam stays whole.
 */
const cutWeights: Weights = ({ rows, at }, size) => {
  const cost = new Float64Array(rows * size)
  for (let y = 0; y < rows; y++) for (let x = 0; x < size; x++) cost[y * size + x] = at(x, y)
  const free = cheapestLine(cost, rows, size)
  const line = cheapestLine(cost, rows, size, free[Math.floor(rows / 2)])
  const weights = new Float32Array(rows * size)
  for (let y = 0; y < rows; y++) {
    const row = y * size
    // all the end's before the line, all the beginning's behind it, and what flows between
    const from = Math.max(0, line[y] - FEATHER_PX)
    weights.fill(1, row, row + from)
    for (let x = from; x < Math.min(size, line[y] + FEATHER_PX); x++)
      weights[row + x] = Math.min(1, Math.max(0, (line[y] - x) / FEATHER_PX + 0.5))
    // the outermost px always belong to their own side
    weights[row] = 1
    weights[row + size - 1] = 0
  }
  return weights
}

/** @param through Where the line has to begin and to end; anywhere where none is given. */
function cheapestLine(cost: Float64Array, rows: number, size: number, through?: number): Int32Array {
  const sums = cost.slice()
  if (through !== undefined) for (let x = 0; x < size; x++) if (x !== through) sums[x] = Number.POSITIVE_INFINITY
  for (let y = 1; y < rows; y++)
    for (let x = 0; x < size; x++) {
      const above = (y - 1) * size + x
      sums[y * size + x] += Math.min(
        sums[above],
        x > 0 ? sums[above - 1] : Number.POSITIVE_INFINITY,
        x < size - 1 ? sums[above + 1] : Number.POSITIVE_INFINITY,
      )
    }
  const line = new Int32Array(rows)
  let x = through ?? smallest(sums, (rows - 1) * size, size)
  for (let y = rows - 1; y >= 0; y--) {
    line[y] = x
    if (y === 0) break
    const above = (y - 1) * size
    let next = x
    if (x > 0 && sums[above + x - 1] < sums[above + next]) next = x - 1
    if (x < size - 1 && sums[above + x + 1] < sums[above + next]) next = x + 1
    x = next
  }
  return line
}

function smallest(values: Float64Array, from: number, count: number): number {
  let best = 0
  for (let k = 1; k < count; k++) if (values[from + k] < values[from + best]) best = k
  return best
}

/** So many rows and columns are turned at once: they stay near in memory. */
const BLOCK = 32

/** Columns become rows. */
function turned({ width, height, channels, data }: Pixels): Pixels {
  const out = createPixels(height, width, channels)
  for (let top = 0; top < height; top += BLOCK)
    for (let left = 0; left < width; left += BLOCK)
      for (let y = top; y < Math.min(height, top + BLOCK); y++) {
        let i = (y * width + left) * channels
        let o = (left * height + y) * channels
        for (const end = i + (Math.min(width, left + BLOCK) - left) * channels; i < end; i += channels) {
          out.data[o] = data[i]
          for (let c = 1; c < channels; c++) out.data[o + c] = data[i + c]
          o += height * channels
        }
      }
  return out
}

function mirror({ width, height, channels, data }: Pixels): Pixels {
  const out = createPixels(2 * width, 2 * height, channels)
  for (let y = 0, o = 0; y < out.height; y++) {
    const row = (y < height ? y : out.height - 1 - y) * width
    for (let x = 0; x < out.width; x++) {
      const i = (row + (x < width ? x : out.width - 1 - x)) * channels
      for (let c = 0; c < channels; c++, o++) out.data[o] = data[i + c]
    }
  }
  return out
}

/** The tile moved by half of both sides: its seams lie in the middle then, to be seen. */
export function moveByHalf({ width, height, channels, data }: Pixels): Pixels {
  const out = createPixels(width, height, channels)
  const [dx, dy] = [Math.floor(width / 2), Math.floor(height / 2)]
  for (let y = 0, o = 0; y < height; y++) {
    const row = ((y + dy) % height) * width
    for (let x = 0; x < width; x++) {
      const i = (row + ((x + dx) % width)) * channels
      for (let c = 0; c < channels; c++, o++) out.data[o] = data[i + c]
    }
  }
  return out
}
