/** One closed line: x, y of a point after another, px; what is inside lies to its right, so holes go the other way round. */
export type Ring = Float64Array

/** Sides of a cell of four neighbouring pixels. */
const TOP = 0
const RIGHT = 1
const BOTTOM = 2
const LEFT = 3

/**
 * For each pattern of corners that are inside (upper left 8, upper right 4, lower right 2, lower left 1) the lines through
 * the cell, from side to side. Two corners across from each other are joined or parted by what lies between them.
 */
const LINES: readonly (readonly [from: number, to: number][])[] = [
  [], [[LEFT, BOTTOM]], [[BOTTOM, RIGHT]], [[LEFT, RIGHT]],
  [[RIGHT, TOP]], [[RIGHT, TOP], [LEFT, BOTTOM]], [[BOTTOM, TOP]], [[LEFT, TOP]],
  [[TOP, LEFT]], [[TOP, BOTTOM]], [[TOP, LEFT], [BOTTOM, RIGHT]], [[TOP, RIGHT]],
  [[RIGHT, LEFT]], [[RIGHT, BOTTOM]], [[BOTTOM, LEFT]], [],
] // biome-ignore format: a table
const JOINED: Readonly<Record<number, readonly [from: number, to: number][]>> = {
  5: [[LEFT, TOP], [RIGHT, BOTTOM]],
  10: [[TOP, RIGHT], [BOTTOM, LEFT]],
} // biome-ignore format: a table

/**
 * The lines along which a picture crosses a level, between pixels as exactly as their values say: marching squares.
 * @param cover A byte a pixel, rows from the top; beyond the border lies 0.
 * @param level Above it is inside, 0…255; halves keep it from ever being met exactly.
 * @see Lorensen and Cline, "Marching cubes", 1987, in two dimensions (table from memory).
 */
export function findContours(cover: Uint8Array, width: number, height: number, level = 127.5): Ring[] {
  const stride = width + 2
  const count = stride * (height + 2)
  const values = withRim(cover, width, height)
  const least = Math.floor(level) + 1 // whole numbers compare faster
  /** Where a line goes on from a crossing, plus 1; those between neighbours of a row first, then of a column. */
  const next = new Int32Array(2 * count)
  const starts: number[] = []
  let above = spanOf(values, 0, stride, least)
  for (let y = 0; y <= height; y++) {
    const row = y * stride
    // only where one of both rows holds anything
    const below = spanOf(values, row + stride, stride, least)
    const first = Math.min(above.first, below.first) - 1
    const last = Math.max(above.last, below.last)
    above = below
    let left = 0
    for (let cell = row + first; cell <= row + last; cell++) {
      const upper = values[cell + 1] >= least ? 1 : 0
      const lower = values[cell + stride + 1] >= least ? 1 : 0
      const code = left | (upper << 2) | (lower << 1)
      left = (upper << 3) | lower
      if (code === 0 || code === 15) continue
      const sum = values[cell] + values[cell + 1] + values[cell + stride] + values[cell + stride + 1]
      const lines = ((code === 5 || code === 10) && sum > 4 * level && JOINED[code]) || LINES[code]
      for (const [from, to] of lines) {
        const crossing = sideOf(from, cell, stride, count)
        next[crossing] = sideOf(to, cell, stride, count) + 1
        starts.push(crossing)
      }
    }
  }
  const rings: Ring[] = []
  for (const start of starts) if (next[start] > 0) rings.push(follow(start, next, { values, stride, count, level }))
  return rings
}

/** The first and the last column of a row that are inside; none where the first lies behind the last. */
function spanOf(values: Uint8Array, row: number, stride: number, least: number): { first: number; last: number } {
  let [first, last] = [0, stride - 1]
  while (first < stride && values[row + first] < least) first++
  while (last > first && values[row + last] < least) last--
  return { first, last: first === stride ? -1 : last }
}

/** A picture with a rim of nothing around it, so that no pixel has to be asked whether it lies on the border. */
function withRim(cover: Uint8Array, width: number, height: number): Uint8Array {
  const out = new Uint8Array((width + 2) * (height + 2))
  for (let y = 0; y < height; y++) out.set(cover.subarray(y * width, (y + 1) * width), (y + 1) * (width + 2) + 1)
  return out
}

/** The crossing on a side of a cell. */
function sideOf(side: number, cell: number, stride: number, count: number): number {
  if (side === TOP) return cell
  if (side === BOTTOM) return cell + stride
  return side === LEFT ? count + cell : count + cell + 1
}

type Grid = { values: Uint8Array; stride: number; count: number; level: number }

function follow(start: number, next: Int32Array, { values, stride, count, level }: Grid): Ring {
  const points: number[] = []
  for (let edge = start; next[edge] > 0; ) {
    const isDown = edge >= count
    const cell = isDown ? edge - count : edge
    const [x, y] = [(cell % stride) - 0.5, Math.floor(cell / stride) - 0.5]
    const a = values[cell]
    const share = (level - a) / (values[cell + (isDown ? stride : 1)] - a)
    points.push(isDown ? x : x + share, isDown ? y + share : y)
    const to = next[edge] - 1
    next[edge] = 0
    edge = to
  }
  return Float64Array.from(points)
}

/** The area that a ring encloses, px²; negative of a hole. */
export function areaOf(ring: Ring): number {
  let sum = 0
  for (let i = 0, j = ring.length - 2; i < ring.length; j = i, i += 2)
    sum += ring[j] * ring[i + 1] - ring[i] * ring[j + 1]
  return sum / 2
}
