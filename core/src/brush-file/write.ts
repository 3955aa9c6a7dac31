import { toCoverage } from '../brush/coverage.ts'
import type { Recipe } from '../brush/recipe.ts'
import type { Gbr } from '../formats/gbr/layout.ts'
import { writeGbr } from '../formats/gbr/write.ts'
import type { GihDimension } from '../formats/gih/layout.ts'
import { writeGih } from '../formats/gih/write.ts'
import { type PngWriteOptions, writeApng, writePng } from '../formats/png/write.ts'
import { toOneLine } from '../formats/text.ts'
import { NAME_MAX_CHARS } from '../limits.ts'
import type { Pixels } from '../raster/pixels.ts'
import { type FileDetails, type OpenBrush, toOneCanvas, toPaperPicture } from './open-brush.ts'

/** What a brush may bring along besides its first picture and its name, in words for when it is left behind. */
const DETAILS = {
  frames: ({ frames }: OpenBrush) => frames.length > 1 && `${frames.length - 1} of ${frames.length} frames`,
  frameNames: ({ details }) => details?.frameNames?.some((name) => name !== '') && 'the names of its frames',
  rules: ({ details, frames }) => details?.saysRules && frames.length > 1 && 'the rules for the next frame',
  spacing: ({ details, recipe }) => details?.saysSpacing && `the spacing of ${recipe.path.spacingPct} %`,
  keys: ({ details }) =>
    details?.keys?.length && `what it says of ${details.keys.map(([key]) => `"${key}"`).join(', ')}`,
  maker: ({ details }) => details?.maker && `its maker, ${details.maker}`,
  licence: ({ details }) => details?.licence && `its licence, ${details.licence}`,
  texts: ({ details }) => {
    const keywords = Object.keys(details?.texts ?? {})
    return keywords.length > 0 && `its texts (${keywords.join(', ')})`
  },
  resolution: ({ details }) => details?.pixelsPerMetre && `its ${Math.round(details.pixelsPerMetre * 0.0254)} dpi`,
  times: ({ details }) => hasTimes(details) && 'how long each frame stays',
} satisfies Record<string, (brush: OpenBrush) => string | false | 0 | undefined>
type Detail = keyof typeof DETAILS

/** Times that are all one say nothing that a player would not do anyway. */
const hasTimes = (details: FileDetails | undefined) =>
  details?.delaysMs?.some((delay) => delay !== details.delaysMs?.[0])

/** A kind of file that brushes are written to. */
type Target = {
  /** Which details it holds. */
  holds: readonly Detail[]
  write(brush: OpenBrush, options: WriteOptions): Uint8Array
}
type WriteOptions = PngWriteOptions & {
  /** Pictures as they are, not as their reading shows them on paper. */
  keepPixels?: boolean
}

const PICTURE_DETAILS: readonly Detail[] = ['frames', 'maker', 'licence', 'texts', 'resolution', 'times']

/** Every kind of file that brushes are written to, by extension. */
export const TARGETS = {
  png: {
    holds: PICTURE_DETAILS,
    write: (brush, options) => (brush.frames.length > 1 ? toApng(brush, options) : toPng(brush, options)),
  },
  apng: { holds: PICTURE_DETAILS, write: (brush, options) => toApng(brush, options) },
  gbr: { holds: ['spacing'], write: (brush) => writeGbr(toGbrFrame(brush, 0)) },
  gih: { holds: ['frames', 'frameNames', 'rules', 'spacing', 'keys'], write: (brush) => toGih(brush) },
} as const satisfies Record<string, Target>
export type TargetKind = keyof typeof TARGETS

/**
 * Writes a brush to a file of a kind. Several frames in a PNG become an animated one.
 * @returns The bytes, and what was left behind or changed, each a phrase that follows "it leaves behind" or a sentence.
 */
export function writeBrushFile(
  kind: TargetKind,
  brush: OpenBrush,
  options: WriteOptions = {},
): { bytes: Uint8Array; left: string[]; changes: string[] } {
  const target: Target = TARGETS[kind]
  const left = (Object.keys(DETAILS) as Detail[]).flatMap((detail) => {
    const called = !target.holds.includes(detail) && DETAILS[detail](brush)
    return called ? [called] : []
  })
  return { bytes: target.write(brush, options), left, changes: changesOf(kind, brush) }
}

/** What the kind cannot say as it is. */
function changesOf(kind: TargetKind, { name, recipe }: OpenBrush): string[] {
  const held = toOneLine(name, NAME_MAX_CHARS)
  const { spacingPct } = recipe.path
  const isRounded = TARGETS[kind].holds.some((detail) => detail === 'spacing') && !Number.isInteger(spacingPct)
  return [
    ...(held !== name ? [`Its name was written as "${held}".`] : []),
    ...(isRounded ? [`Its spacing of ${spacingPct} % was rounded to ${Math.max(1, Math.round(spacingPct))} %.`] : []),
  ]
}

/** The open brush file that fits: GIH for several frames, else GBR. */
export const fittingKind = (frames: number): 'gbr' | 'gih' => (frames > 1 ? 'gih' : 'gbr')

function toGih(brush: OpenBrush): Uint8Array {
  return writeGih({
    name: brush.name,
    spacingPct: brush.recipe.path.spacingPct,
    dimensions: toDimensions(brush.recipe, brush.frames.length),
    frames: brush.frames.map((_, i) => toGbrFrame(brush, i)),
    extra: (brush.details?.keys ?? []).map(([key, value]) => [key, value]),
  })
}

function toGbrFrame({ name, frames, recipe, details }: OpenBrush, i: number): Gbr {
  const { width, height, channels, data } = toCoverage(frames[i], recipe.colour.reading)
  const own = frames.length > 1 ? details?.frameNames?.[i] : undefined
  return { version: 2, name: own || name, spacingPct: recipe.path.spacingPct, width, height, channels, data }
}

/** Rules whose grid does not match the frames fall back to one row by the first rule. */
function toDimensions(recipe: Recipe, frames: number): GihDimension[] {
  const { nextFrame } = recipe.path
  const product = nextFrame.reduce((all, rule) => all * rule.frames, 1)
  if (product !== frames) return [{ rank: frames, rule: nextFrame[0].rule }]
  return nextFrame.map(({ rule, frames: rank }) => ({ rank, rule }))
}

const picturesOf = ({ frames, recipe }: OpenBrush, { keepPixels }: WriteOptions): Pixels[] =>
  keepPixels ? frames : frames.map((frame) => toPaperPicture(frame, recipe.colour.reading))

function toPng(brush: OpenBrush, options: WriteOptions): Uint8Array {
  return writePng(picturesOf(brush, options)[0], pngOptions(brush, options))
}

function toApng(brush: OpenBrush, options: WriteOptions): Uint8Array {
  return writeApng(toOneCanvas(picturesOf(brush, options)), {
    ...pngOptions(brush, options),
    delaysMs: brush.details?.delaysMs,
  })
}

function pngOptions({ name, details }: OpenBrush, { deflate, crc32, text }: WriteOptions): PngWriteOptions {
  const texts = { Title: name, Author: details?.maker, Copyright: details?.licence, ...details?.texts, ...text }
  return {
    deflate,
    crc32,
    pixelsPerMetre: details?.pixelsPerMetre,
    text: Object.fromEntries(Object.entries(texts).filter((entry): entry is [string, string] => Boolean(entry[1]))),
  }
}
