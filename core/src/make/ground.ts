/** A picture's ground by cells: what the paper would be at the middle of each, 0…255. */
export type GroundCells = { columns: number; rows: number; cellPx: number; values: Float32Array }

/** Cells along the longer side; fine enough for the edge of a soft shadow. */
const CELLS = 56
const CELL_MIN_PX = 6
/** The ground of a cell is the grey above which this share of it lies: paint covers most of some. */
const GROUND_SHARE = 0.18
/** Neighbouring cells whose greys differ more have an edge between them, and the ground ends there; chosen by eye. */
const STEP_SHARE = 0.09
const STEP_LEVELS = 7
/** Cells of the border that count as ground lie this near to most of the border. */
const BORDER_LEVELS = 40
const FILL_ROUNDS = 400
const SMOOTH_ROUNDS = 2

/**
 * The ground under a picture whose paint is dark: light paper with its shadows, smooth. It begins at the border and goes
 * on as long as it changes little from cell to cell; under paint it is drawn over from around.
 *
 * @param grey A byte a pixel, rows from the top.
 */
export function findGround(grey: Uint8Array, width: number, height: number): GroundCells {
  const cellPx = Math.max(CELL_MIN_PX, Math.ceil(Math.max(width, height) / CELLS))
  const columns = Math.ceil(width / cellPx)
  const rows = Math.ceil(height / cellPx)
  const cells = { columns, rows, cellPx, values: lightOfCells(grey, { width, height, columns, rows, cellPx }) }
  const isGround = growGround(cells)
  fillFromAround(cells, isGround)
  for (let round = 0; round < SMOOTH_ROUNDS; round++) smooth(cells)
  return cells
}

type Grid = { width: number; height: number; columns: number; rows: number; cellPx: number }

function lightOfCells(grey: Uint8Array, { width, height, columns, rows, cellPx }: Grid): Float32Array {
  const counts = new Uint32Array(columns * 256)
  const values = new Float32Array(columns * rows)
  for (let row = 0; row < rows; row++) {
    counts.fill(0)
    const end = Math.min(height, (row + 1) * cellPx)
    for (let y = row * cellPx; y < end; y++)
      for (let column = 0, x = 0, i = y * width; column < columns; column++) {
        const bin = column << 8
        for (const right = Math.min(width, (column + 1) * cellPx); x < right; x++, i++) counts[bin + grey[i]]++
      }
    for (let column = 0; column < columns; column++) {
      const pixels = (end - row * cellPx) * (Math.min(width, (column + 1) * cellPx) - column * cellPx)
      values[row * columns + column] = levelAbove(counts, column << 8, pixels * GROUND_SHARE)
    }
  }
  return values
}

/** The level above which so many of a cell's pixels lie, within its level. */
function levelAbove(counts: Uint32Array, bin: number, wanted: number): number {
  let above = 0
  for (let level = 255; level > 0; level--) {
    const count = counts[bin + level]
    if (above + count >= wanted) return level + 0.5 - (wanted - above) / count
    above += count
  }
  return 0
}

/** Which cells are ground: those that the border reaches without an edge between. */
function growGround({ columns, rows, values }: GroundCells): Uint8Array {
  const isGround = new Uint8Array(values.length)
  const border: number[] = []
  for (let x = 0; x < columns; x++) border.push(x, (rows - 1) * columns + x)
  for (let y = 0; y < rows; y++) border.push(y * columns, y * columns + columns - 1)
  const lights = border.map((i) => values[i]).sort((a, b) => a - b)
  const usual = lights[Math.floor(lights.length / 2)]
  const open: number[] = []
  const take = (i: number) => {
    if (isGround[i]) return
    isGround[i] = 1
    open.push(i)
  }
  for (const i of border) if (Math.abs(values[i] - usual) <= BORDER_LEVELS) take(i)
  for (let i = open.pop(); i !== undefined; i = open.pop()) {
    const x = i % columns
    const most = Math.max(STEP_LEVELS, STEP_SHARE * values[i])
    const goTo = (next: number) => {
      if (Math.abs(values[next] - values[i as number]) <= most) take(next)
    }
    if (x > 0) goTo(i - 1)
    if (x < columns - 1) goTo(i + 1)
    if (i >= columns) goTo(i - columns)
    if (i < values.length - columns) goTo(i + columns)
  }
  return isGround
}

/** Cells that are not ground take the mean of their neighbours until they lie smooth between those that are. */
function fillFromAround({ columns, rows, values }: GroundCells, isGround: Uint8Array): void {
  let known = 0
  let sum = 0
  for (let i = 0; i < values.length; i++) {
    if (!isGround[i]) continue
    known++
    sum += values[i]
  }
  if (known === 0 || known === values.length) return
  for (let i = 0; i < values.length; i++) if (!isGround[i]) values[i] = sum / known
  for (let round = 0; round < FILL_ROUNDS; round++) {
    let moved = 0
    for (let y = 0, i = 0; y < rows; y++)
      for (let x = 0; x < columns; x++, i++) {
        if (isGround[i]) continue
        const left = x > 0 ? values[i - 1] : values[i]
        const right = x < columns - 1 ? values[i + 1] : values[i]
        const above = y > 0 ? values[i - columns] : values[i]
        const below = y < rows - 1 ? values[i + columns] : values[i]
        const next = (left + right + above + below) / 4
        moved = Math.max(moved, Math.abs(next - values[i]))
        values[i] = next
      }
    if (moved < 0.05) return
  }
}

function smooth({ columns, rows, values }: GroundCells): void {
  const from = values.slice()
  for (let y = 0, i = 0; y < rows; y++)
    for (let x = 0; x < columns; x++, i++) {
      const left = from[x > 0 ? i - 1 : i]
      const right = from[x < columns - 1 ? i + 1 : i]
      const above = from[y > 0 ? i - columns : i]
      const below = from[y < rows - 1 ? i + columns : i]
      values[i] = (4 * from[i] + left + right + above + below) / 8
    }
}
