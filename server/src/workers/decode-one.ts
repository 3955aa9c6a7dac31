import type { Pixels } from '@satchel/core/raster/pixels'
import { decodePng } from '@satchel/node/png'

/** The picture of a stored PNG. @throws {Error} If it holds none: what is stored was read before. */
export async function decodeOne(png: Uint8Array): Promise<Pixels> {
  const [frame] = (await decodePng(png)).frames
  if (!frame) throw new Error('a stored picture has no frame')
  return frame.pixels
}
