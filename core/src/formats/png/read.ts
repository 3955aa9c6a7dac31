import { decode } from 'fast-png'
import { FormatError } from '../../errors.ts'
import type { Pixels } from '../../raster/pixels.ts'
import { toStillPng } from './chunk.ts'
import { composeFrames } from './compose.ts'
import { PNG, type PngHeader, type PngParts } from './layout.ts'
import { parsePng } from './parse.ts'
import { applyGamma, toPixels, unpackBits } from './samples.ts'

/** A PNG as pictures: one for a still, one a frame (as shown, canvas-sized) for an animation. */
export type PngReading = {
  header: PngHeader
  animated: boolean
  frames: { pixels: Pixels; delayMs: number }[]
  text: Record<string, string>
  warnings: string[]
}

/**
 * Reads PNG of every colour type, depth and interlace, and its animation.
 * @throws {FormatError} If the file breaks the specification.
 * @throws {LimitError} If it is larger than is taken.
 */
export function readPng(bytes: Uint8Array): PngReading {
  const parts = parsePng(bytes)
  return finishPng(
    parts,
    parts.frames.map((frame) => decodeStill(toStillPng(parts, frame), parts)),
  )
}

/** The last stage, shared by every decoder: gamma, then the frames played onto the canvas. */
export function finishPng(parts: PngParts, decoded: Pixels[]): PngReading {
  const { header, animated, frames, text } = parts
  const warnings = [...parts.warnings]
  if (header.depth === 16) warnings.push('Its 16 bits a channel were rounded to 8.')
  const changed = decoded.map((pixels) => applyGamma(pixels, parts.gamma))
  if (changed.includes(true)) warnings.push('Its greys were re-coded to the usual gamma.')
  const shown = animated ? composeFrames(parts, decoded) : decoded
  return {
    header,
    animated,
    text,
    warnings,
    frames: shown.map((pixels, i) => ({ pixels, delayMs: frames[i].delayMs })),
  }
}

function decodeStill(png: Uint8Array, parts: PngParts): Pixels {
  try {
    const { width, height, channels, depth, data } = decode(png)
    const unpacked = depth < 8 ? unpackBits(data as Uint8Array, width, height, depth) : data
    if (unpacked.length < width * height * channels) throw new FormatError(PNG, png.length, 'more pixel data')
    return toPixels({ width, height, channels, data: unpacked }, parts)
  } catch (cause) {
    if (cause instanceof FormatError) throw cause
    throw new FormatError(PNG, png.length, 'pixel data that unpacks; the file is damaged', { cause })
  }
}
