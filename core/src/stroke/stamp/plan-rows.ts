import type { Rect } from '../../raster/surface.ts'
import { ROW_INTS } from '../kernel/kernel.ts'

/**
 * How a level of a tip lies: the tip's middle on the canvas, its turn, canvas px per level px, where the tip's middle is
 * read in the level (level px from the middle of the border's corner), and the level's size without border.
 */
export type Geometry = {
  x: number
  y: number
  cos: number
  sin: number
  scaleX: number
  scaleY: number
  middleX: number
  middleY: number
  levelWidth: number
  levelHeight: number
}

export type PlannedRows = { rowCount: number; du: number; dv: number; area: Rect | undefined }

const FIXED_ONE = 65_536

/**
 * Finds, row by row, which pixels of the picture a stamp reaches, so that the inner loop needs no bounds check.
 * Writes `ROW_INTS` integers a row into `rows`.
 */
export function planRows(g: Geometry, width: number, height: number, rows: Int32Array): PlannedRows {
  const du = Math.round((g.cos / g.scaleX) * FIXED_ONE)
  const dv = Math.round((-g.sin / g.scaleY) * FIXED_ONE)
  // Bilinear sampling fades into the border, to the middles of its pixels.
  const halfX = Math.max(g.middleX, g.levelWidth + 1 - g.middleX) * g.scaleX
  const halfY = Math.max(g.middleY, g.levelHeight + 1 - g.middleY) * g.scaleY
  const reachX = Math.abs(g.cos) * halfX + Math.abs(g.sin) * halfY
  const reachY = Math.abs(g.sin) * halfX + Math.abs(g.cos) * halfY
  const none = { rowCount: 0, du, dv, area: undefined }
  const left = Math.max(0, Math.floor(g.x - reachX))
  const right = Math.min(width, Math.ceil(g.x + reachX))
  const top = Math.max(0, Math.floor(g.y - reachY))
  const bottom = Math.min(height, Math.ceil(g.y + reachY))
  if (!(left < right && top < bottom)) return none
  const uEnd = (g.levelWidth + 1) * FIXED_ONE
  const vEnd = (g.levelHeight + 1) * FIXED_ONE
  let rowCount = 0
  for (let y = top; y < bottom; y++) {
    const dx = left + 0.5 - g.x
    const dy = y + 0.5 - g.y
    const u = Math.floor(((g.cos * dx + g.sin * dy) / g.scaleX + g.middleX) * FIXED_ONE)
    const v = Math.floor(((-g.sin * dx + g.cos * dy) / g.scaleY + g.middleY) * FIXED_ONE)
    const first = Math.max(firstInside(u, du, uEnd), firstInside(v, dv, vEnd))
    const last = Math.min(lastInside(u, du, uEnd), lastInside(v, dv, vEnd), right - left - 1)
    if (first > last) continue
    const i = rowCount * ROW_INTS
    rows[i] = y
    rows[i + 1] = left + first
    rows[i + 2] = left + last + 1
    rows[i + 3] = u + du * first
    rows[i + 4] = v + dv * first
    rowCount++
  }
  return rowCount === 0 ? none : { rowCount, du, dv, area: { left, top, right, bottom } }
}

/** The first whole n ≥ 0 with 0 ≤ start + n · step < end, or a number beyond any row. */
function firstInside(start: number, step: number, end: number): number {
  if (start >= 0 && start < end) return 0
  if (start < 0) return step > 0 ? Math.ceil(-start / step) : NEVER
  return step < 0 ? Math.floor((start - end) / -step) + 1 : NEVER
}

/** The last whole n with 0 ≤ start + n · step < end, given that some n is inside. */
function lastInside(start: number, step: number, end: number): number {
  if (step > 0) return Math.ceil((end - start) / step) - 1
  if (step < 0) return Math.floor(start / -step)
  return start >= 0 && start < end ? NEVER : -1
}

const NEVER = 1e9
