import { constants, deflateSync, inflateSync } from 'node:zlib'
import { FormatError } from '@satchel/core/errors'
import { toStillPng } from '@satchel/core/formats/png/chunk'
import { BEHIND_LAST_ROW, decodeFrame, unpackedBytes } from '@satchel/core/formats/png/decode'
import { COLOUR_TYPE, PNG, type PngFrameChunk, type PngParts } from '@satchel/core/formats/png/layout'
import { readPngParts } from '@satchel/core/formats/png/parts'
import { assemblePng, type PngReading } from '@satchel/core/formats/png/read'
import { type PngWriteOptions, writePng } from '@satchel/core/formats/png/write'
import { PICTURE_PIXELS_MAX } from '@satchel/core/limits'
import type { Pixels } from '@satchel/core/raster/pixels'
import sharp from 'sharp'
import { nodeCrc32 } from './hash.ts'

const DEFLATE_LEVEL = 3

/** Node's faster checksum and compression for core's PNG writer. */
export const nodePngOptions: PngWriteOptions = {
  crc32: nodeCrc32,
  deflate: (bytes) => deflateSync(bytes, { level: DEFLATE_LEVEL, strategy: constants.Z_DEFAULT_STRATEGY }),
}

export const encodePng = (pixels: Pixels, text?: Record<string, string>): Uint8Array =>
  writePng(pixels, { ...nodePngOptions, text })

/**
 * Reads a PNG as core does, with the structure checked by core and most pixels decoded by libvips.
 * @throws {FormatError | LimitError} As `readPng` of core.
 */
export async function decodePng(bytes: Uint8Array): Promise<PngReading> {
  const parts = readPngParts(bytes, { crc32: nodeCrc32 })
  const assembly = assemblePng(parts)
  for (const frame of parts.frames) {
    // libvips cuts 16 bits to 8 before it looks for a transparent colour, and takes longer to begin than core does with little.
    const isPlain = parts.header.depth <= 8 && unpackedBytes(parts, frame) > CORE_BYTES
    const still = () => (parts.animated ? toStillPng(parts, frame, nodeCrc32) : bytes)
    assembly.add(frame, isPlain ? await decodeStill(still(), parts) : decodeFrame(parts, frame))
    if (isPlain && hasMoreThanRows(parts, frame)) parts.warnings.push(BEHIND_LAST_ROW)
  }
  return assembly.finish()
}

/** Pictures up to so many bytes are left to core. */
const CORE_BYTES = 16 * 1024
/** Pictures up to so many bytes are unpacked once more to see whether anything lies behind them: more would take too long. */
const LOOKED_BEHIND_BYTES = 8 * 1024 * 1024
/** Stored blocks, the largest that pixels are packed to, take five bytes for each 16 KiB at the most (RFC 1951). */
const mostPacked = (sizeBytes: number) => sizeBytes + Math.ceil(sizeBytes / 16_384) * 5 + 64

/** Whether a frame's data unpacks to more than its rows: libvips passes that over without a word. */
function hasMoreThanRows(parts: PngParts, frame: PngFrameChunk): boolean {
  const rowBytes = unpackedBytes(parts, frame)
  const packedBytes = frame.data.reduce((sum, { length }) => sum + length, 0)
  if (packedBytes > mostPacked(rowBytes)) return true
  if (rowBytes > LOOKED_BEHIND_BYTES) return false
  try {
    inflateSync(frame.data.length === 1 && frame.data[0] ? frame.data[0] : Buffer.concat(frame.data), {
      maxOutputLength: rowBytes,
    })
    return false
  } catch (error) {
    // a checksum that is wrong behind pixels that are right is none of this
    return error instanceof Error && 'code' in error && error.code === 'ERR_BUFFER_TOO_LARGE'
  }
}

/**
 * A still picture's own compressed pixels as a PNG with nothing else in it: what is not needed to show it is dropped, and
 * nothing is compressed again. @returns Undefined where the pixels were recoded on the way in, and so differ from those.
 */
export function keepStillPng(bytes: Uint8Array): Uint8Array | undefined {
  const parts = readPngParts(bytes, { crc32: nodeCrc32 })
  const [frame, ...others] = parts.frames
  if (
    !frame ||
    others.length > 0 ||
    parts.animated ||
    parts.header.depth > 8 ||
    parts.gamma !== undefined ||
    parts.hasProfile
  )
    return undefined
  return toStillPng(parts, frame, nodeCrc32)
}

async function decodeStill(png: Uint8Array, { header, transparency }: PngParts): Promise<Pixels> {
  const isGrey = header.colourType === COLOUR_TYPE.grey && !transparency
  try {
    const picture = sharp(png, { limitInputPixels: PICTURE_PIXELS_MAX, failOn: 'warning' })
    const wanted = isGrey ? picture.toColourspace('b-w') : picture.toColourspace('srgb').ensureAlpha()
    const { data, info } = await wanted.raw().toBuffer({ resolveWithObject: true })
    const { width, height } = info
    return { width, height, channels: isGrey ? 1 : 4, data: new Uint8Array(data.buffer, data.byteOffset, data.length) }
  } catch (cause) {
    throw new FormatError(PNG, png.length, 'pixel data that unpacks; the file is damaged', { cause })
  }
}
