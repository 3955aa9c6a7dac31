import { toCoverage } from '../brush/coverage.ts'
import {
  defaultRecipe,
  type FrameRule,
  type PaintReading,
  type Recipe,
  SPACING_MAX_PCT,
  SPACING_MIN_PCT,
} from '../brush/recipe.ts'
import type { Gbr } from '../formats/gbr/layout.ts'
import { writeGbr } from '../formats/gbr/write.ts'
import type { Gih, GihDimension } from '../formats/gih/layout.ts'
import { writeGih } from '../formats/gih/write.ts'
import { type PngWriteOptions, writeApng, writePng } from '../formats/png/write.ts'
import { createPixels, type Pixels, toRgba } from '../raster/pixels.ts'

/** A brush with its pictures at hand: what every file format is written from and read into. */
export type OpenBrush = { name: string; frames: Pixels[]; recipe: Recipe }

/** A GBR as a brush. Its mask counts paint, not paper, so white paints. */
export function fromGbr(gbr: Gbr): OpenBrush {
  return fromFrames(gbr.name, [gbr], { spacingPct: gbr.spacingPct })
}

/** A GIH as a brush: frames, spacing and the rules that pick the next frame. */
export function fromGih({ name, frames, spacingPct, dimensions }: Gih): OpenBrush {
  return fromFrames(name, frames, {
    spacingPct,
    nextFrame: dimensions.map(({ rank, rule }) => ({ rule, frames: rank })),
  })
}

type Known = { spacingPct: number; nextFrame?: { rule: FrameRule; frames: number }[] }

function fromFrames(name: string, frames: readonly Gbr[], { spacingPct, nextFrame }: Known): OpenBrush {
  const mixed = frames.some((frame) => frame.channels !== frames[0].channels)
  const pixels = frames.map(({ width, height, channels, data }) => {
    const picture: Pixels = { width, height, channels, data }
    return mixed && channels === 1 ? maskToInk(picture) : picture
  })
  const reading: PaintReading = pixels[0].channels === 1 ? 'light' : 'own'
  const sizePx = Math.max(pixels[0].width, pixels[0].height)
  const recipe = defaultRecipe({ sizePx, reading, frames: frames.length })
  const spacing = Math.min(SPACING_MAX_PCT, Math.max(SPACING_MIN_PCT, spacingPct))
  return {
    name,
    frames: pixels,
    recipe: { ...recipe, path: { ...recipe.path, spacingPct: spacing, nextFrame: nextFrame ?? recipe.path.nextFrame } },
  }
}

/** Coverage as black ink with alpha. */
function maskToInk(mask: Pixels): Pixels {
  const out = createPixels(mask.width, mask.height, 4)
  for (let i = 0; i < mask.data.length; i++) out.data[i * 4 + 3] = mask.data[i]
  return out
}

/** The brush as a GBR file; an animated one gives its first frame. */
export function toGbrFile(brush: OpenBrush): Uint8Array {
  return writeGbr(toGbrFrame(brush, brush.frames[0]))
}

/** The brush as a GIH file, however many frames it has. */
export function toGihFile(brush: OpenBrush): Uint8Array {
  return writeGih({
    name: brush.name,
    spacingPct: brush.recipe.path.spacingPct,
    dimensions: toDimensions(brush.recipe, brush.frames.length),
    frames: brush.frames.map((frame) => toGbrFrame(brush, frame)),
    extra: [],
  })
}

/** The open brush file that fits: GIH for several frames, else GBR. */
export function toOpenBrushFile(brush: OpenBrush): { extension: 'gbr' | 'gih'; bytes: Uint8Array } {
  return brush.frames.length > 1
    ? { extension: 'gih', bytes: toGihFile(brush) }
    : { extension: 'gbr', bytes: toGbrFile(brush) }
}

function toGbrFrame({ name, recipe }: OpenBrush, frame: Pixels): Gbr {
  const { width, height, channels, data } = toCoverage(frame, recipe.colour.reading)
  return { version: 2, name, spacingPct: recipe.path.spacingPct, width, height, channels, data }
}

/** Rules whose grid does not match the frames fall back to one row by the first rule. */
function toDimensions(recipe: Recipe, frames: number): GihDimension[] {
  const { nextFrame } = recipe.path
  const product = nextFrame.reduce((all, rule) => all * rule.frames, 1)
  if (product !== frames) return [{ rank: frames, rule: nextFrame[0].rule }]
  return nextFrame.map(({ rule, frames: rank }) => ({ rank, rule }))
}

/** The brush as PNG, animated when it has several frames or `animated` says so: see `toPaperPicture` for what it shows. */
export function toPngFile(
  brush: OpenBrush,
  { animated = brush.frames.length > 1, ...options }: PngWriteOptions & { animated?: boolean } = {},
): Uint8Array {
  const pictures = brush.frames.map((frame) => toPaperPicture(frame, brush.recipe.colour.reading))
  const text = { Title: brush.name, ...options.text }
  if (!animated) return writePng(pictures[0], { ...options, text })
  return writeApng(toOneCanvas(pictures), { ...options, text })
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
