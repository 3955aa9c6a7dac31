import type { Rgb } from '@satchel/core/raster/srgb'
import { createSurface, type Surface } from '@satchel/core/raster/surface'
import type { Backdrop, BackdropName } from './protocol.ts'

const CHECKER_PX = 12
const NAMED: Record<Exclude<BackdropName, 'checker'>, Rgb> = {
  paper: { r: 250, g: 250, b: 250 },
  mid: { r: 128, g: 128, b: 128 },
  black: { r: 12, g: 12, b: 12 },
}

/** An opaque backdrop to paint on. */
export function createBackdrop(backdrop: Backdrop, width: number, height: number): Surface {
  if (typeof backdrop === 'number') return createSurface(width, height, { r: backdrop, g: backdrop, b: backdrop })
  if (backdrop !== 'checker') return createSurface(width, height, NAMED[backdrop])
  const surface = createSurface(width, height, { r: 255, g: 255, b: 255 })
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i += 4) {
      if ((Math.floor(x / CHECKER_PX) + Math.floor(y / CHECKER_PX)) % 2) surface.data.fill(204, i, i + 3)
    }
  }
  return surface
}
