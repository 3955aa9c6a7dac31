import { printAlike } from '@satchel/core/alike/alike-print'
import { guessReading } from '@satchel/core/brush/coverage'
import type { PaintReading } from '@satchel/core/brush/recipe'
import type { BrushFile } from '@satchel/core/brush-file/brush-file'
import { FILE_KINDS, HEAD_BYTES, readBrushFile, sniffKind } from '@satchel/core/brush-file/kinds'
import { type OpenBrush, toOpenBrush } from '@satchel/core/brush-file/open-brush'
import { FormatError, LimitError } from '@satchel/core/errors'
import { BEHIND_LAST_ROW } from '@satchel/core/formats/png/decode'
import { toOneLine } from '@satchel/core/formats/text'
import { guessUse } from '@satchel/core/grain/picture-use'
import { measureSeamFigures } from '@satchel/core/grain/seam'
import { hashPixels, type PixelSha } from '@satchel/core/hashes'
import { NAME_MAX_CHARS } from '@satchel/core/limits'
import type { Pixels } from '@satchel/core/raster/pixels'
import { nodeDecoders } from '@satchel/node/decoders'
import { nodeHashBytes } from '@satchel/node/hash'
import { encodePng, keepStillPng } from '@satchel/node/png'
import type { ReadFrame, ReadResult } from './results.ts'

/** Reads one file as a tip: decodes it, names its pixels, and makes the files to store. */
export async function readTip({ bytes, reading }: { bytes: Uint8Array; reading?: PaintReading }): Promise<ReadResult> {
  const kind = sniffKind(bytes.subarray(0, HEAD_BYTES))
  if (kind === 'zip' || kind === 'foreign')
    return { outcome: 'foreign', kind, reason: 'Not a brush or a picture of a kind that is taken.' }
  try {
    const file = await readBrushFile(bytes, nodeDecoders)
    const guess = ([first]: readonly Pixels[]) => (first ? guessReading(first) : 'dark')
    const { brush, warnings } = toOpenBrush(file, { name: '', guess, reading })
    // Pixels that were not changed since they were unpacked need not be packed again.
    const isAsItCame = kind === 'png' && brush.frames.length === 1 && brush.frames[0] === file.frames[0]?.pixels
    const kept = isAsItCame && !file.warnings.includes(BEHIND_LAST_ROW) ? keepStillPng(bytes) : undefined
    return toResult({
      kind,
      brush,
      kept,
      ribbon: file.ribbon,
      fileHash: nodeHashBytes(bytes),
      warnings: [...warnings, ...lossesOf(brush)],
    })
  } catch (error) {
    if (error instanceof FormatError || error instanceof LimitError)
      return { outcome: 'refused', kind, reason: `${error.message}.` }
    throw error
  }
}

/** What a library has no place for. */
function lossesOf({ name, details }: OpenBrush): string[] {
  const { delaysMs = [], pixelsPerMetre } = details ?? {}
  const isUneven = delaysMs.some((delay) => delay !== delaysMs[0])
  return [
    ...([...name].length > NAME_MAX_CHARS ? [`Its name was cut to ${NAME_MAX_CHARS} characters.`] : []),
    ...(isUneven ? ['How long each frame stays is left behind: rules pick the next frame here.'] : []),
    ...(pixelsPerMetre
      ? [`Its ${Math.round(pixelsPerMetre * 0.0254)} dpi are left behind: sizes count in pixels here.`]
      : []),
  ]
}

type Found = {
  kind: keyof typeof FILE_KINDS
  brush: OpenBrush
  kept: Uint8Array | undefined
  /** Of a drawing that says how it is laid along a path. */
  ribbon: BrushFile['ribbon']
  fileHash: string
  warnings: string[]
}

function toResult({ kind, brush, kept, ribbon, fileHash, warnings }: Found): ReadResult {
  const { frames, recipe, details } = brush
  const line = (text: string | undefined) => toOneLine(text ?? '', NAME_MAX_CHARS)
  const stored: ReadFrame[] = frames.map((pixels, i) => toReadFrame(pixels, line(details?.frameNames?.[i]), kept))
  const [first] = frames
  const alike = first && printAlike(first, recipe.colour.reading)
  return {
    outcome: 'tip',
    kind,
    name: line(brush.name) || undefined,
    maker: line(details?.maker),
    licence: line(details?.licence),
    recipe: ribbon ? { ...recipe, path: { ...recipe.path, ribbon } } : recipe,
    frames: stored,
    fileKeys: (details?.keys ?? []).map(([key, value]) => [key, value]),
    pixelKey: toPixelKey(stored.map((frame) => frame.pixelSha)),
    fileHash,
    alike,
    use: ribbon ? 'strip' : FILE_KINDS[kind].isBrush ? 'tip' : guessUse(frames),
    seam: first && measureSeamFigures(first),
    warnings: alike?.mark.length ? warnings : [...warnings, 'Nothing in it paints: it looks blank.'],
  }
}

/** @param png Its file where there is one already. */
export function toReadFrame(pixels: Pixels, name = '', png = encodePng(pixels)): ReadFrame {
  return {
    png,
    pixelSha: hashPixels(pixels, nodeHashBytes),
    width: pixels.width,
    height: pixels.height,
    name,
  }
}

/** Names a whole tip by the names of its frames in order. */
export function toPixelKey(pixelShas: readonly PixelSha[]): string {
  return pixelShas.length === 1 && pixelShas[0]
    ? pixelShas[0]
    : nodeHashBytes(new TextEncoder().encode(pixelShas.join(' ')))
}
