/** How one square grid is laid over another: stretched about its middle and moved, as shares of the side. */
export type Fit = { moveX: number; moveY: number; stretchX: number; stretchY: number }

export const NO_FIT: Fit = { moveX: 0, moveY: 0, stretchX: 0, stretchY: 0 }

const ROUNDS = 6

/** The grid as the fit lays it, with values between places blended and nothing beyond its edges. */
export function layFitted(grid: Float32Array, side: number, fit: Fit): Float32Array {
  const out = new Float32Array(grid.length)
  const columns = placesOf(side, fit.moveX, fit.stretchX)
  const rows = placesOf(side, fit.moveY, fit.stretchY)
  const at = (x: number, y: number) => (x < 0 || y < 0 || x >= side || y >= side ? 0 : grid[y * side + x])
  for (let y = 0, o = 0; y < side; y++) {
    const y0 = Math.floor(rows[y])
    const fy = rows[y] - y0
    for (let x = 0; x < side; x++, o++) {
      const x0 = Math.floor(columns[x])
      const fx = columns[x] - x0
      out[o] =
        (1 - fy) * ((1 - fx) * at(x0, y0) + fx * at(x0 + 1, y0)) +
        fy * ((1 - fx) * at(x0, y0 + 1) + fx * at(x0 + 1, y0 + 1))
    }
  }
  return out
}

const placesOf = (side: number, move: number, stretch: number) =>
  Float32Array.from({ length: side }, (_, i) => (i + 0.5 - side / 2) * (1 + stretch) + side / 2 - 0.5 + move * side)

/** Three rows and columns averaged, twice: what is compared must not hang on single places. */
export function soften(grid: Float32Array, side: number, times = 1): Float32Array {
  let from = grid
  for (let t = 0; t < times; t++) {
    const across = new Float32Array(grid.length)
    const out = new Float32Array(grid.length)
    for (let y = 0; y < side; y++)
      for (let x = 0, i = y * side; x < side; x++, i++)
        across[i] = (from[x > 0 ? i - 1 : i] + 2 * from[i] + from[x < side - 1 ? i + 1 : i]) / 4
    for (let y = 0; y < side; y++)
      for (let x = 0, i = y * side; x < side; x++, i++)
        out[i] = (across[y > 0 ? i - side : i] + 2 * across[i] + across[y < side - 1 ? i + side : i]) / 4
    from = out
  }
  return from
}

/** Brings `moving` over `still` by Gauss-Newton steps on both axes' move and stretch, with levels free to differ. */
export function registerGrids(still: Float32Array, moving: Float32Array, side: number): Fit {
  const target = soften(still, side, 2)
  const source = soften(moving, side, 2)
  let fit = NO_FIT
  for (let round = 0; round < ROUNDS; round++) {
    const laid = layFitted(source, side, fit)
    const step = solveStep(target, laid, side)
    if (!step) break
    const next = {
      moveX: fit.moveX + step[0],
      moveY: fit.moveY + step[1],
      stretchX: fit.stretchX + step[2],
      stretchY: fit.stretchY + step[3],
    }
    if (Object.values(next).some((value) => !(Math.abs(value) <= FIT_MAX))) break
    fit = next
  }
  return fit
}

/** More than this, as a share of the side, is not the same mark laid a little differently. */
const FIT_MAX = 0.12
const PARAMETERS = 6

/** Least squares for target ≈ gain · laid + off + move and stretch along the slopes of laid. */
function solveStep(target: Float32Array, laid: Float32Array, side: number): number[] | undefined {
  const normal = new Float64Array(PARAMETERS * PARAMETERS)
  const right = new Float64Array(PARAMETERS)
  const row = new Float64Array(PARAMETERS)
  for (let y = 1; y < side - 1; y++) {
    for (let x = 1; x < side - 1; x++) {
      const i = y * side + x
      const slopeX = ((laid[i + 1] - laid[i - 1]) / 2) * side
      const slopeY = ((laid[i + side] - laid[i - side]) / 2) * side
      row[0] = slopeX
      row[1] = slopeY
      row[2] = slopeX * ((x + 0.5) / side - 0.5)
      row[3] = slopeY * ((y + 0.5) / side - 0.5)
      row[4] = laid[i]
      row[5] = 1
      for (let p = 0; p < PARAMETERS; p++) {
        right[p] += row[p] * target[i]
        for (let q = p; q < PARAMETERS; q++) normal[p * PARAMETERS + q] += row[p] * row[q]
      }
    }
  }
  for (let p = 0; p < PARAMETERS; p++)
    for (let q = 0; q < p; q++) normal[p * PARAMETERS + q] = normal[q * PARAMETERS + p]
  const found = solve(normal, right, PARAMETERS)
  const gain = found?.[4] ?? 0
  // The slopes were those of the grid before its levels were stretched.
  return found && Math.abs(gain) > 0.05 ? found.slice(0, 4).map((value) => value / gain) : undefined
}

/** Gauss elimination with the largest pivot first. @returns Undefined where the equations leave something open. */
function solve(matrix: Float64Array, right: Float64Array, n: number): number[] | undefined {
  for (let c = 0; c < n; c++) {
    let pivot = c
    for (let r = c + 1; r < n; r++) if (Math.abs(matrix[r * n + c]) > Math.abs(matrix[pivot * n + c])) pivot = r
    if (Math.abs(matrix[pivot * n + c]) < 1e-9) return undefined
    for (let k = 0; k < n; k++) [matrix[c * n + k], matrix[pivot * n + k]] = [matrix[pivot * n + k], matrix[c * n + k]]
    ;[right[c], right[pivot]] = [right[pivot], right[c]]
    for (let r = c + 1; r < n; r++) {
      const factor = matrix[r * n + c] / matrix[c * n + c]
      for (let k = c; k < n; k++) matrix[r * n + k] -= factor * matrix[c * n + k]
      right[r] -= factor * right[c]
    }
  }
  const out = new Array<number>(n).fill(0)
  for (let r = n - 1; r >= 0; r--) {
    let sum = right[r]
    for (let k = r + 1; k < n; k++) sum -= matrix[r * n + k] * out[k]
    out[r] = sum / matrix[r * n + r]
  }
  return out
}
