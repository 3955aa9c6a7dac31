import { createSurface, type Surface } from '../raster/surface.ts'
import { ciede2000, rgbToLab } from './ciede2000.ts'

/** A colour difference from which on a place is drawn fully dark. */
const FULL_DELTA_E = 50

/** Where two pictures of one size differ: white where they are the same, the darker the more their colours differ. */
export function differenceOf(a: Surface, b: Surface): Surface {
  const out = createSurface(a.width, a.height, { r: 255, g: 255, b: 255 })
  for (let p = 0; p < a.data.length; p += 4) {
    if (a.data[p] === b.data[p] && a.data[p + 1] === b.data[p + 1] && a.data[p + 2] === b.data[p + 2]) continue
    const colourAt = ({ data }: Surface) => rgbToLab({ r: data[p], g: data[p + 1], b: data[p + 2] })
    const grey = 255 * (1 - Math.min(1, ciede2000(colourAt(a), colourAt(b)) / FULL_DELTA_E))
    out.data[p] = grey
    out.data[p + 1] = grey
    out.data[p + 2] = grey
  }
  return out
}
