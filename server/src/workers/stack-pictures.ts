import { HEAD_BYTES, readBrushFile, sniffKind } from '@satchel/core/brush-file/kinds'
import { FormatError, LimitError } from '@satchel/core/errors'
import { writeOpenRaster } from '@satchel/core/formats/openraster/write'
import { toByteSource } from '@satchel/core/formats/zip/layout'
import { listZip, readZipEntry } from '@satchel/core/formats/zip/read'
import { ANIMATION_PIXELS_MAX, checkPictureSize } from '@satchel/core/limits'
import { stackPictures, toOpened } from '@satchel/core/make/opened'
import { PARTS_MAX } from '@satchel/core/make/ways'
import type { Pixels } from '@satchel/core/raster/pixels'
import { nodeDecoders } from '@satchel/node/decoders'
import { nodeCrc32, nodeZipCodecs } from '@satchel/node/hash'
import { decodePng, encodePng } from '@satchel/node/png'
import { orRefused } from './refused.ts'
import type { Tasks } from './tasks.ts'

/**
 * Pictures that came together, as a zip, become the layers of one drawing.
 * @returns The drawing as OpenRaster.
 * @throws {FormatError} Naming the file that is no picture.
 * @throws {LimitError} If there are too many of them, or too many pixels.
 */
export async function stackZip(bytes: Uint8Array): Promise<Uint8Array> {
  const source = toByteSource(bytes)
  const entries = (await listZip(source)).filter(({ path }) => !path.endsWith('/'))
  if (entries.length === 0) throw new FormatError('zip of pictures', undefined, 'a picture in it')
  if (entries.length > PARTS_MAX) throw new LimitError('the number of pictures', entries.length, PARTS_MAX)
  const pictures: { name: string; pixels: Pixels }[] = []
  let pixelCount = 0
  for (const entry of entries) {
    const pixels = await readPicture(entry.path, await readZipEntry(source, entry, nodeZipCodecs))
    pixelCount += pixels.width * pixels.height
    if (pixelCount > ANIMATION_PIXELS_MAX)
      throw new LimitError('the pixel count of all pictures', pixelCount, ANIMATION_PIXELS_MAX)
    pictures.push({ name: nameOf(entry.path), pixels })
  }
  return toDrawing(pictures)
}

export const stackFrames: Tasks['stackFrames'] = ({ frames, names }) =>
  orRefused(async () => {
    const pictures: { name: string; pixels: Pixels }[] = []
    for (const [i, png] of frames.entries()) {
      const [frame] = (await decodePng(png)).frames
      if (!frame) throw new Error('a stored picture has no frame')
      pictures.push({ name: names[i] || `frame ${i + 1}`, pixels: frame.pixels })
    }
    return { drawing: toDrawing(pictures) }
  })

function toDrawing(pictures: readonly { name: string; pixels: Pixels }[]): Uint8Array {
  const stack = stackPictures(pictures)
  // one that is wide and one that is high need a canvas that is both
  checkPictureSize(stack.width, stack.height)
  return writeOpenRaster(stack, { encode: encodePng, crc32: nodeCrc32 })
}

async function readPicture(path: string, bytes: Uint8Array): Promise<Pixels> {
  const kind = sniffKind(bytes.subarray(0, HEAD_BYTES))
  if (kind === 'zip' || kind === 'foreign') throw new FormatError(path, undefined, 'a picture of a kind that is taken')
  const opened = toOpened(await readBrushFile(bytes, nodeDecoders))
  if (opened.mesh) throw new FormatError(path, undefined, 'a picture, and it is a model')
  return opened.picture
}

const nameOf = (path: string) => path.replace(/^.*\//, '').replace(/\.[A-Za-z0-9]{1,5}$/, '')
