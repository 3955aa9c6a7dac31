import { toGreyOnPaper } from '../raster/grey.ts'
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
export function measureSeam(pixels: Pixels): Seam {
  const { width, height } = pixels
  const grey = toGreyOnPaper(pixels)
  const across = new Float64Array(width)
  const down = new Float64Array(height)
  // step k lies between k and the next; the last one is the wrap
  for (let y = 0, i = 0; y < height; y++) {
    const below = y === height - 1 ? -y * width : width
    let sum = 0
    for (let x = 0; x < width - 1; x++, i++) {
      across[x] += Math.abs(grey[i + 1] - grey[i])
      sum += Math.abs(grey[i + below] - grey[i])
    }
    across[width - 1] += Math.abs(grey[i + 1 - width] - grey[i])
    down[y] = (sum + Math.abs(grey[i + below] - grey[i])) / width
    i++
  }
  for (let x = 0; x < width; x++) across[x] /= height
  return {
    across: judge(across, findRepeat({ grey, width, height }, 'across')),
    down: judge(down, findRepeat({ grey, width, height }, 'down')),
  }
}

function judge(steps: Float64Array, repeat: Repeat | undefined): SeamSide {
  const figure = figureOf(steps)
  const { pitchPx, gapPx } = repeat ?? { pitchPx: undefined, gapPx: 0 }
  const isClosed = Math.abs(gapPx) <= Math.max(GAP_PX, GAP_SHARE * (pitchPx ?? 0))
  return { figure, pitchPx, gapPx, isSeamless: figure <= SEAM_VISIBLE && isClosed }
}

function figureOf(steps: Float64Array): number {
  const wrap = steps[steps.length - 1]
  if (wrap === 0) return 0
  const inside = steps.slice(0, -1).sort()
  const most = inside.length === 0 ? 0 : inside[Math.min(inside.length - 1, Math.floor(NEARLY_ALL * inside.length))]
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
