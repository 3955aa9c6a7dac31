import type sharp from 'sharp'
import { FormatError } from '../../errors.ts'
import { checkPictureSize, PICTURE_PIXELS_MAX } from '../../limits.ts'
import type { Pixels } from '../../raster/pixels.ts'
import { SVG } from './check.ts'
import { DRAWING_SIDE_PX } from './cost.ts'

/** The resolution at which a drawing's own size counts. */
const OWN_DPI = 72
const DPI_MAX = 100_000 // the largest that the library takes

/**
 * Draws an SVG, which was checked before, on nothing.
 * @param draw The library that draws; it is Node's alone, so whoever calls brings it.
 * @throws {FormatError} If it cannot be drawn. @throws {LimitError} If it would be too large.
 */
export async function drawSvg(draw: typeof sharp, svg: Uint8Array): Promise<Pixels> {
  try {
    const own = await draw(svg, { density: OWN_DPI, limitInputPixels: false }).metadata()
    const { width = 1, height = 1 } = own
    checkPictureSize(width, height)
    const density = Math.min(DPI_MAX, Math.max(1, (OWN_DPI * DRAWING_SIDE_PX) / Math.max(width, height)))
    const { data, info } = await draw(svg, { density, limitInputPixels: PICTURE_PIXELS_MAX })
      .toColourspace('srgb')
      .ensureAlpha()
      .raw()
      .toBuffer({ resolveWithObject: true })
    return {
      width: info.width,
      height: info.height,
      channels: 4,
      data: new Uint8Array(data.buffer, data.byteOffset, data.length),
    }
  } catch (cause) {
    if (cause instanceof Error && cause.name === 'LimitError') throw cause
    throw new FormatError(SVG, undefined, 'a drawing with a size that can be drawn', { cause })
  }
}
