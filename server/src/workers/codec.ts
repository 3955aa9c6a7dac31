import { createHash } from 'node:crypto'
import { constants, crc32, deflateSync, inflateRawSync } from 'node:zlib'
import { FormatError } from '@satchel/core/errors'
import { toStillPng } from '@satchel/core/formats/png/chunk'
import { COLOUR_TYPE, PNG, type PngParts } from '@satchel/core/formats/png/layout'
import { parsePng } from '@satchel/core/formats/png/parse'
import { finishPng, type PngReading } from '@satchel/core/formats/png/read'
import { toPixels } from '@satchel/core/formats/png/samples'
import { type PngWriteOptions, writePng } from '@satchel/core/formats/png/write'
import { checkPictureSize, PICTURE_PIXELS_MAX } from '@satchel/core/limits'
import type { Pixels } from '@satchel/core/raster/pixels'
import sharp from 'sharp'

// One picture is one task here; the pool of workers already uses both cores.
sharp.concurrency(1)
sharp.cache(false)

const DEFLATE_LEVEL = 3

export const nodeCrc32 = (bytes: Uint8Array, start = 0): number => crc32(bytes, start)
export const nodeSha256 = (bytes: Uint8Array): string => createHash('sha256').update(bytes).digest('hex')
export const nodeInflateRaw = (packed: Uint8Array, sizeBytes: number): Uint8Array =>
  new Uint8Array(inflateRawSync(packed, { maxOutputLength: sizeBytes + 1 }))

/** Node's faster checksum and compression for core's PNG writer. */
export const nodePngOptions: PngWriteOptions = {
  crc32: nodeCrc32,
  deflate: (bytes) => deflateSync(bytes, { level: DEFLATE_LEVEL, strategy: constants.Z_DEFAULT_STRATEGY }),
}

export const encodePng = (pixels: Pixels, text?: Record<string, string>): Uint8Array =>
  writePng(pixels, { ...nodePngOptions, text })

/**
 * Reads a PNG as core does, with the structure checked by core and the pixels decoded by libvips.
 * @throws {FormatError | LimitError} As `readPng` of core.
 */
export async function decodePng(bytes: Uint8Array): Promise<PngReading> {
  const parts = parsePng(bytes, { crc32: nodeCrc32 })
  const decoded: Pixels[] = []
  for (const frame of parts.frames) {
    decoded.push(await decodeStill(parts.animated ? toStillPng(parts, frame, nodeCrc32) : bytes, parts))
  }
  return finishPng(parts, decoded)
}

async function decodeStill(png: Uint8Array, parts: PngParts): Promise<Pixels> {
  const { depth, colourType } = parts.header
  try {
    const picture = sharp(png, { limitInputPixels: PICTURE_PIXELS_MAX, failOn: 'warning' })
    if (depth === 16) {
      const raw = await picture
        .toColourspace(colourType === COLOUR_TYPE.grey || colourType === COLOUR_TYPE.greyAlpha ? 'grey16' : 'rgb16')
        .raw({ depth: 'ushort' })
        .toBuffer({ resolveWithObject: true })
      const { width, height, channels } = raw.info
      const data = new Uint16Array(raw.data.buffer, raw.data.byteOffset, raw.data.length / 2)
      return toPixels({ width, height, channels, data }, withoutTransparency(parts, channels))
    }
    if (colourType === COLOUR_TYPE.grey && !parts.transparency) {
      const { data, info } = await picture.toColourspace('b-w').raw().toBuffer({ resolveWithObject: true })
      return {
        width: info.width,
        height: info.height,
        channels: 1,
        data: new Uint8Array(data.buffer, data.byteOffset, data.length),
      }
    }
    const { data, info } = await picture.toColourspace('srgb').ensureAlpha().raw().toBuffer({ resolveWithObject: true })
    return {
      width: info.width,
      height: info.height,
      channels: 4,
      data: new Uint8Array(data.buffer, data.byteOffset, data.length),
    }
  } catch (cause) {
    throw new FormatError(PNG, png.length, 'pixel data that unpacks; the file is damaged', { cause })
  }
}

/** libvips has already turned a transparent colour into an alpha channel; the parts are told so. */
function withoutTransparency(parts: PngParts, channels: number): PngParts {
  const colourType =
    channels === 1
      ? COLOUR_TYPE.grey
      : channels === 2
        ? COLOUR_TYPE.greyAlpha
        : channels === 3
          ? COLOUR_TYPE.rgb
          : COLOUR_TYPE.rgba
  return { ...parts, transparency: undefined, header: { ...parts.header, colourType } }
}

/**
 * Reads JPEG or WebP, turned as the camera says, as RGBA.
 * @throws {FormatError} If it does not decode. @throws {LimitError} If it is too large.
 */
export async function decodePhoto(bytes: Uint8Array, format: 'JPEG picture' | 'WebP picture'): Promise<Pixels> {
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
    if (cause instanceof Error && cause.name === 'LimitError') throw cause
    throw new FormatError(format, 0, 'pixel data that unpacks; the file is damaged', { cause })
  }
}
