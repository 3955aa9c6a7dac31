import type { Recipe } from '@satchel/core/brush/recipe'
import { HEAD_BYTES, readBrushFile, sniffKind } from '@satchel/core/brush-file/kinds'
import { toOpenBrush } from '@satchel/core/brush-file/open-brush'
import type { FitBrush } from '@satchel/core/destinations/fit-state'
import { readPng } from '@satchel/core/formats/png/read'
import { toByteSource } from '@satchel/core/formats/zip/layout'
import type { PackBrush } from '@satchel/core/pack/manifest'
import type { OpenedPack } from '@satchel/core/pack/read'
import type { Pixels } from '@satchel/core/raster/pixels'
import type { BrushPictures } from '@satchel/core/stroke/prepare-brush'
import { plainGuess } from './convert.ts'
import { bareName, PIPE, readWhole, shownName, withSource } from './files.ts'
import { loadPackBrush, openAnyPack, pickBrush } from './pack-brush.ts'
import { toFileProblem } from './problems.ts'
import { warn } from './say.ts'

const isZip = (bytes: Uint8Array) => sniffKind(bytes.subarray(0, HEAD_BYTES)) === 'zip'

/** Works on a pack, or else on the one brush of an open brush file or a picture. */
async function withPackOrFile<Result>(
  input: string,
  { pack, file }: { pack: (opened: OpenedPack) => Promise<Result>; file: (bytes: Uint8Array) => Promise<Result> },
): Promise<Result> {
  const isPack = input !== PIPE && (await withSource(input, async (source) => isZip(await source.read(0, HEAD_BYTES))))
  if (isPack) return withSource(input, async (source) => pack(await openAnyPack(source)))
  const bytes = await readWhole(input)
  try {
    return isZip(bytes) ? await pack(await openAnyPack(toByteSource(bytes))) : await file(bytes)
  } catch (error) {
    throw toFileProblem(shownName(input), error)
  }
}

async function readOpenFile(
  input: string,
  bytes: Uint8Array,
): Promise<{ name: string; frames: Pixels[]; recipe: Recipe }> {
  const { brush, warnings } = toOpenBrush(await readBrushFile(bytes, { png: readPng }), {
    name: bareName(input),
    guess: plainGuess,
  })
  for (const warning of warnings) warn(`${shownName(input)}: ${warning}`)
  return brush
}

/** One brush to paint with: of a pack by its name or number, else the file's only one. */
export const loadBrush = (
  input: string,
  name: string | undefined,
): Promise<{ pictures: BrushPictures; recipe: Recipe }> =>
  withPackOrFile(input, {
    pack: (opened) => loadPackBrush(opened, name),
    async file(bytes) {
      const { frames, recipe } = await readOpenFile(input, bytes)
      return { pictures: { frames }, recipe }
    },
  })

/** Every brush of a pack, one after another, or the one that is named; else the file's only one. */
export const eachBrush = (
  input: string,
  name: string | undefined,
  work: (brush: FitBrush) => Promise<void>,
): Promise<void> =>
  withPackOrFile(input, {
    async pack(opened) {
      const { brushes } = opened.manifest
      for (const brush of name === undefined ? brushes : [pickBrush(brushes, name)])
        await work(await toFitBrush(opened, brush))
    },
    async file(bytes) {
      await work({ ...(await readOpenFile(input, bytes)), set: '', maker: '', licence: '' })
    },
  })

async function toFitBrush(opened: OpenedPack, brush: PackBrush): Promise<FitBrush> {
  const { sets, grains, brushes } = opened.manifest
  const { pictures, recipe } = await loadPackBrush(opened, String(brushes.indexOf(brush) + 1))
  const sha256 = recipe.ground.grain?.sha256
  const grainName = grains.find((grain) => grain.sha256 === sha256)?.name ?? 'Grain'
  return {
    name: brush.name,
    maker: brush.maker,
    licence: brush.licence,
    recipe,
    frames: pictures.frames,
    set: sets.find((set) => set.brushes.includes(brush.id))?.name ?? '',
    grain: pictures.grain && { name: grainName, pixels: pictures.grain },
  }
}
