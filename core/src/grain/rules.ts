import { uniformFloat64 } from 'pure-rand/distribution/uniformFloat64'
import { xoroshiro128plus } from 'pure-rand/generator/xoroshiro128plus'
import { type Rows, shareRow } from '../number-row.ts'
import { createPixels, type Pixels } from '../raster/pixels.ts'

/** What a grain can be drawn from. */
export const RULE_WORDS = {
  dots: 'dots',
  staggered: 'staggered dots',
  lines: 'lines',
  crosses: 'crosses',
  weave: 'weave',
  fibre: 'paper fibre',
  halftone: 'growing dots',
} as const
export type GrainRule = keyof typeof RULE_WORDS
export const GRAIN_RULES = Object.keys(RULE_WORDS) as GrainRule[]

export const RULE_NUMBERS = {
  size: shareRow('Size of a mark', { from: 0.05, usual: 0.5 }),
  angleDeg: { label: 'Angle', unit: '°', from: -90, to: 90, step: 0.1, usual: 0 },
} satisfies Rows

export type RuleSettings = {
  /** The tile's sides, px. */
  width: number
  height: number
  /** From one mark to the next, px; it is taken as it is, see `fittingPitches`. */
  pitchPx: number
  /** How large a mark is, as a share of the pitch, 0…1. */
  size: number
  /** Degrees, clockwise. */
  angleDeg: number
  seed?: number
}

/** How much a place of the pattern is covered: `a`, `b` in pitches along both axes of the pattern, `edge` the pitches a px spans. */
type Cover = (a: number, b: number, at: { size: number; edge: number; x: number; y: number; width: number }) => number

const near = (value: number) => Math.abs(value - Math.round(value))
/** Full within a reach, nothing beyond it, and a px of ramp between. */
const ramp = (distance: number, reach: number, edge: number) =>
  Math.min(1, Math.max(0, (reach - distance) / edge + 0.5))

/** Dots on a square grid, measured from the nearest. */
const dot = (a: number, b: number, reach: number, edge: number) => ramp(Math.hypot(near(a), near(b)), reach, edge)

const RULES: Record<Exclude<GrainRule, 'fibre'>, Cover> = {
  dots: (a, b, { size, edge }) => dot(a, b, size / 2, edge),
  // two square grids, one in the middles of the other
  staggered: (a, b, { size, edge }) => Math.max(dot(a, b, size / 2, edge), dot(a + 0.5, b + 0.5, size / 2, edge)),
  lines: (_a, b, { size, edge }) => ramp(near(b), size / 2, edge),
  crosses: (a, b, { size, edge }) =>
    Math.min(
      1,
      ramp(near(a), size / 10, edge) * ramp(near(b), size / 2, edge) +
        ramp(near(b), size / 10, edge) * ramp(near(a), size / 2, edge),
    ),
  weave: (a, b, { size, edge }) => weave(a, b, size, edge),
  // dots that grow to the middle of the tile and shrink again, so that it closes
  halftone: (a, b, { size, edge, x, width }) =>
    dot(a, b, (size / 2) * (1 - Math.abs((2 * x) / width - 1)) * Math.SQRT2, edge),
}

/** Threads over and under by turns; one that goes under is darker near the edge of the other. */
function weave(a: number, b: number, size: number, edge: number): number {
  const isOver = (Math.floor(a) + Math.floor(b)) % 2 === 0
  const [along, across] = isOver ? [a, b] : [b, a]
  const from = Math.abs(across - Math.floor(across) - 0.5)
  const lift = 0.5 + 0.5 * Math.cos(2 * Math.PI * (along - Math.floor(along) - 0.5))
  return ramp(from, size / 2, edge) * (0.55 + 0.45 * lift)
}

/**
 * Draws a grain by a rule, white on black: what is light lets paint through. It closes where the pitch does; see
 * `fittingPitches` and `fittingLattice`.
 */
export function drawGrain(rule: GrainRule, settings: RuleSettings): Pixels {
  if (rule === 'fibre') return drawFibre(settings)
  const { width, height, pitchPx, size, angleDeg } = settings
  const cover = RULES[rule]
  const turn = (angleDeg * Math.PI) / 180
  const [cos, sin] = [Math.cos(turn) / pitchPx, Math.sin(turn) / pitchPx]
  const edge = 1 / pitchPx
  const tile = createPixels(width, height, 1)
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      const [px, py] = [x + 0.5, y + 0.5]
      const value = cover(px * cos + py * sin, py * cos - px * sin, { size, edge, x: px, y: py, width })
      tile.data[i] = Math.round(255 * value)
    }
  return tile
}

const OCTAVES = 4

/** Paper: noise of several sizes, drawn out along the fibres, that repeats with the tile by construction. */
function drawFibre({ width, height, pitchPx, size, seed = 1 }: RuleSettings): Pixels {
  const field = new Float32Array(width * height)
  const generator = xoroshiro128plus(seed)
  const draw = () => uniformFloat64(generator)
  for (let octave = 0; octave < OCTAVES; octave++) {
    const cell = pitchPx / 2 ** octave
    const columns = Math.max(1, Math.round(width / (cell * (1 + 3 * size))))
    const rows = Math.max(1, Math.round(height / cell))
    addNoise(field, { width, height, columns, rows, share: 1 / 2 ** octave, draw })
  }
  return levelled(field, width, height)
}

type Noise = { width: number; height: number; columns: number; rows: number; share: number; draw: () => number }

function addNoise(field: Float32Array, { width, height, columns, rows, share, draw }: Noise): void {
  const grid = Float32Array.from({ length: columns * rows }, draw)
  const ease = (t: number) => t * t * (3 - 2 * t)
  for (let y = 0, i = 0; y < height; y++) {
    const gy = (y / height) * rows
    const y0 = Math.floor(gy)
    const fy = ease(gy - y0)
    const top = (y0 % rows) * columns
    const bottom = ((y0 + 1) % rows) * columns
    for (let x = 0; x < width; x++, i++) {
      const gx = (x / width) * columns
      const x0 = Math.floor(gx)
      const fx = ease(gx - x0)
      const x1 = (x0 + 1) % columns
      const above = grid[top + x0] + (grid[top + x1] - grid[top + x0]) * fx
      const below = grid[bottom + x0] + (grid[bottom + x1] - grid[bottom + x0]) * fx
      field[i] += share * (above + (below - above) * fy)
    }
  }
}

/** A share of the darkest and lightest that may be cut when greys are spread. */
const CLIPPED = 0.005

function levelled(field: Float32Array, width: number, height: number): Pixels {
  const sorted = field.slice().sort()
  const low = sorted[Math.floor(CLIPPED * (sorted.length - 1))]
  const high = sorted[Math.ceil((1 - CLIPPED) * (sorted.length - 1))]
  const tile = createPixels(width, height, 1)
  const gain = high > low ? 255 / (high - low) : 0
  for (let i = 0; i < field.length; i++) tile.data[i] = Math.round(Math.min(255, Math.max(0, (field[i] - low) * gain)))
  return tile
}

/** Whether a rule lays a pattern of a pitch; noise repeats with its tile by construction. */
export const drawsPitch = (rule: GrainRule): boolean => rule !== 'fibre'

/**
 * Pitches that close on a length, next to a wanted one: the nearest longer and the nearest shorter, which lay one mark less
 * and one more; the wanted one alone where it closes.
 */
export function fittingPitches(lengthPx: number, pitchPx: number): number[] {
  const times = lengthPx / pitchPx
  if (Math.abs(times - Math.round(times)) < 1e-9) return [pitchPx]
  return [
    ...new Set([Math.floor(times), Math.ceil(times)].filter((count) => count > 0).map((count) => lengthPx / count)),
  ]
}

/**
 * The turned square grid that closes on a square tile, next to a wanted one: whole steps along and across lead from one
 * border to the other.
 */
export function fittingLattice(
  sidePx: number,
  pitchPx: number,
  angleDeg: number,
): { pitchPx: number; angleDeg: number } {
  const turn = (angleDeg * Math.PI) / 180
  const along = Math.round((sidePx * Math.cos(turn)) / pitchPx)
  const across = Math.round((sidePx * Math.sin(turn)) / pitchPx)
  if (along === 0 && across === 0) return { pitchPx: sidePx, angleDeg: 0 }
  return { pitchPx: sidePx / Math.hypot(along, across), angleDeg: (Math.atan2(across, along) * 180) / Math.PI }
}
