import { joinBytes } from '../bytes.ts'
import { type Crc32, crc32 as plainCrc32 } from '../crc32.ts'
import { type PngFrameChunk, type PngParts, SIGNATURE } from './layout.ts'

/** One chunk as it stands in the file: length, type, data, checksum. */
export function writeChunk(type: string, data: Uint8Array, crc32: Crc32 = plainCrc32): Uint8Array {
  const out = new Uint8Array(12 + data.length)
  const view = new DataView(out.buffer)
  view.setUint32(0, data.length)
  for (let i = 0; i < 4; i++) out[4 + i] = type.charCodeAt(i)
  out.set(data, 8)
  view.setUint32(8 + data.length, crc32(out.subarray(4, 8 + data.length)))
  return out
}

/** The 13 bytes of the header chunk. */
export function headerData(
  width: number,
  height: number,
  depth: number,
  colourType: number,
  interlaced = false,
): Uint8Array {
  const data = new Uint8Array(13)
  const view = new DataView(data.buffer)
  view.setUint32(0, width)
  view.setUint32(4, height)
  data[8] = depth
  data[9] = colourType
  data[12] = interlaced ? 1 : 0
  return data
}

/** One frame of a parsed file as a still PNG of its own, so that any PNG decoder can decode it. */
export function toStillPng(
  { header, palette, transparency }: PngParts,
  frame: PngFrameChunk,
  crc32?: Crc32,
): Uint8Array {
  const { depth, colourType, interlaced } = header
  return joinBytes([
    Uint8Array.from(SIGNATURE),
    writeChunk('IHDR', headerData(frame.width, frame.height, depth, colourType, interlaced), crc32),
    ...(palette ? [writeChunk('PLTE', palette, crc32)] : []),
    ...(transparency ? [writeChunk('tRNS', transparency, crc32)] : []),
    ...frame.data.map((data) => writeChunk('IDAT', data, crc32)),
    writeChunk('IEND', new Uint8Array(0), crc32),
  ])
}
