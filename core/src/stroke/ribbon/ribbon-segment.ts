/** A point of a ribbon's middle line. */
export type RibbonPoint = {
  x: number
  y: number
  distancePx: number
  halfWidthPx: number
  /** Paint laid here, 0…1. */
  cover: number
  /** Where the strip is read. */
  stripPx: number
}

/**
 * What a pixel learns from a piece of the path: the share of the way along it, the signed distance from it in px
 * (positive to the right of the way, as seen on screen) and half the ribbon's width there.
 */
export type Visit = (x: number, y: number, along: number, acrossPx: number) => void

/** Calls `visit` for each canvas pixel whose foot lies on the line from a (included) to b (excluded), within reach. */
export function visitBand(a: RibbonPoint, b: RibbonPoint, reachPx: number, canvas: Canvas, visit: Visit): void {
  const dx = b.x - a.x
  const dy = b.y - a.y
  const length2 = dx * dx + dy * dy
  if (length2 === 0) return
  const length = Math.sqrt(length2)
  const { top, bottom } = rowsAround(Math.min(a.y, b.y) - reachPx, Math.max(a.y, b.y) + reachPx, canvas)
  for (let y = top; y < bottom; y++) {
    const ry = y + 0.5 - a.y
    // along = (rx·dx + ry·dy) / length² in [0, 1); across = (dx·ry − dy·rx) / length within reach
    const columns = { from: 0, to: canvas.width }
    if (!narrow(columns, dx / length2, (ry * dy) / length2, 0, 1, a.x)) continue
    if (!narrow(columns, -dy / length, (dx * ry) / length, -reachPx, reachPx, a.x)) continue
    for (let x = columns.from; x < columns.to; x++) {
      const rx = x + 0.5 - a.x
      const along = (rx * dx + ry * dy) / length2
      const across = (dx * ry - dy * rx) / length
      if (along >= 0 && along < 1 && Math.abs(across) <= reachPx) visit(x, y, along, across)
    }
  }
}

/** Calls `visit` for the pixels between two bands on the outside of a bend: those whose nearest point is the corner. */
export function visitCorner(
  before: RibbonPoint,
  at: RibbonPoint,
  after: RibbonPoint,
  reachPx: number,
  canvas: Canvas,
  visit: Visit,
): void {
  const [ax, ay] = [at.x - before.x, at.y - before.y]
  const [bx, by] = [after.x - at.x, after.y - at.y]
  const turn = ax * by - ay * bx
  const side = turn > 0 ? -1 : 1 // a turn to the right leaves its gap on the left
  const { top, bottom } = rowsAround(at.y - reachPx, at.y + reachPx, canvas)
  for (let y = top; y < bottom; y++) {
    const ry = y + 0.5 - at.y
    const columns = { from: 0, to: canvas.width }
    if (!narrow(columns, ax, ay * ry, 0, Number.POSITIVE_INFINITY, at.x)) continue
    if (!narrow(columns, bx, by * ry, Number.NEGATIVE_INFINITY, 0, at.x)) continue
    for (let x = Math.max(columns.from, Math.floor(at.x - reachPx)); x < Math.min(columns.to, at.x + reachPx); x++) {
      const rx = x + 0.5 - at.x
      if (rx * ax + ry * ay < 0 || rx * bx + ry * by >= 0) continue
      const distance = Math.sqrt(rx * rx + ry * ry)
      if (distance <= reachPx) visit(x, y, 0, side * distance)
    }
  }
}

export type Canvas = { width: number; height: number }

function rowsAround(top: number, bottom: number, { height }: Canvas): { top: number; bottom: number } {
  return { top: Math.max(0, Math.floor(top)), bottom: Math.min(height, Math.ceil(bottom)) }
}

/**
 * Narrows a row's columns to those where low ≤ slope · (x + ½ − origin) + start ≤ high, one pixel generous to each
 * side. @returns Whether any are left.
 */
function narrow(
  columns: { from: number; to: number },
  slope: number,
  start: number,
  low: number,
  high: number,
  origin: number,
): boolean {
  if (slope === 0) return start >= low && start <= high && columns.from < columns.to
  const one = (low - start) / slope + origin - 0.5
  const other = (high - start) / slope + origin - 0.5
  columns.from = Math.max(columns.from, Math.floor(Math.min(one, other)))
  columns.to = Math.min(columns.to, Math.ceil(Math.max(one, other)) + 1)
  return columns.from < columns.to
}
