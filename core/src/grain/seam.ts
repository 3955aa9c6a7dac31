import { greyAt, toGreyOnPaper } from '../raster/grey.ts'
import type { Pixels } from '../raster/pixels.ts'
import { findRepeat, type Repeat } from './pitch.ts'

/** How a tile meets itself over one of its wraps. */
export type SeamSide = {
  /** The step over the wrap beside those inside: at most 1 where nearly all inside are as large. */
  figure: number
  /** Where the tile repeats inside, px; undefined where it does not. */
  pitchPx: number | undefined
  /** How much wider (or narrower, below 0) the gap over the wrap is than the pitch, px. */
  gapPx: number
  isSeamless: boolean
}
/** Across: over the right and left border; down: over the lower and upper. */
export type Seam = { across: SeamSide; down: SeamSide }

/**
 * Above this a seam shows: the step over the wrap is then larger, by more than chance, than nearly all steps between
 * neighbours inside; chosen by eye.
 */
export const SEAM_VISIBLE = 1.2
/** Steps inside are sorted; this share of them counts as nearly all. */
const NEARLY_ALL = 0.995
/** A wholly flat picture with a step at its border has no measure to divide by; it counts as this. */
const SEAM_MAX = 999
/** A gap that is off by less is not seen: px, and of the pitch; chosen by eye. */
const GAP_PX = 1.5
const GAP_SHARE = 0.005

/**
 * Measures both seams of a tile: the mean absolute step over the wrap beside the distribution of the same between
 * neighbouring columns (rows) inside, and where the tile repeats inside, whether the gap over the wrap fits.
 */
export function measureSeam(tile: Pixels): Seam {
  // a picture that meets itself wholly, as any on clear ground does, is not made grey
  const grey = once(() => toGreyOnPaper(tile))
  return {
    across: judge(
      figureOf(overSide(tile), () => stepsAcross(tile, grey())),
      findRepeat(tile, 'across'),
    ),
    down: judge(
      figureOf(overEnd(tile), () => stepsDown(tile, grey())),
      findRepeat(tile, 'down'),
    ),
  }
}

function once<Value>(make: () => Value): () => Value {
  let made: Value | undefined
  return () => {
    made ??= make()
    return made
  }
}

/** The step over the right and left border, summed over all rows. */
function overSide(tile: Pixels): number {
  let sum = 0
  for (let y = 0; y < tile.height; y++) {
    const row = y * tile.width
    sum += Math.abs(greyAt(tile, row + tile.width - 1) - greyAt(tile, row))
  }
  return sum
}

/** The step over the lower and upper border, summed over all columns. */
function overEnd(tile: Pixels): number {
  let sum = 0
  const last = tile.width * (tile.height - 1)
  for (let x = 0; x < tile.width; x++) sum += Math.abs(greyAt(tile, last + x) - greyAt(tile, x))
  return sum
}

/** The steps from each column to the next, summed over all rows: whole numbers, which fit 32 bits for any picture. */
function stepsAcross({ width, height }: Pixels, grey: Uint8Array): Int32Array {
  const sums = new Int32Array(width - 1)
  for (let y = 0, i = 0; y < height; y++, i++) {
    let before = grey[i]
    for (let x = 0; x < width - 1; x++) {
      const next = grey[++i]
      const step = next - before
      sums[x] += step < 0 ? -step : step
      before = next
    }
  }
  return sums
}

/** The steps from each row to the next, summed over all columns. */
function stepsDown({ width, height }: Pixels, grey: Uint8Array): Int32Array {
  const sums = new Int32Array(height - 1)
  for (let y = 0, i = 0; y < height - 1; y++) {
    let sum = 0
    for (const end = i + width; i < end; i++) {
      const step = grey[i + width] - grey[i]
      sum += step < 0 ? -step : step
    }
    sums[y] = sum
  }
  return sums
}

function judge(figure: number, repeat: Repeat | undefined): SeamSide {
  const { pitchPx, gapPx } = repeat ?? { pitchPx: undefined, gapPx: 0 }
  const isClosed = Math.abs(gapPx) <= Math.max(GAP_PX, GAP_SHARE * (pitchPx ?? 0))
  return { figure, pitchPx, gapPx, isSeamless: figure <= SEAM_VISIBLE && isClosed }
}

/** @param inside The steps inside, of which as many places are summed: not looked at where there is none over the wrap. */
function figureOf(wrap: number, inside: () => Int32Array): number {
  if (wrap === 0) return 0
  const steps = inside().sort()
  const most = steps.length === 0 ? 0 : steps[Math.min(steps.length - 1, Math.floor(NEARLY_ALL * steps.length))]
  return Math.min(SEAM_MAX, most === 0 ? SEAM_MAX : wrap / most)
}

/** One number for a side: its figure; where only the gap is wrong, above what shows, the more so the more it is off. */
const figureFor = ({ figure, gapPx, pitchPx, isSeamless }: SeamSide): number =>
  isSeamless || figure > SEAM_VISIBLE ? figure : SEAM_VISIBLE * (1 + Math.abs(gapPx) / (pitchPx ?? 1))

/** How a seam is kept beside a picture: a number for each side, seamless up to SEAM_VISIBLE. */
export type SeamFigures = { across: number; down: number }

/** Changes whenever the same picture may get other figures: kept ones are measured again then. */
export const SEAM_MEASURE = 2

export function measureSeamFigures(pixels: Pixels): SeamFigures {
  const { across, down } = measureSeam(pixels)
  return { across: figureFor(across), down: figureFor(down) }
}
