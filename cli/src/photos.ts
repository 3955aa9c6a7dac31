import type { BrushFile } from '@satchel/core/brush-file/brush-file'
import { type BrushFileKind, readBrushFile } from '@satchel/core/brush-file/kinds'
import { FormatError } from '@satchel/core/errors'
import { readPng } from '@satchel/core/formats/png/read'
import { drawSvg } from '@satchel/core/formats/svg/draw'
import { checkPictureSize } from '@satchel/core/limits'
import type { Pixels } from '@satchel/core/raster/pixels'
import { readWhole, shownName } from './files.ts'
import { toFileProblem } from './problems.ts'

/** Reads a file of any kind that is taken, photographs too. @throws {FileProblem} If it cannot be opened or read. */
export async function readAnyPicture(file: string): Promise<BrushFile & { kind: BrushFileKind }> {
  const bytes = await readWhole(file)
  try {
    return await readBrushFile(bytes, { png: readPng, photo: decodePhoto, drawing: decodeDrawing })
  } catch (error) {
    throw toFileProblem(shownName(file), error)
  }
}

const decodeDrawing = async (svg: Uint8Array): Promise<Pixels> => drawSvg((await import('sharp')).default, svg)

/** A photograph, turned as the camera says. Its decoder is fetched only when one is met. */
async function decodePhoto(bytes: Uint8Array, kind: string): Promise<Pixels> {
  const { default: sharp } = await import('sharp')
  const broken = (cause: unknown) => new FormatError(kind, 0, 'pixel data that unpacks; the file is damaged', { cause })
  const open = () => sharp(bytes, { failOn: 'error', limitInputPixels: false })
  const { width = 0, height = 0 } = await open()
    .metadata()
    .catch((error) => {
      throw broken(error)
    })
  checkPictureSize(width, height)
  const { data, info } = await open()
    .autoOrient()
    .toColourspace('srgb')
    .ensureAlpha()
    .raw()
    .toBuffer({ resolveWithObject: true })
    .catch((error) => {
      throw broken(error)
    })
  return {
    width: info.width,
    height: info.height,
    channels: 4,
    data: new Uint8Array(data.buffer, data.byteOffset, data.length),
  }
}
