import { THUMBNAIL_SIZE } from '@satchel/core/brush/thumbnail'
import { FormatError, LimitError } from '@satchel/core/errors'
import { isBlank } from '@satchel/core/raster/blank'
import { toRgba } from '@satchel/core/raster/pixels'
import { decodePng, encodePng } from '@satchel/node/png'
import { readBytes } from './read-entry.ts'
import type { Tasks } from './tasks.ts'

const { width, height } = THUMBNAIL_SIZE

/** Reads a thumbnail that someone made and writes it anew; refuses another size, damage, and what shows nothing. */
export const readThumbnail: Tasks['readThumbnail'] = async (input) => {
  try {
    const png = 'png' in input ? input.png : await readBytes(input.part, input.entry)
    const [frame] = (await decodePng(png)).frames
    const found = frame?.pixels
    if (found?.width !== width || found.height !== height)
      return { refused: `It has to be ${width} × ${height} px, but is ${found?.width} × ${found?.height}.` }
    const pixels = toRgba(found)
    // Colours under clear pixels are never seen, so what is not opaque cannot be judged.
    if (pixels.data.some((value, i) => i % 4 === 3 && value < 255)) return { refused: 'It has to be opaque.' }
    if (isBlank(pixels)) return { refused: 'It is blank: nothing of it stands out.' }
    return { png: encodePng(pixels) }
  } catch (error) {
    if (error instanceof FormatError || error instanceof LimitError) return { refused: `${error.message}.` }
    throw error
  }
}
