import type { Pixels } from '../raster/pixels.ts'
import { fitSize, shrinkPixels } from '../raster/resample.ts'
import { createSurface, type Surface } from '../raster/surface.ts'
import { cutPaint } from './cut-paint.ts'
import { cutColumns, placeOf, type StrokePlane, toPlane } from './stroke-plane.ts'

/** The longer side of the picture that a stroke is looked for in, px. */
const LOOK_PX = 640
/** Paint that is fainter is dust, or the paper. */
const DUST = 0.08
/** Of the paint, what may lie beyond each end of the stroke; and what is cut off it there, where it begins and ends. */
const BEYOND_SHARE = 0.02
const END_SHARE = 0.08
/** How many times its length a stroke must be of its breadth, so that it can be told which way it goes. */
const LONG_FROM = 1.6
/** Room above and below the line, in breadths. */
const ROOM = 1.5

/**
 * The stroke of a picture, laid out from left to right along its own line: what a scan of a painted stroke, or one that was
 * drawn just now, is compared with brushes by. Ground that is not quite white is taken off.
 * @returns Undefined where nothing is painted, or it is no longer than it is broad.
 */
export function findStroke(pixels: Pixels): StrokePlane | undefined {
  const plane = toPlane(toSurface(cutPaint(shrunk(pixels))))
  const axis = axisOf(plane)
  if (!axis || axis.length < LONG_FROM * axis.breadth) return undefined
  const height = Math.ceil(2 * ROOM * axis.breadth) + 4
  const turned = layAlong(plane, axis, height, () => 0)
  // a hand does not draw straight: the line is bent back along the cubic through its middle
  const laid = layAlong(plane, axis, height, centreOf(turned))
  const cut = Math.round(laid.width * END_SHARE)
  return cutColumns(laid, cut, laid.width - cut)
}

function shrunk(pixels: Pixels): Pixels {
  const longer = Math.max(pixels.width, pixels.height)
  if (longer <= LOOK_PX) return pixels
  const { width, height } = fitSize(pixels.width, pixels.height, LOOK_PX)
  return shrinkPixels(pixels, width, height)
}

/** Straight pixels as they lie on nothing. */
function toSurface({ width, height, data }: Pixels): Surface {
  const surface = createSurface(width, height)
  for (let i = 0; i < data.length; i += 4) {
    for (let c = 0; c < 3; c++) surface.data[i + c] = (data[i + c] * data[i + 3]) / 255
    surface.data[i + 3] = data[i + 3]
  }
  return surface
}

type Axis = { x: number; y: number; cos: number; sin: number; from: number; length: number; breadth: number }

/** The line along which paint lies, by its second moments, and between which places it does. */
function axisOf({ width, height, cover }: StrokePlane): Axis | undefined {
  let [n, sx, sy, sxx, syy, sxy] = [0, 0, 0, 0, 0, 0]
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      if (cover[i] < DUST) continue
      const c = cover[i]
      n += c
      sx += c * x
      sy += c * y
      sxx += c * x * x
      syy += c * y * y
      sxy += c * x * y
    }
  }
  if (n === 0) return undefined
  const [x, y] = [sx / n, sy / n]
  const [vxx, vyy, vxy] = [sxx / n - x * x, syy / n - y * y, sxy / n - x * y]
  const turn = Math.atan2(2 * vxy, vxx - vyy) / 2
  const [cos, sin] = [Math.cos(turn), Math.sin(turn)]
  const along = spread(width, height, cover, (px, py) => (px - x) * cos + (py - y) * sin)
  const across = spread(width, height, cover, (px, py) => (py - y) * cos - (px - x) * sin)
  return {
    x,
    y,
    cos,
    sin,
    from: along.from,
    length: along.to - along.from,
    breadth: Math.max(1, across.to - across.from),
  }
}

function spread(width: number, height: number, cover: Float32Array, at: (x: number, y: number) => number) {
  const reach = Math.ceil(Math.hypot(width, height))
  const sums = new Float64Array(2 * reach + 1)
  let paint = 0
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      if (cover[i] < DUST) continue
      sums[Math.round(at(x, y)) + reach] += cover[i]
      paint += cover[i]
    }
  }
  const edge = (share: number) => placeOf(sums, paint * share) - reach - 0.5
  return { from: edge(BEYOND_SHARE), to: edge(1 - BEYOND_SHARE) }
}

/** The paint along an axis, each column moved to where the line's middle is there. */
function layAlong(plane: StrokePlane, axis: Axis, height: number, middle: (t: number) => number): StrokePlane {
  const width = Math.max(1, Math.round(axis.length))
  const cover = new Float32Array(width * height)
  const dark = new Float32Array(width * height)
  for (let u = 0; u < width; u++) {
    const along = axis.from + u
    const off = middle(u / width)
    for (let v = 0; v < height; v++) {
      const across = v - (height - 1) / 2 + off
      const x = axis.x + along * axis.cos - across * axis.sin
      const y = axis.y + along * axis.sin + across * axis.cos
      cover[v * width + u] = sample(plane.cover, plane, x, y)
      dark[v * width + u] = sample(plane.dark, plane, x, y)
    }
  }
  return { ...plane, width, height, cover, dark }
}

function sample(data: Float32Array, { width, height }: StrokePlane, x: number, y: number): number {
  const [left, top] = [Math.floor(x), Math.floor(y)]
  const at = (px: number, py: number) => (px < 0 || py < 0 || px >= width || py >= height ? 0 : data[py * width + px])
  const [fx, fy] = [x - left, y - top]
  return (
    (at(left, top) * (1 - fx) + at(left + 1, top) * fx) * (1 - fy) +
    (at(left, top + 1) * (1 - fx) + at(left + 1, top + 1) * fx) * fy
  )
}

const DEGREE = 3

/** The cubic through the middles of the columns, each counted by its paint: how far they are off the axis at 0…1 of it. */
function centreOf({ width, height, cover }: StrokePlane): (t: number) => number {
  const size = DEGREE + 1
  const sums = Array.from({ length: size }, () => new Float64Array(size + 1))
  for (let x = 0; x < width; x++) {
    let [paint, moment] = [0, 0]
    for (let y = 0; y < height; y++) {
      paint += cover[y * width + x]
      moment += cover[y * width + x] * (y - (height - 1) / 2)
    }
    if (paint < DUST) continue
    const powers = Array.from({ length: size }, (_, p) => (x / width) ** p)
    for (let r = 0; r < size; r++) {
      for (let c = 0; c < size; c++) sums[r][c] += paint * powers[r] * powers[c]
      sums[r][size] += powers[r] * moment
    }
  }
  const terms = solve(sums)
  return terms ? (t) => terms.reduce((sum, term, p) => sum + term * t ** p, 0) : () => 0
}

/** Gaussian elimination with pivots. @returns Undefined where the rows do not settle it. */
function solve(rows: Float64Array[]): number[] | undefined {
  const n = rows.length
  for (let c = 0; c < n; c++) {
    const pivot = rows.slice(c).reduce((best, row, i) => (Math.abs(row[c]) > Math.abs(rows[best][c]) ? c + i : best), c)
    ;[rows[c], rows[pivot]] = [rows[pivot], rows[c]]
    if (Math.abs(rows[c][c]) < 1e-9) return undefined
    for (let r = 0; r < n; r++) {
      if (r === c) continue
      const share = rows[r][c] / rows[c][c]
      for (let k = c; k <= n; k++) rows[r][k] -= share * rows[c][k]
    }
  }
  return rows.map((row, i) => row[n] / row[i])
}
