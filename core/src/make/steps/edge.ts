import * as v from 'valibot'
import { numberIn, type Rows } from '../../number-row.ts'
import { blurBytes } from '../../raster/blur.ts'
import type { Work } from '../work.ts'

/** How soft the edge of the mark becomes, px of the source. */
export const EDGE_NUMBERS = {
  softPx: { label: 'Softness', unit: 'px', from: 0, to: 100, most: 200, step: 0.5, usual: 0, eased: true },
} satisfies Rows
export const Edge = v.strictObject({ softPx: numberIn(EDGE_NUMBERS.softPx) })
export type Edge = v.InferOutput<typeof Edge>

/** Softens edges; what is even inside stays even. */
export function softenEdge(work: Work, { softPx }: Edge): Work {
  const deviation = (softPx * work.place.scale) / 2
  return { ...work, grey: blurBytes(work.grey, work.width, work.height, deviation) }
}
