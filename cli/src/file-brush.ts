import { crc32, inflateRawSync } from 'node:zlib'
import { defaultRecipe, type FrameRule } from '@satchel/core/brush/recipe'
import { fromGbr, fromGih, type OpenBrush } from '@satchel/core/brush-file/open-brush'
import { sniffKind } from '@satchel/core/brush-file/sniff'
import { FormatError } from '@satchel/core/errors'
import { readGbr } from '@satchel/core/formats/gbr/read'
import { readGih } from '@satchel/core/formats/gih/read'
import { readPng } from '@satchel/core/formats/png/read'
import { toByteSource } from '@satchel/core/formats/zip/layout'
import { listZip } from '@satchel/core/formats/zip/read'
import { sha256Hex } from '@satchel/core/hashes'
import { isSatchelPack, openPack } from '@satchel/core/pack/read'
import type { Pixels } from '@satchel/core/raster/pixels'

/** What a file is, as `inspect` tells it. */
export type Inspection = {
  kind: string
  name?: string
  width?: number
  height?: number
  spacing?: number
  frames?: { width: number; height: number; sha256: string }[]
  rules?: FrameRule[]
  ranks?: number[]
  warnings: string[]
}

export const codecs = {
  crc32: (bytes: Uint8Array, start = 0) => crc32(bytes, start),
  inflateRaw: (packed: Uint8Array, sizeBytes: number) =>
    new Uint8Array(inflateRawSync(packed, { maxOutputLength: sizeBytes + 1 })),
}

const toFrames = (frames: readonly Pixels[]) =>
  frames.map(({ width, height, data }) => ({ width, height, sha256: sha256Hex(data) }))

/** Tells what a file's content is. @throws {FormatError | LimitError} If it is none of the kinds, or malformed. */
export async function inspectBytes(bytes: Uint8Array): Promise<Inspection> {
  switch (sniffKind(bytes.subarray(0, 8192))) {
    case 'gbr': {
      const { name, width, height, spacingPct, channels, data } = readGbr(bytes)
      return {
        kind: 'gbr',
        name,
        width,
        height,
        spacing: spacingPct,
        frames: toFrames([{ width, height, channels, data }]),
        warnings: [],
      }
    }
    case 'gih': {
      const { brush, warnings } = readGih(bytes)
      return {
        kind: 'gih',
        name: brush.name,
        width: Math.max(...brush.frames.map((frame) => frame.width)),
        height: Math.max(...brush.frames.map((frame) => frame.height)),
        spacing: brush.spacingPct,
        frames: toFrames(brush.frames),
        rules: brush.dimensions.map(({ rule }) => rule),
        ranks: brush.dimensions.map(({ rank }) => rank),
        warnings,
      }
    }
    case 'png': {
      const { header, animated, frames, text, warnings } = readPng(bytes)
      const { width, height } = header
      const named = text.Title ? { name: text.Title } : {}
      return {
        kind: animated ? 'apng' : 'png',
        ...named,
        width,
        height,
        frames: toFrames(frames.map((frame) => frame.pixels)),
        warnings,
      }
    }
    case 'zip':
      return inspectZip(bytes)
    case 'jpeg':
    case 'webp':
      throw new FormatError('brush file', 0, 'PNG, GBR, GIH or ZIP; JPEG and WebP are read by the server only')
    case 'foreign':
      throw new FormatError('brush file', 0, 'PNG, GBR, GIH or ZIP')
  }
}

async function inspectZip(bytes: Uint8Array): Promise<Inspection> {
  const source = toByteSource(bytes)
  const entries = await listZip(source)
  if (!isSatchelPack(entries)) return { kind: 'zip', warnings: [`It holds ${entries.length} files.`] }
  const { manifest } = await openPack(source, codecs)
  return {
    kind: 'satchel-pack',
    name: manifest.title,
    warnings: [`It holds ${manifest.brushes.length} brushes in ${manifest.sets.length} sets.`],
  }
}

/** Reads a file as a brush. PNG greys read as dark paints and colour as own colours, so that nothing is lost. */
export function readBrush(bytes: Uint8Array, name: string): { brush: OpenBrush; fromPng: boolean; warnings: string[] } {
  switch (sniffKind(bytes.subarray(0, 8192))) {
    case 'gbr': {
      const brush = fromGbr(readGbr(bytes))
      return { brush: { ...brush, name: brush.name || name }, fromPng: false, warnings: [] }
    }
    case 'gih': {
      const { brush, warnings } = readGih(bytes)
      const open = fromGih(brush)
      return { brush: { ...open, name: open.name || name }, fromPng: false, warnings }
    }
    case 'png': {
      const { frames, text, warnings } = readPng(bytes)
      const pixels = frames.map((frame) => frame.pixels)
      const reading = pixels.every((picture) => picture.channels === 1) ? 'dark' : 'own'
      const sizePx = Math.max(pixels[0]?.width ?? 1, pixels[0]?.height ?? 1)
      return {
        brush: {
          name: text.Title || name,
          frames: pixels,
          recipe: defaultRecipe({ sizePx, reading, frames: pixels.length }),
        },
        fromPng: true,
        warnings,
      }
    }
    default:
      throw new FormatError('brush file', 0, 'PNG, APNG, GBR or GIH')
  }
}
