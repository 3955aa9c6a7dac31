import * as v from 'valibot'
import { numberIn, type Rows } from '../../number-row.ts'
import { cutWork, GROUND_FROM, type Work } from '../work.ts'

export const TRIM_NUMBERS = {
  paddingPx: { label: 'Margin', unit: 'px', from: 0, to: 500, most: 4096, usual: 0, eased: true },
} satisfies Rows

/** Which margin the mark gets, px of the finished tip's source, and whether it lies on a square. */
export const Trim = v.strictObject({
  paddingPx: numberIn(TRIM_NUMBERS.paddingPx),
  square: v.boolean(),
})
export type Trim = v.InferOutput<typeof Trim>

/** Cuts off empty margins; where nothing paints, the picture stays as it is. */
export function trimWork(work: Work, { paddingPx, square }: Trim): Work {
  const box = findMark(work)
  if (!box) return work
  const padding = Math.round(paddingPx * work.place.scale)
  const width = box.right - box.left + 2 * padding
  const height = box.bottom - box.top + 2 * padding
  if (!square) return cutWork(work, box.left - padding, box.top - padding, width, height)
  const side = Math.max(width, height)
  const left = box.left - padding - Math.floor((side - width) / 2)
  return cutWork(work, left, box.top - padding - Math.floor((side - height) / 2), side, side)
}

/** The smallest box that holds all that paints; right and bottom excluded. */
export function findMark({ width, height, grey }: Pick<Work, 'width' | 'height' | 'grey'>) {
  const rowPaints = (y: number) => {
    for (let i = y * width; i < (y + 1) * width; i++) if (grey[i] < GROUND_FROM) return true
    return false
  }
  let top = 0
  while (top < height && !rowPaints(top)) top++
  if (top === height) return undefined
  let bottom = height
  while (!rowPaints(bottom - 1)) bottom--
  let left = width
  let right = 0
  // only what lies beyond what was found so far is looked at
  for (let y = top; y < bottom; y++) {
    const row = y * width
    for (let x = 0; x < left; x++) if (grey[row + x] < GROUND_FROM) left = x
    for (let x = width - 1; x >= right; x--)
      if (grey[row + x] < GROUND_FROM) {
        right = x + 1
        break
      }
  }
  return { left, top, right, bottom }
}
