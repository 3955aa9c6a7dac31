import * as v from 'valibot'
import { numberIn, type Rows, shareRow } from '../../number-row.ts'
import { findGround, type GroundCells } from '../ground.ts'
import type { Work } from '../work.ts'

/** How far the ground is lifted to white: 0 leaves it, 1 lifts all of it. */
export const EVEN_NUMBERS = { strength: shareRow('How far') } satisfies Rows
export const Even = v.strictObject({ strength: numberIn(EVEN_NUMBERS.strength) })
export type Even = v.InferOutput<typeof Even>

/** Ground nearer than so many levels to what stands for no light has no shadows that can be divided out. */
const LIGHT_MIN = 24

/**
 * Lifts the ground to white, its shadows with it. Where the ground is light, shadow takes the same share of everything
 * and is divided out; where the ground is dark or a colour, the difference to it counts.
 */
export function evenGround(work: Work, { strength }: Even): Work {
  const { width, height, grey, zero } = work
  if (strength === 0) return work
  const cells = findGround(grey, width, height)
  const divides = cells.values.every((value) => value - zero >= LIGHT_MIN)
  const out = new Uint8Array(grey.length)
  const ground = new Float32Array(width)
  for (let y = 0, i = 0; y < height; y++) {
    groundOfRow(cells, y, ground)
    for (let x = 0; x < width; x++, i++) {
      const under = ground[x]
      const lifted = divides ? zero + ((grey[i] - zero) * (255 - zero)) / (under - zero) : grey[i] + 255 - under
      const value = grey[i] + (lifted - grey[i]) * strength
      out[i] = value < 0 ? 0 : value > 255 ? 255 : value + 0.5
    }
  }
  return { ...work, grey: out }
}

/** The ground under one row, bilinear between the middles of the cells. */
function groundOfRow({ columns, rows, cellPx, values }: GroundCells, y: number, out: Float32Array): void {
  const at = Math.max(0, Math.min(rows - 1, (y + 0.5) / cellPx - 0.5))
  const top = Math.min(Math.floor(at), Math.max(0, rows - 2))
  const share = at - top
  const bottom = Math.min(rows - 1, top + 1)
  const valueAt = (column: number) => {
    const above = values[top * columns + column]
    return above + (values[bottom * columns + column] - above) * share
  }
  const half = Math.floor(cellPx / 2)
  let from = valueAt(0)
  let x = 0
  for (; x < Math.min(half, out.length); x++) out[x] = from
  for (let column = 1; column < columns; column++) {
    const to = valueAt(column)
    const step = (to - from) / cellPx
    for (let k = 0; k < cellPx && x < out.length; k++, x++) out[x] = from + step * k
    from = to
  }
  for (; x < out.length; x++) out[x] = from
}
