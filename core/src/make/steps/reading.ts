import * as v from 'valibot'
import { PAINT_READINGS } from '../../brush/recipe.ts'
import { toLuma } from '../../raster/luma.ts'
import { createPixels, type Pixels } from '../../raster/pixels.ts'
import type { Work } from '../work.ts'

export const Reading = v.strictObject({ reading: v.picklist(PAINT_READINGS) })
export type Reading = v.InferOutput<typeof Reading>

export const setReading = (work: Work, { reading }: Reading): Work => ({ ...work, reading })

/** The finished tip, as its reading wants the pixels. Own colours and tone keep those of the picture under the mark. */
export function toTip({ width, height, colour, grey, reading }: Work): Pixels {
  if (reading === 'dark') return { width, height, channels: 1, data: grey }
  if (reading === 'light') return { width, height, channels: 1, data: grey.map((level) => 255 - level) }
  const tip = createPixels(width, height, 4)
  for (let i = 0, o = 0; i < grey.length; i++, o += 4) {
    const alpha = 255 - grey[i]
    tip.data[o + 3] = alpha
    if (alpha === 0 || reading === 'alpha') continue
    const [r, g, b] = [colour[o], colour[o + 1], colour[o + 2]]
    if (reading === 'own') {
      tip.data[o] = r
      tip.data[o + 1] = g
      tip.data[o + 2] = b
    } else tip.data.fill(toLuma(r, g, b), o, o + 3)
  }
  return tip
}
