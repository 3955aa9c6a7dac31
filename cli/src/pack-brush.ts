import type { Recipe } from '@satchel/core/brush/recipe'
import { sniffKind } from '@satchel/core/brush-file/sniff'
import { FormatError } from '@satchel/core/errors'
import { readPng } from '@satchel/core/formats/png/read'
import { toByteSource } from '@satchel/core/formats/zip/layout'
import { listZip, readZipEntry } from '@satchel/core/formats/zip/read'
import { PACK_EXTENSION, type PackBrush } from '@satchel/core/pack/manifest'
import { isSatchelPack, openPack } from '@satchel/core/pack/read'
import type { Pixels } from '@satchel/core/raster/pixels'
import type { BrushPictures } from '@satchel/core/stroke/prepare-brush'
import { codecs } from './file-brush.ts'

/** A brush out of a Satchel pack, or out of a download that holds one; undefined when the bytes are no archive. */
export async function readPackBrush(
  bytes: Uint8Array,
  name: string | undefined,
): Promise<{ pictures: BrushPictures; recipe: Recipe } | undefined> {
  if (sniffKind(bytes.subarray(0, 8192)) !== 'zip') return undefined
  const source = toByteSource(bytes)
  const entries = await listZip(source)
  if (!isSatchelPack(entries)) {
    const inner = entries.find(({ path }) => path.endsWith(PACK_EXTENSION))
    if (!inner) throw new FormatError('archive', 0, 'a Satchel pack in it')
    return readPackBrush(await readZipEntry(source, inner, codecs), name)
  }
  const { manifest, readFrame, readGrain } = await openPack(source, codecs)
  const brush = pick(manifest.brushes, name)
  const { grain } = brush.recipe.ground
  const frames = await Promise.all(brush.frames.map(async (sha256) => decode(await readFrame(brush, sha256))))
  return { pictures: { frames, grain: grain && decode(await readGrain(grain.sha256)) }, recipe: brush.recipe }
}

function pick(brushes: readonly PackBrush[], name: string | undefined): PackBrush {
  const found = name === undefined && brushes.length === 1 ? brushes : brushes.filter((brush) => brush.name === name)
  const [first] = found
  if (first && found.length === 1) return first
  const names = brushes.slice(0, 12).map((brush) => `"${brush.name}"`)
  const some = brushes.length > names.length ? `${names.join(', ')} and others` : names.join(', ')
  throw new FormatError('Satchel pack', 0, `--brush with the name of one brush, of ${some}; ${found.length} match`)
}

function decode(png: Uint8Array): Pixels {
  const [frame] = readPng(png).frames
  if (!frame) throw new FormatError('PNG', 0, 'a picture')
  return frame.pixels
}
