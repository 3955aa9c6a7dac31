/**
 * The two inner loops of stamping, over one block of memory. All places are byte offsets into that memory.
 * Layers hold Q15 numbers (0 none … 32767 full); tips hold 8-bit levels with their border.
 */
export type Kernel = {
  stampMask(job: StampJob): void
  stampColour(job: StampJob): void
}

/**
 * One stamp. `rows` points at `rowCount` groups of ROW_INTS 32-bit integers: y, first x, end x (excluded), and the
 * level's u and v at the first x in 16.16 fixed point; `du` and `dv` are their steps from pixel to pixel.
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
}

export const ROW_INTS = 5
export const Q15_ONE = 32_767
