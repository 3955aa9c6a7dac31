// PNG and animated PNG, as in the W3C's Portable Network Graphics (PNG) Specification, third edition:
// https://www.w3.org/TR/png-3/

export const PNG = 'PNG picture'
export const SIGNATURE = [0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a] as const

export const COLOUR_TYPE = { grey: 0, rgb: 2, palette: 3, greyAlpha: 4, rgba: 6 } as const
export type ColourType = (typeof COLOUR_TYPE)[keyof typeof COLOUR_TYPE]

/** Bit depths allowed with each colour type (section 11.2.1). */
export const DEPTHS: Record<number, readonly number[]> = {
  0: [1, 2, 4, 8, 16],
  2: [8, 16],
  3: [1, 2, 4, 8],
  4: [8, 16],
  6: [8, 16],
}

export const DISPOSE = { none: 0, background: 1, previous: 2 } as const
export const BLEND = { source: 0, over: 1 } as const

export type PngHeader = {
  width: number
  height: number
  depth: number
  colourType: ColourType
  interlaced: boolean
}

/** Where a frame lies on the canvas, how long it stays, and its compressed pixels; ops as numbered in the file. */
export type PngFrameChunk = {
  x: number
  y: number
  width: number
  height: number
  delayMs: number
  dispose: number
  blend: number
  data: Uint8Array[]
}

/** A PNG taken apart but not yet decoded. A still picture has one frame that covers the canvas. */
export type PngParts = {
  header: PngHeader
  palette?: Uint8Array | undefined
  transparency?: Uint8Array | undefined
  /** The file's gamma where it says one and no colour space overrides it. */
  gamma?: number | undefined
  /** Whether its colours lie in a space that the file itself describes. */
  hasProfile: boolean
  pixelsPerMetre?: number | undefined
  text: Record<string, string>
  frames: PngFrameChunk[]
  animated: boolean
  warnings: string[]
}
