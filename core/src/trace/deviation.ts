import { pointsOf } from './edit-trace.ts'
import type { Outlines, Traced } from './trace.ts'

/** Side of the cells in which pieces of a path are looked up, px. */
const CELL_PX = 8

/**
 * The farthest that any point of the pixels' own outlines lies from the curves that stand for them, px: the deviation of
 * the whole, also after anchors were taken away.
 */
export function measureDeviation(outlines: Outlines, traced: Traced): number {
  let worst = 0
  for (const [t, { rings }] of outlines.tones.entries()) {
    const lines = new Pieces(traced.tones[t]?.paths ?? [])
    for (const ring of rings)
      for (let i = 0; i < ring.length; i += 2) worst = Math.max(worst, lines.distanceTo(ring[i], ring[i + 1]))
  }
  return Math.sqrt(worst)
}

/** Straight pieces of curves, found by where they are. */
class Pieces {
  readonly #pieces: number[] = []
  readonly #cells = new Map<number, number[]>()

  constructor(paths: Traced['tones'][number]['paths']) {
    for (const path of paths)
      for (let c = 0; c < path.curves.length / 6; c++) {
        const points = pointsOf(path, c)
        for (let i = 2; i < points.length; i += 2) this.#add(points[i - 2], points[i - 1], points[i], points[i + 1])
      }
  }

  #add(x0: number, y0: number, x1: number, y1: number): void {
    const at = this.#pieces.length
    this.#pieces.push(x0, y0, x1, y1)
    const steps = Math.max(1, Math.ceil(Math.hypot(x1 - x0, y1 - y0) / CELL_PX))
    for (let step = 0; step <= steps; step++) {
      const cell = cellOf(x0 + ((x1 - x0) * step) / steps, y0 + ((y1 - y0) * step) / steps)
      const list = this.#cells.get(cell)
      if (list) list.push(at)
      else this.#cells.set(cell, [at])
    }
  }

  /** The square of the distance to the nearest piece; looked for in ever wider rings of cells. */
  distanceTo(x: number, y: number): number {
    let best = Number.POSITIVE_INFINITY
    const most = 1 + Math.ceil(Math.max(Math.abs(x), Math.abs(y)) / CELL_PX) + WIDEST
    for (let wide = 1; wide <= most; wide++) {
      for (let dy = -wide; dy <= wide; dy++)
        for (let dx = -wide; dx <= wide; dx++) {
          // what lies inside was looked at before
          if (wide > 1 && Math.abs(dx) < wide && Math.abs(dy) < wide) continue
          for (const at of this.#cells.get(cellOf(x + dx * CELL_PX, y + dy * CELL_PX)) ?? [])
            best = Math.min(best, this.#square(at, x, y))
        }
      if (best <= ((wide - 1) * CELL_PX) ** 2 || (wide > 1 && this.#cells.size === 0)) return best
    }
    return best
  }

  #square(at: number, x: number, y: number): number {
    const [x0, y0, x1, y1] = this.#pieces.slice(at, at + 4)
    const [dx, dy] = [x1 - x0, y1 - y0]
    const long = dx * dx + dy * dy
    const u = long === 0 ? 0 : Math.min(1, Math.max(0, ((x - x0) * dx + (y - y0) * dy) / long))
    return (x0 + u * dx - x) ** 2 + (y0 + u * dy - y) ** 2
  }
}

/** Cells beyond the picture's own that are looked at before nothing is said to be near. */
const WIDEST = 32
/** More than any picture has cells in a row. */
const ROW = 1 << 20
const cellOf = (x: number, y: number) => Math.floor(y / CELL_PX) * ROW + Math.floor(x / CELL_PX)
