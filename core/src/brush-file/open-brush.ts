import { toCoverage } from '../brush/coverage.ts'
import { defaultRecipe, type PaintReading, type Recipe, SPACING_MAX_PCT, SPACING_MIN_PCT } from '../brush/recipe.ts'
import { createPixels, type Pixels, toGreyIfLossless, toRgba } from '../raster/pixels.ts'
import type { BrushFile } from './brush-file.ts'
import { type BrushFileKind, FILE_KINDS } from './kinds.ts'

/** What came with a brush out of a file and means nothing to painting; it is kept to be written back. */
export type FileDetails = {
  maker?: string | undefined
  licence?: string | undefined
  texts?: Record<string, string> | undefined
  pixelsPerMetre?: number | undefined
  /** One a frame, empty where a frame has none. */
  frameNames?: readonly string[] | undefined
  /** One a frame. */
  delaysMs?: readonly number[] | undefined
  /** Keys of an animated brush that no reader knows. */
  keys?: readonly (readonly [key: string, value: string])[] | undefined
  /** Whether the file itself said the spacing, and the rules for the next frame. */
  saysSpacing?: boolean | undefined
  saysRules?: boolean | undefined
}

/** A brush with its pictures at hand: what every file format is written from and read into. */
export type OpenBrush = { name: string; frames: Pixels[]; recipe: Recipe; details?: FileDetails | undefined }

type Wishes = {
  /** Where the file gives the brush none. */
  name: string
  /** How pixels of a picture become paint, where nobody has said so. */
  guess: (frames: readonly Pixels[]) => PaintReading
  reading?: PaintReading | undefined
}

/**
 * A file's content as a brush, ready to paint. The mask of an open brush counts paint, not paper, so white paints there.
 * @returns The brush, and what was put right in it, in sentences.
 */
export function toOpenBrush(
  file: BrushFile & { kind: BrushFileKind },
  { name, guess, reading }: Wishes,
): { brush: OpenBrush; warnings: string[] } {
  const warnings = [...file.warnings]
  const frames = alikeFrames(file)
  const recipe = defaultRecipe({
    sizePx: Math.max(frames[0].width, frames[0].height),
    reading: FILE_KINDS[file.kind].isBrush ? (frames[0].channels === 1 ? 'light' : 'own') : (reading ?? guess(frames)),
    frames: frames.length,
  })
  if (file.spacingPct !== undefined) recipe.path.spacingPct = boundSpacing(file.spacingPct, warnings)
  if (file.dimensions) recipe.path.nextFrame = file.dimensions.map(({ rank, rule }) => ({ rule, frames: rank }))
  return { brush: { name: file.name || name, frames, recipe, details: detailsOf(file) }, warnings }
}

/** Frames of one channel count: pictures that are grey throughout become grey, masks among colours black ink. */
function alikeFrames({ kind, frames }: BrushFile & { kind: BrushFileKind }): Pixels[] {
  const pictures = frames.map(({ pixels }) => pixels)
  const isMixed = (all: readonly Pixels[]) => all.some(({ channels }) => channels !== all[0].channels)
  if (FILE_KINDS[kind].isBrush)
    return isMixed(pictures) ? pictures.map((each) => (each.channels === 1 ? maskToInk(each) : each)) : pictures
  const grey = pictures.map(toGreyIfLossless)
  return isMixed(grey) ? pictures.map(toRgba) : grey
}

function boundSpacing(statedPct: number, warnings: string[]): number {
  const pct = Math.min(SPACING_MAX_PCT, Math.max(SPACING_MIN_PCT, statedPct))
  if (pct !== statedPct) warnings.push(`Its spacing of ${statedPct} % was brought to ${pct} %.`)
  return pct
}

function detailsOf({
  maker,
  licence,
  texts,
  pixelsPerMetre,
  frames,
  keys,
  spacingPct,
  dimensions,
}: BrushFile): FileDetails {
  const delaysMs = frames.map(({ delayMs }) => delayMs)
  return {
    maker,
    licence,
    texts,
    pixelsPerMetre,
    keys,
    frameNames: frames.map(({ name }) => name),
    delaysMs: delaysMs.every((delay) => delay !== undefined) ? delaysMs : undefined,
    saysSpacing: spacingPct !== undefined,
    saysRules: dimensions !== undefined,
  }
}

/** Coverage as black ink with alpha. */
function maskToInk(mask: Pixels): Pixels {
  const out = createPixels(mask.width, mask.height, 4)
  for (let i = 0; i < mask.data.length; i++) out.data[i * 4 + 3] = mask.data[i]
  return out
}

/**
 * A tip as anyone would expect to see it: dark and light readings as dark paint on white paper, alpha as black with
 * its alpha, own colours and tone as they are.
 */
export function toPaperPicture(pixels: Pixels, reading: PaintReading): Pixels {
  switch (reading) {
    case 'dark':
    case 'light': {
      const { width, height, data } = toCoverage(pixels, reading)
      return { width, height, channels: 1, data: data.map((coverage) => 255 - coverage) }
    }
    case 'alpha':
      return maskToInk(toCoverage(pixels, reading))
    case 'own':
    case 'tone':
      return pixels
  }
}

/** Frames centred on one canvas, with paper (grey) or nothing (RGBA) around them; mixed kinds become RGBA. */
export function toOneCanvas(frames: readonly Pixels[]): Pixels[] {
  const width = Math.max(...frames.map((frame) => frame.width))
  const height = Math.max(...frames.map((frame) => frame.height))
  const mixed = frames.some((frame) => frame.channels !== frames[0].channels)
  return frames.map((frame) => {
    const from = mixed ? toRgba(frame) : frame
    if (from.width === width && from.height === height) return from
    const { channels } = from
    const out = createPixels(width, height, channels)
    if (channels === 1) out.data.fill(255)
    const left = (width - from.width) >> 1
    const top = (height - from.height) >> 1
    for (let y = 0; y < from.height; y++) {
      const row = from.data.subarray(y * from.width * channels, (y + 1) * from.width * channels)
      out.data.set(row, ((top + y) * width + left) * channels)
    }
    return out
  })
}
