import * as v from 'valibot'
import { numberIn, type Rows, type SettingRow } from '../../number-row.ts'
import { labelAreas } from '../../raster/areas.ts'
import { GROUND_FROM, type Work } from '../work.ts'

const area = (label: string): SettingRow => ({
  label,
  unit: 'px²',
  from: 0,
  to: 20_000,
  most: 64_000_000,
  usual: 0,
  eased: true,
})
export const SPECK_NUMBERS = { specksPx: area('Specks below'), holesPx: area('Holes below') } satisfies Rows

/** What is taken for dirt: marks, and holes in marks, of fewer px of the source; 0 leaves all. */
export const Specks = v.strictObject({
  specksPx: numberIn(SPECK_NUMBERS.specksPx),
  holesPx: numberIn(SPECK_NUMBERS.holesPx),
})
export type Specks = v.InferOutput<typeof Specks>

/** From this grey down it paints so much that its outline counts for a hole. */
const FULL_FROM = 128

/** Takes small marks away and fills small holes; what is large keeps every grey. */
export function removeSpecks(work: Work, { specksPx, holesPx }: Specks): Work {
  const { width, height } = work
  const area = work.place.scale ** 2
  let { grey } = work
  if (specksPx > 0)
    grey = cover(grey, width, height, { leastPx: specksPx * area, isIn: (g) => g < GROUND_FROM, to: 255 })
  if (holesPx > 0) grey = cover(grey, width, height, { leastPx: holesPx * area, isIn: (g) => g >= FULL_FROM, to: 0 })
  return { ...work, grey }
}

type Cover = { leastPx: number; isIn: (grey: number) => boolean; to: number }

/** Every connected area below a size gets one grey; a hole's corners do not leak, a mark's hang together. */
function cover(grey: Uint8Array, width: number, height: number, { leastPx, isIn, to }: Cover): Uint8Array {
  const table = Uint8Array.from({ length: 256 }, (_, level) => (isIn(level) ? 1 : 0))
  const { labels, sizes } = labelAreas(
    grey.map((level) => table[level]),
    width,
    height,
    { diagonal: to === 255 },
  )
  const out = grey.slice()
  for (let i = 0; i < out.length; i++) {
    const label = labels[i]
    if (label > 0 && sizes[label] < leastPx) out[i] = to
  }
  return out
}
