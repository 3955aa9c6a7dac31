import type { Decoders } from '@satchel/core/brush-file/kinds'
import { decodeDrawing, decodePhoto } from './photograph.ts'
import { decodePng } from './png.ts'

/** Node's decoders for files of any kind. */
export const nodeDecoders: Decoders = { png: decodePng, photo: decodePhoto, drawing: decodeDrawing }
