import type { Recipe } from '@satchel/core/brush/recipe'
import { FormatError } from '@satchel/core/errors'
import { readPng } from '@satchel/core/formats/png/read'
import { type ByteSource, toByteSource, type ZipEntry } from '@satchel/core/formats/zip/layout'
import { listZip, openStoredEntry, readZipEntry } from '@satchel/core/formats/zip/read'
import { hashPixels, type PixelSha } from '@satchel/core/hashes'
import { PACK, PACK_EXTENSION, type PackBrush } from '@satchel/core/pack/manifest'
import { isSatchelPack, type OpenedPack, openPack } from '@satchel/core/pack/read'
import type { Pixels } from '@satchel/core/raster/pixels'
import type { BrushPictures } from '@satchel/core/stroke/prepare-brush'
import { nodeHashBytes, nodeZipCodecs } from '@satchel/node/hash'
import { distance } from 'fastest-levenshtein'
import { UsageError } from './problems.ts'

/** Opens a Satchel pack, or the one inside a download. @throws {FormatError} If there is none. */
export const openAnyPack = async (source: ByteSource): Promise<OpenedPack> => (await openPackFiles(source)).pack

/** A Satchel pack, or the one inside a download, with its own archive and its files. @throws {FormatError} If there is none. */
export async function openPackFiles(
  source: ByteSource,
): Promise<{ pack: OpenedPack; archive: ByteSource; entries: ZipEntry[] }> {
  const entries = await listZip(source)
  if (isSatchelPack(entries))
    return { pack: await openPack(source, nodeZipCodecs, entries), archive: source, entries: [...entries] }
  const inner = entries.find(({ path }) => path.endsWith(PACK_EXTENSION))
  if (!inner) throw new FormatError('archive', undefined, 'a Satchel pack in it')
  const stored = await openStoredEntry(source, inner)
  const archive = stored ?? toByteSource(await readZipEntry(source, inner, nodeZipCodecs))
  const own = await listZip(archive)
  return { pack: await openPack(archive, nodeZipCodecs, own), archive, entries: [...own] }
}

/** A brush of a pack, with its pictures. @throws {FormatError} If a picture is not the one it is named after. */
export async function loadPackBrush(
  pack: OpenedPack,
  wanted: string | undefined,
): Promise<{ pictures: BrushPictures; recipe: Recipe }> {
  const brush = pickBrush(pack.manifest.brushes, wanted)
  return { pictures: await loadPictures(pack, brush), recipe: brush.recipe }
}

/** All pictures of a brush. @throws {FormatError} If one is not what it is named after. */
export async function loadPictures(
  { readFrame, readGrain }: Pick<OpenedPack, 'readFrame' | 'readGrain'>,
  brush: PackBrush,
): Promise<BrushPictures> {
  const { grain } = brush.recipe.ground
  const frames: Pixels[] = []
  for (const sha256 of brush.frames) frames.push(decode(await readFrame(brush, sha256), sha256))
  return { frames, grain: grain && decode(await readGrain(grain.sha256), grain.sha256) }
}

function decode(png: Uint8Array, sha256: PixelSha): Pixels {
  const [frame] = readPng(png).frames
  if (!frame || hashPixels(frame.pixels, nodeHashBytes) !== sha256)
    throw new FormatError(PACK, undefined, `the picture ${sha256}, found another under its name`)
  return frame.pixels
}

const CLOSE_SHOWN = 6

/**
 * The brush of a name, or of a number as `list` counts them.
 * @throws {UsageError} If none or several are meant; names that are close, or the numbers, are told.
 */
export function pickBrush(brushes: readonly PackBrush[], wanted: string | undefined): PackBrush {
  const [only] = brushes
  if (wanted === undefined && only && brushes.length === 1) return only
  if (wanted === undefined)
    throw new UsageError(`--brush is needed: the pack holds ${brushes.length} brushes; ./satchel list names them.`)
  const named = brushes.flatMap((brush, i) => (brush.name === wanted ? [{ brush, number: i + 1 }] : []))
  if (named.length > 1) {
    const numbers = named.map(({ number }) => `--brush ${number}`).join(' or ')
    throw new UsageError(`${named.length} brushes are called "${wanted}": say which, ${numbers}.`)
  }
  const found = named[0]?.brush ?? (/^\d+$/.test(wanted) ? brushes[Number(wanted) - 1] : undefined)
  if (found) return found
  const close = closeNames(
    wanted,
    brushes.map(({ name }) => name),
  )
    .map((name) => `"${name}"`)
    .join(', ')
  throw new UsageError(
    `No brush is called "${wanted}".${close ? ` Close to it: ${close}.` : ''} ./satchel list names all.`,
  )
}

/** Names that a hasty hand may have meant, the closest first. */
export function closeNames(wanted: string, names: readonly string[]): string[] {
  const word = wanted.toLowerCase()
  const far = Math.max(2, Math.ceil(word.length / 3))
  return [...new Set(names)]
    .map((name) => {
      const other = name.toLowerCase()
      return { name, away: other.includes(word) || word.includes(other) ? 0 : distance(word, other) }
    })
    .filter(({ away }) => away <= far)
    .sort((a, b) => a.away - b.away)
    .slice(0, CLOSE_SHOWN)
    .map(({ name }) => name)
}
