import { toLuma } from '../raster/luma.ts'
import type { Surface } from '../raster/surface.ts'
import type { Plane } from './ssim.ts'

/** The luma of an opaque picture, levels. */
export function lumaOf({ width, height, data }: Surface): Plane {
  const plane = new Float32Array(width * height)
  for (let i = 0, p = 0; i < plane.length; i++, p += 4) plane[i] = toLuma(data[p], data[p + 1], data[p + 2])
  return { width, height, data: plane }
}
