import * as v from 'valibot'
import { blurBytes } from '../../raster/blur.ts'
import type { Work } from '../work.ts'

/** How soft the edge of the mark becomes, px of the source. */
export const Edge = v.strictObject({ softPx: v.pipe(v.number(), v.minValue(0), v.maxValue(200)) })
export type Edge = v.InferOutput<typeof Edge>

/** Softens edges; what is even inside stays even. */
export function softenEdge(work: Work, { softPx }: Edge): Work {
  const deviation = (softPx * work.place.scale) / 2
  return { ...work, grey: blurBytes(work.grey, work.width, work.height, deviation) }
}
