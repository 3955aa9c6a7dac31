import type { Ring } from './contours.ts'

/** A closed path of cubic curves: where it begins, and for each curve two handles and its end: x, y one after another. */
export type CurvePath = { x: number; y: number; curves: Float64Array }

/** Points that a curve is tried over at first. */
const FIRST_TRY = 12
/** Rounds in which points are brought nearer to their places on the curve. */
const ROUNDS = 2
/** A joint whose directions differ by less than this is no corner: both sides get one direction. */
export const USUAL_CORNER_DEG = 40
/** What making joints smooth may add to the deviation, in tolerances. */
const SMOOTH_SLACK = 1.4

/**
 * Fits cubic curves to a ring, as few as stay within a tolerance: each goes as far as it can. Handles are found by least
 * squares over the length along the ring.
 * @param tolerance The farthest that a point of the ring may lie from the path, px.
 * @param cornerDeg Joints that turn by less are made smooth, as far as the tolerance allows.
 * @see Schneider, "An algorithm for automatically fitting digitized curves", 1990, for the least squares and the rounds.
 */
export function fitCurves(ring: Ring, tolerance: number, cornerDeg = USUAL_CORNER_DEG): CurvePath {
  const count = ring.length / 2
  const begin = sharpest(ring)
  // once round and back to the beginning, so that no index has to be wrapped
  const points = new Float64Array(ring.length + 2)
  points.set(ring.subarray(2 * begin))
  points.set(ring.subarray(0, 2 * begin), ring.length - 2 * begin)
  points.set(points.subarray(0, 2), ring.length)
  const fitter = new Fitter(points, tolerance * tolerance)
  const curves: number[] = []
  const ends: number[] = [0]
  let length = FIRST_TRY
  for (let from = 0; from < count; ) {
    const to = fitter.farthest(from, count, length)
    length = Math.max(4, to - from)
    curves.push(...fitter.best)
    ends.push(to)
    from = to
  }
  const path = { x: points[0], y: points[1], curves: Float64Array.from(curves) }
  smoothJoints(path, fitter, ends, Math.cos((cornerDeg * Math.PI) / 180))
  return path
}

/** One curve along points, x and y one after another, from the first to the last; its handles and end. */
export function fitOne(points: Float64Array): Float64Array {
  const fitter = new Fitter(points, Number.POSITIVE_INFINITY)
  fitter.closest(points.length / 2 - 1)
  return fitter.best.slice()
}

/** The point at which a ring turns most: a good place to begin. */
function sharpest(ring: Ring): number {
  const count = ring.length / 2
  const reach = Math.min(4, Math.floor(count / 3))
  let [best, least] = [0, 2]
  for (let i = 0; i < count; i++) {
    const [a, b] = [(i + count - reach) % count, (i + reach) % count]
    const [ax, ay] = [ring[2 * i] - ring[2 * a], ring[2 * i + 1] - ring[2 * a + 1]]
    const [bx, by] = [ring[2 * b] - ring[2 * i], ring[2 * b + 1] - ring[2 * i + 1]]
    const cosine = (ax * bx + ay * by) / Math.max(1e-9, Math.sqrt((ax * ax + ay * ay) * (bx * bx + by * by)))
    if (cosine < least) [best, least] = [i, cosine]
  }
  return best
}

/** Fits one curve at a time to a part of a line. */
class Fitter {
  readonly #points: Float64Array
  readonly #most: number
  readonly #places: Float64Array
  /** Length of the line up to each point. */
  readonly #lengths: Float64Array
  /** Handles and end of what was fitted last and stays within the tolerance. */
  readonly best = new Float64Array(6)
  readonly #tried = new Float64Array(6)

  constructor(points: Float64Array, most: number) {
    this.#points = points
    this.#most = most
    const count = points.length / 2
    this.#places = new Float64Array(count)
    this.#lengths = new Float64Array(count)
    for (let i = 1; i < count; i++) {
      const [dx, dy] = [points[2 * i] - points[2 * i - 2], points[2 * i + 1] - points[2 * i - 1]]
      this.#lengths[i] = this.#lengths[i - 1] + Math.sqrt(dx * dx + dy * dy)
    }
  }

  /** The farthest point that one curve from `from` can reach; its handles are in `best`. */
  farthest(from: number, last: number, guess: number): number {
    let good = from + 1
    this.#straight(from, good)
    let bad = last + 1
    for (let step = guess; good < last; ) {
      const to = Math.min(last, from + step)
      if (to <= good) break
      if (!this.#fits(from, to)) {
        bad = to
        break
      }
      good = to
      step *= 2
    }
    while (bad - good > 1) {
      const middle = (good + bad) >> 1
      if (this.#fits(from, middle)) good = middle
      else bad = middle
    }
    return good
  }

  /** The curve along all points that lies best after as many rounds as there are, whatever it deviates. */
  closest(last: number): void {
    const total = this.#lengths[last]
    for (let i = 1; i < last; i++) this.#places[i] = this.#lengths[i] / total
    for (let round = 0; round <= ROUNDS; round++) {
      this.#solve(0, last)
      this.worst(0, last, this.#tried, true)
    }
    this.best.set(this.#tried)
  }

  #straight(from: number, to: number): void {
    const [x0, y0, x1, y1] = [
      this.#points[2 * from],
      this.#points[2 * from + 1],
      this.#points[2 * to],
      this.#points[2 * to + 1],
    ]
    this.best.set([x0 + (x1 - x0) / 3, y0 + (y1 - y0) / 3, x0 + (2 * (x1 - x0)) / 3, y0 + (2 * (y1 - y0)) / 3, x1, y1])
  }

  #fits(from: number, to: number): boolean {
    const count = to - from
    if (count < 2) {
      this.#straight(from, to)
      return true
    }
    const total = this.#lengths[to] - this.#lengths[from]
    for (let i = 1; i < count; i++) this.#places[i] = (this.#lengths[from + i] - this.#lengths[from]) / total
    for (let round = 0; ; round++) {
      this.#solve(from, to)
      const worst = this.worst(from, to, this.#tried, round < ROUNDS)
      if (worst <= this.#most) {
        this.best.set(this.#tried)
        return true
      }
      // far off it will not come within
      if (round >= ROUNDS || worst > 16 * this.#most) return false
    }
  }

  /** The handles that lie best, by least squares. */
  #solve(from: number, to: number): void {
    const points = this.#points
    const [x0, y0, x3, y3] = [points[2 * from], points[2 * from + 1], points[2 * to], points[2 * to + 1]]
    let [a11, a12, a22, r1x, r1y, r2x, r2y] = [0, 0, 0, 0, 0, 0, 0]
    for (let i = 1, p = 2 * from + 2; i < to - from; i++, p += 2) {
      const u = this.#places[i]
      const v = 1 - u
      const b1 = 3 * u * v * v
      const b2 = 3 * u * u * v
      const [b0, b3] = [v * v * v, u * u * u]
      const dx = points[p] - b0 * x0 - b3 * x3
      const dy = points[p + 1] - b0 * y0 - b3 * y3
      a11 += b1 * b1
      a12 += b1 * b2
      a22 += b2 * b2
      r1x += b1 * dx
      r1y += b1 * dy
      r2x += b2 * dx
      r2y += b2 * dy
    }
    const determinant = a11 * a22 - a12 * a12
    const tried = this.#tried
    if (determinant > 1e-9) {
      tried[0] = (a22 * r1x - a12 * r2x) / determinant
      tried[1] = (a22 * r1y - a12 * r2y) / determinant
      tried[2] = (a11 * r2x - a12 * r1x) / determinant
      tried[3] = (a11 * r2y - a12 * r1y) / determinant
    } else {
      tried[0] = x0 + (x3 - x0) / 3
      tried[1] = y0 + (y3 - y0) / 3
      tried[2] = x0 + (2 * (x3 - x0)) / 3
      tried[3] = y0 + (2 * (y3 - y0)) / 3
    }
    tried[4] = x3
    tried[5] = y3
  }

  /**
   * The square of how far a point lies from its place on a curve, at most.
   * @param moves Whether points are brought nearer to where they belong, by Newton's method.
   */
  worst(from: number, to: number, curve: Float64Array, moves: boolean): number {
    const points = this.#points
    const [x0, y0] = [points[2 * from], points[2 * from + 1]]
    const [cx, cy] = [3 * (curve[0] - x0), 3 * (curve[1] - y0)]
    const [bx, by] = [3 * (curve[2] - curve[0]) - cx, 3 * (curve[3] - curve[1]) - cy]
    const [ax, ay] = [curve[4] - x0 - cx - bx, curve[5] - y0 - cy - by]
    let worst = 0
    for (let i = 1, p = 2 * from + 2; i < to - from; i++, p += 2) {
      const u = this.#places[i]
      const dx = ((ax * u + bx) * u + cx) * u + x0 - points[p]
      const dy = ((ay * u + by) * u + cy) * u + y0 - points[p + 1]
      const away = dx * dx + dy * dy
      if (away > worst) worst = away
      if (!moves) continue
      const sx = (3 * ax * u + 2 * bx) * u + cx
      const sy = (3 * ay * u + 2 * by) * u + cy
      const slope = sx * sx + sy * sy + dx * (6 * ax * u + 2 * bx) + dy * (6 * ay * u + 2 * by)
      if (Math.abs(slope) > 1e-9) this.#places[i] = Math.min(1, Math.max(0, u - (dx * sx + dy * sy) / slope))
    }
    return worst
  }

  /** How far points `from` to `to` are from a curve that was fitted before, squared; their places on it are found anew. */
  deviation(from: number, to: number, curve: Float64Array): number {
    const total = this.#lengths[to] - this.#lengths[from]
    for (let i = 1; i < to - from; i++) this.#places[i] = (this.#lengths[from + i] - this.#lengths[from]) / total
    let worst = 0
    for (let round = 0; round <= ROUNDS + 1; round++) worst = this.worst(from, to, curve, true)
    return worst
  }

  get most(): number {
    return this.#most
  }
}

/** Where two curves meet nearly in one direction, both get it, unless that would take one of them too far off. */
function smoothJoints({ curves }: CurvePath, fitter: Fitter, ends: readonly number[], smoothFrom: number): void {
  const count = curves.length / 6
  if (count < 2) return
  const most = fitter.most * SMOOTH_SLACK * SMOOTH_SLACK
  for (let k = 0; k < count; k++) {
    const n = (k + 1) % count
    const [px, py] = [curves[6 * k + 4], curves[6 * k + 5]]
    const [inX, inY] = [px - curves[6 * k + 2], py - curves[6 * k + 3]]
    const [outX, outY] = [curves[6 * n] - px, curves[6 * n + 1] - py]
    const [inLong, outLong] = [Math.sqrt(inX * inX + inY * inY), Math.sqrt(outX * outX + outY * outY)]
    if (inLong < 1e-6 || outLong < 1e-6) continue
    const cosine = (inX * outX + inY * outY) / (inLong * outLong)
    if (cosine < smoothFrom || cosine > 1 - 1e-9) continue
    const [tx, ty] = [inX / inLong + outX / outLong, inY / inLong + outY / outLong]
    const long = Math.sqrt(tx * tx + ty * ty)
    const before = [curves[6 * k + 2], curves[6 * k + 3], curves[6 * n], curves[6 * n + 1]]
    curves[6 * k + 2] = px - (tx / long) * inLong
    curves[6 * k + 3] = py - (ty / long) * inLong
    curves[6 * n] = px + (tx / long) * outLong
    curves[6 * n + 1] = py + (ty / long) * outLong
    const isOff = [k, n].some((c) => fitter.deviation(ends[c], ends[c + 1], curves.subarray(6 * c, 6 * c + 6)) > most)
    if (!isOff) continue
    ;[curves[6 * k + 2], curves[6 * k + 3], curves[6 * n], curves[6 * n + 1]] = before
  }
}
