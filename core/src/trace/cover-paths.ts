import type { CurvePath } from './fit-curves.ts'

/** Straight pieces that a curve is drawn by: one for so many px of its handles, between these. */
const PX_A_PIECE = 3
const PIECES_LEAST = 2
const PIECES_MOST = 64

/**
 * How much of each pixel lies inside paths whose insides lie to their right, exactly for straight pieces: areas are summed
 * up where lines pass, and then along rows.
 * @returns A byte a pixel, 0 outside to 255 inside.
 */
export function coverPaths(paths: readonly CurvePath[], width: number, height: number): Uint8Array {
  const stride = width + 2
  const sums = new Float32Array(stride * height)
  for (const { x, y, curves } of paths) {
    let [x0, y0] = [x, y]
    for (let c = 0; c < curves.length; c += 6) {
      const [x1, y1, x2, y2, x3, y3] = curves.subarray(c, c + 6)
      const long =
        Math.abs(x1 - x0) +
        Math.abs(y1 - y0) +
        Math.abs(x2 - x1) +
        Math.abs(y2 - y1) +
        Math.abs(x3 - x2) +
        Math.abs(y3 - y2)
      const pieces = Math.max(PIECES_LEAST, Math.min(PIECES_MOST, Math.ceil(long / PX_A_PIECE)))
      let [px, py] = [x0, y0]
      for (let i = 1; i <= pieces; i++) {
        const u = i / pieces
        const v = 1 - u
        const [b0, b1, b2, b3] = [v * v * v, 3 * u * v * v, 3 * u * u * v, u * u * u]
        const qx = b0 * x0 + b1 * x1 + b2 * x2 + b3 * x3
        const qy = b0 * y0 + b1 * y1 + b2 * y2 + b3 * y3
        addLine(sums, stride, height, px, py, qx, qy)
        ;[px, py] = [qx, qy]
      }
      ;[x0, y0] = [x3, y3]
    }
  }
  const out = new Uint8Array(width * height)
  for (let row = 0; row < height; row++) {
    let sum = 0
    for (let column = 0; column < width; column++) {
      sum += sums[row * stride + column]
      out[row * width + column] = Math.min(255, Math.round(255 * Math.abs(sum)))
    }
  }
  return out
}

/** Adds what a line changes of the areas to its right, row by row. */
function addLine(
  sums: Float32Array,
  stride: number,
  height: number,
  xa: number,
  ya: number,
  xb: number,
  yb: number,
): void {
  if (ya === yb) return
  const direction = ya < yb ? 1 : -1
  const [x0, y0, x1, y1] = ya < yb ? [xa, ya, xb, yb] : [xb, yb, xa, ya]
  const slope = (x1 - x0) / (y1 - y0)
  const from = Math.max(0, Math.floor(y0))
  const to = Math.min(height, Math.ceil(y1))
  for (let row = from; row < to; row++) {
    const top = Math.max(row, y0)
    const bottom = Math.min(row + 1, y1)
    const high = bottom - top
    if (high <= 0) continue
    const left = x0 + (top - y0) * slope
    const right = x0 + (bottom - y0) * slope
    addSpan(sums, row * stride, stride - 2, Math.min(left, right), Math.max(left, right), direction * high)
  }
}

/** Shares what a piece within one row covers among the pixels that it passes, each by how much lies to the right of it. */
function addSpan(sums: Float32Array, row: number, most: number, left: number, right: number, amount: number): void {
  const from = Math.max(0, Math.min(most, left))
  const to = Math.max(0, Math.min(most, right))
  const [first, last] = [Math.floor(from), Math.floor(to)]
  for (let column = first; column <= last; column++) {
    const [a, b] = [Math.max(from, column), Math.min(to, column + 1)]
    const part = first === last ? amount : (amount * (b - a)) / (to - from)
    const middle = (a + b) / 2 - column
    sums[row + column] += part * (1 - middle)
    sums[row + column + 1] += part * middle
  }
}

/** What two coverages have in common, over what either covers (intersection over union). */
export function overlapOf(a: Uint8Array, b: Uint8Array): number {
  let [common, either] = [0, 0]
  for (let i = 0; i < a.length; i++) {
    if (a[i] < b[i]) {
      common += a[i]
      either += b[i]
    } else {
      common += b[i]
      either += a[i]
    }
  }
  return either === 0 ? 1 : common / either
}
