import type { Rgb } from '../../raster/srgb.ts'

/**
 * The inner loops of stamping, over one block of memory. All places are byte offsets into that memory. Layers hold Q15
 * numbers (0 none … 32767 full); tips and grains hold 8-bit levels with their border.
 */
export type Kernel = {
  /** Lays one stamp on the layer. */
  stamp(job: StampJob): void
  /** Lays a row of the layer on a row of 8-bit canvas pixels, as much of it as `covers` says (Q15 a pixel). */
  compositeRow(row: CompositeRow): void
}

/**
 * A grain level to read along a row: its bytes with a border of one wrapped pixel, its period in 16.16 fixed point,
 * where the row begins (0 ≤ u < period) and the steps from pixel to pixel (shorter than the period).
 */
export type GrainRow = {
  level: number
  stride: number
  periodU: number
  periodV: number
  u: number
  v: number
  du: number
  dv: number
}

/**
 * A row of the canvas (premultiplied, 8-bit), of the layer, and of how much the layer counts. One pixel beyond the end
 * of each may be read.
 */
export type CompositeRow = {
  canvas: number
  layer: number
  covers: number
  count: number
  /** The colour of a coverage layer; none for a colour layer. */
  colour: Rgb | undefined
}

/** What a stamp is laid onto its layer as. Tint lays a coverage tip in one colour, onto a colour layer. */
export const LAY = { mask: 0, tint: 1, colour: 2, smear: 3 } as const
export type Lay = (typeof LAY)[keyof typeof LAY]

/**
 * One stamp. `rows` points at `rowCount` groups of ROW_INTS 32-bit integers: y, first x, end x (excluded), and the
 * level's u and v at the first x in 16.16 fixed point; `du` and `dv` are their steps from pixel to pixel. Each row is
 * sampled, weighed by the grain, its colours changed by the matrix, then laid.
 */
export type StampJob = {
  layer: number
  layerWidth: number
  level: number
  levelStride: number
  rows: number
  rowCount: number
  du: number
  dv: number
  alphaQ15: number
  lay: Lay
  /** Room for one row of the layer, 4 channels, and for one row of weights. */
  scratch: number
  weights: number
  /** The grain, and per row of the stamp its u and v at the first x (two integers each) at `grainStarts`. */
  grain: Omit<GrainRow, 'u' | 'v'> | undefined
  grainStarts: number
  /** The colour of a tint, Q15 each. */
  tint: readonly [number, number, number]
  /** Where 12 16-bit integers lie, Q12: rows of red, green, blue, each with factors of red, green, blue, alpha; 0 for none. */
  matrix: number
  /** Smear: what lay under the last stamp, four channels Q15, `patchWidth` px a row, seen from the layer's own corner. */
  patch: number
  patchWidth: number
  patchLeft: number
  patchTop: number
}

export const ROW_INTS = 5
export const Q15_ONE = 32_767
export const MATRIX_ONE = 4096
