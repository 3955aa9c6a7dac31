import { guessReading } from '@satchel/core/brush/coverage'
import { defaultRecipe, type PaintReading, type Recipe } from '@satchel/core/brush/recipe'
import { fromGbr, fromGih } from '@satchel/core/brush-file/open-brush'
import { type FileKind, sniffKind } from '@satchel/core/brush-file/sniff'
import { hashNear } from '@satchel/core/compare/near-hash'
import { FormatError, LimitError } from '@satchel/core/errors'
import { readGbr } from '@satchel/core/formats/gbr/read'
import { readGih } from '@satchel/core/formats/gih/read'
import { toOneLine } from '@satchel/core/formats/text'
import { guessUse } from '@satchel/core/grain/picture-use'
import { measureSeam } from '@satchel/core/grain/seam'
import { hashPixels } from '@satchel/core/hashes'
import { NAME_MAX_CHARS } from '@satchel/core/limits'
import { type Pixels, toGreyIfLossless } from '@satchel/core/raster/pixels'
import { decodePhoto, decodePng, encodePng, nodeSha256 } from './codec.ts'
import type { ReadFrame, ReadResult } from './tasks.ts'

type Found = { name?: string; maker?: string; licence?: string; frames: Pixels[]; recipe: Recipe; warnings: string[] }

/** Reads one file as a tip: decodes it, names its pixels, and makes the files to store. */
export async function readTip({ bytes, reading }: { bytes: Uint8Array; reading?: PaintReading }): Promise<ReadResult> {
  const kind = sniffKind(bytes.subarray(0, 8192))
  try {
    const found = await readKind(bytes, kind, reading)
    if (!found) return { outcome: 'foreign', kind, reason: 'Not a brush or a picture of a kind that is taken.' }
    return finish(kind, found)
  } catch (error) {
    if (error instanceof FormatError || error instanceof LimitError)
      return { outcome: 'refused', kind, reason: `${error.message}.` }
    throw error
  }
}

async function readKind(
  bytes: Uint8Array,
  kind: FileKind,
  reading: PaintReading | undefined,
): Promise<Found | undefined> {
  switch (kind) {
    case 'gbr': {
      const { name, frames, recipe } = fromGbr(readGbr(bytes))
      return { name, frames, recipe, warnings: [] }
    }
    case 'gih': {
      const { brush, warnings } = readGih(bytes)
      const { name, frames, recipe } = fromGih(brush)
      return { name, frames, recipe, warnings }
    }
    case 'png': {
      const { frames, text, warnings } = await decodePng(bytes)
      const found = fromPictures(
        frames.map((frame) => frame.pixels),
        reading,
        warnings,
      )
      return { ...found, name: text.Title, maker: text.Author, licence: text.Copyright }
    }
    case 'jpeg':
    case 'webp':
      return fromPictures([await decodePhoto(bytes, kind === 'jpeg' ? 'JPEG picture' : 'WebP picture')], reading, [])
    case 'zip':
    case 'foreign':
      return undefined
  }
}

function fromPictures(pictures: Pixels[], reading: PaintReading | undefined, warnings: string[]): Found {
  const grey = pictures.map(toGreyIfLossless)
  const frames = grey.every((picture) => picture.channels === 1) ? grey : pictures
  const sizePx = Math.max(frames[0]?.width ?? 1, frames[0]?.height ?? 1)
  const guessed = reading ?? (frames[0] ? guessReading(frames[0]) : 'dark')
  return { frames, recipe: defaultRecipe({ sizePx, reading: guessed, frames: frames.length }), warnings }
}

function finish(kind: FileKind, { name, maker, licence, frames, recipe, warnings }: Found): ReadResult {
  const stored: ReadFrame[] = frames.map(toReadFrame)
  const reading = recipe.colour.reading
  const near = frames[0] && hashNear(frames[0], reading)
  return {
    outcome: 'tip',
    kind,
    name: name === undefined ? undefined : toOneLine(name, NAME_MAX_CHARS) || undefined,
    maker: toOneLine(maker ?? '', NAME_MAX_CHARS),
    licence: toOneLine(licence ?? '', NAME_MAX_CHARS),
    recipe,
    frames: stored,
    pixelKey: toPixelKey(stored.map((frame) => frame.pixelSha)),
    near,
    use: isOpenBrush(kind) ? 'tip' : guessUse(frames),
    seam: frames[0] && measureSeam(frames[0]),
    warnings: near ? warnings : [...warnings, 'Nothing in it paints: it looks blank.'],
  }
}

/** Files that hold a brush, not just a picture. */
const isOpenBrush = (kind: FileKind) => kind === 'gbr' || kind === 'gih'

export function toReadFrame(pixels: Pixels): ReadFrame {
  return {
    png: encodePng(pixels),
    pixelSha: hashPixels(pixels, nodeSha256),
    width: pixels.width,
    height: pixels.height,
  }
}

/** Names a whole tip by the names of its frames in order. */
export function toPixelKey(pixelShas: readonly string[]): string {
  return pixelShas.length === 1 && pixelShas[0]
    ? pixelShas[0]
    : nodeSha256(new TextEncoder().encode(pixelShas.join(' ')))
}
