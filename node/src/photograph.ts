import { FormatError, LimitError } from '@satchel/core/errors'
import { drawSvg } from '@satchel/core/formats/svg/draw'
import { checkPictureSize } from '@satchel/core/limits'
import type { Pixels } from '@satchel/core/raster/pixels'
import sharp from 'sharp'

/**
 * Reads a photograph of any kind that libvips knows, turned as the camera says, as RGBA.
 * @throws {FormatError} If it does not decode. @throws {LimitError} If it is too large.
 */
export async function decodePhoto(bytes: Uint8Array, kind: string): Promise<Pixels> {
  try {
    const picture = sharp(bytes, { failOn: 'error', limitInputPixels: false })
    const { width = 0, height = 0 } = await picture.metadata()
    checkPictureSize(width, height)
    const { data, info } = await picture
      .autoOrient()
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
    if (cause instanceof LimitError) throw cause
    throw new FormatError(kind, 0, 'pixel data that unpacks; the file is damaged', { cause })
  }
}

/** A drawing of lines, drawn by librsvg. @throws {FormatError | LimitError} As `drawSvg` of core. */
export const decodeDrawing = (svg: Uint8Array): Promise<Pixels> => drawSvg(sharp, svg)
