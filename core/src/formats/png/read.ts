import type { Pixels } from '../../raster/pixels.ts'
import { createPlayer } from './compose.ts'
import { decodeFrame } from './decode.ts'
import { applyGamma } from './gamma.ts'
import type { PngFrameChunk, PngHeader, PngParts } from './layout.ts'
import { readPngParts } from './parts.ts'

/** A PNG as pictures: one for a still, one a frame (as shown, canvas-sized) for an animation. */
export type PngReading = {
  header: PngHeader
  animated: boolean
  frames: { pixels: Pixels; delayMs: number }[]
  text: Record<string, string>
  pixelsPerMetre: number | undefined
  warnings: string[]
}

/**
 * Reads PNG of every colour type, depth and interlace, and its animation.
 * @throws {FormatError} If the file breaks the specification.
 * @throws {LimitError} If it is larger than is taken.
 */
export function readPng(bytes: Uint8Array): PngReading {
  const parts = readPngParts(bytes)
  const assembly = assemblePng(parts)
  for (const frame of parts.frames) assembly.add(frame, decodeFrame(parts, frame))
  return assembly.finish()
}

/** The last stage, shared by every decoder: takes the frames in order as they are decoded, sets gamma, plays them. */
export function assemblePng(parts: PngParts): {
  add(frame: PngFrameChunk, pixels: Pixels): void
  finish(): PngReading
} {
  const { header, animated, text, pixelsPerMetre } = parts
  const play = createPlayer(header)
  const frames: PngReading['frames'] = []
  let recoded = false
  return {
    add(frame, pixels) {
      if (applyGamma(pixels, parts.gamma)) recoded = true
      frames.push({ pixels: animated ? play(frame, pixels) : pixels, delayMs: frame.delayMs })
    },
    finish() {
      const warnings = [...parts.warnings]
      if (header.depth === 16) warnings.push('Its 16 bits a channel were rounded to 8.')
      if (recoded) warnings.push('Its greys were re-coded to the usual gamma.')
      return { header, animated, frames, text, pixelsPerMetre, warnings }
    },
  }
}
