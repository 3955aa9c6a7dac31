import { checkSvg } from '@satchel/core/formats/svg/check'
import type { StandInDecoders } from '@satchel/core/stand-ins/found'
import { decodeDrawing } from './photograph.ts'
import { decodePng } from './png.ts'

/** What the stand-ins read pictures and drawings by. */
export const standInDecoders: StandInDecoders = {
  png: async (bytes) => (await decodePng(bytes)).frames.map(({ pixels }) => pixels),
  async svg(bytes) {
    checkSvg(bytes)
    return decodeDrawing(bytes)
  },
}
