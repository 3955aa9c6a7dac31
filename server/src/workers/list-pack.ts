import { printAlike } from '@satchel/core/alike/alike-print'
import { FormatError, LimitError } from '@satchel/core/errors'
import { LISTED_BRUSHES } from '@satchel/core/exchange/protocol'
import { readPng } from '@satchel/core/formats/png/read'
import { fromUtf8 } from '@satchel/core/formats/text'
import { toByteSource } from '@satchel/core/formats/zip/layout'
import { listZip, readZipEntry } from '@satchel/core/formats/zip/read'
import type { PixelSha } from '@satchel/core/hashes'
import type { PackBrush, PackManifest } from '@satchel/core/pack/manifest'
import { openPack } from '@satchel/core/pack/read'
import { SIGNER_PATH } from '@satchel/core/pack/signature'
import { findSigner } from '@satchel/core/pack/signer'
import type { Pixels } from '@satchel/core/raster/pixels'
import { INK } from '@satchel/core/render/render'
import { layOn, renderSeenListStroke } from '@satchel/core/render/thumbnail'
import { prepareBrush } from '@satchel/core/stroke/prepare-brush'
import { nodeHashBytes, nodeZipCodecs } from '@satchel/node/hash'
import { encodePng } from '@satchel/node/png'
import { checkSignature } from '@satchel/node/signature'

/** Strokes as they are shown, px. */
const STROKE = { width: 480, height: 150 }
const WHITE = { r: 255, g: 255, b: 255 }

/** What a pack holds, as it is listed. */
export type ListedPack = {
  manifest: PackManifest
  signer: string
  /** The public key that it is signed by, PEM. */
  pem: string
  /** The pictures of its brushes by the names of their pixels. */
  pictures: Map<PixelSha, Uint8Array>
  /** Of each brush its stroke, and its mark; empty where nothing is painted. */
  brushes: { stroke: Uint8Array; mark: Uint8Array }[]
}

/**
 * Reads a pack that somebody publishes, with all of its pictures, and paints a stroke of each brush.
 * @returns That, or why it is not listed: it is none, is signed by nobody, or is larger than is listed here.
 */
export async function listPack({ bytes }: { bytes: Uint8Array }): Promise<ListedPack | { refused: string }> {
  try {
    return await list(bytes)
  } catch (error) {
    if (error instanceof FormatError || error instanceof LimitError) return { refused: `${error.message}.` }
    throw error
  }
}

async function list(bytes: Uint8Array): Promise<ListedPack> {
  const source = toByteSource(bytes)
  const entries = await listZip(source)
  const { manifest, readFrame, readGrain } = await openPack(source, nodeZipCodecs, entries)
  const signer = await findSigner(source, entries, { codecs: nodeZipCodecs, hash: nodeHashBytes, checkSignature })
  if (!signer)
    throw new FormatError('pack', undefined, 'a signature that holds: exchanges take what its maker has signed')
  const signerEntry = entries.find(({ path }) => path === SIGNER_PATH)
  const pem = signerEntry ? fromUtf8(await readZipEntry(source, signerEntry, nodeZipCodecs), SIGNER_PATH, 0) : ''
  if (manifest.issued)
    throw new FormatError('pack', undefined, 'a release as it was built, not the copy that somebody was given')
  if (manifest.brushes.length > LISTED_BRUSHES)
    throw new LimitError('brushes of a pack', manifest.brushes.length, LISTED_BRUSHES)
  const pictures = new Map<PixelSha, Uint8Array>()
  const brushes: ListedPack['brushes'] = []
  for (const brush of manifest.brushes) {
    const frames: Pixels[] = []
    for (const sha256 of brush.frames) frames.push(await load(sha256, () => readFrame(brush, sha256)))
    const { grain } = brush.recipe.ground
    const ground = grain && (await load(grain.sha256, () => readGrain(grain.sha256)))
    brushes.push(showBrush(brush, frames, ground))
  }
  return { manifest, signer, pem, pictures, brushes }

  async function load(sha256: PixelSha, read: () => Promise<Uint8Array>): Promise<Pixels> {
    const png = pictures.get(sha256) ?? (await read())
    pictures.set(sha256, png)
    const [frame] = readPng(png).frames
    if (!frame) throw new FormatError('pack', undefined, 'a picture in each of its PNG files')
    return frame.pixels
  }
}

function showBrush({ recipe }: PackBrush, frames: Pixels[], grain: Pixels | undefined): ListedPack['brushes'][number] {
  const brush = prepareBrush({ frames, grain }, recipe, INK)
  const painted = renderSeenListStroke(brush, recipe, { ...STROKE, colour: INK })
  const [first] = frames
  const mark = first ? printAlike(first, recipe.colour.reading).mark : new Uint8Array()
  return { stroke: encodePng(layOn(painted, WHITE)), mark }
}
