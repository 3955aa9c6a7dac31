import { joinBytes } from '../formats/bytes.ts'
import { writePng } from '../formats/png/write.ts'
import { toUtf8 } from '../formats/text.ts'
import { ZipWriter } from '../formats/zip/write.ts'
import { hashBytes, hashPixels } from '../hashes.ts'
import { framePath, grainPath, MANIFEST_PATH, PACK_FORMAT, PACK_VERSION, type PackManifest } from '../pack/manifest.ts'
import { formatSums, SUMS_PATH } from '../pack/sums.ts'
import type { Packers } from './packers.ts'
import type { Arrival } from './plan.ts'

const README =
  'A brush with all of its settings. Open it where the maker of this pack does, or in any program that takes such packs.\n'

/** A brush as a Satchel pack of its own: its pictures, its grain and its whole recipe in one file. */
export function writeBrushPack(arrival: Arrival, packers: Packers): Uint8Array {
  const { name, set, maker, licence, frames, grain, recipe } = arrival
  const { hash = hashBytes } = packers
  const pictures = frames.map((pixels) => ({ pixels, sha256: hashPixels(pixels, hash) }))
  const tile = recipe.ground.grain && grain && { ...grain, sha256: hashPixels(grain.pixels, hash) }
  // the recipe names the grain as it lies beside it
  const whole = tile ? { ...recipe, ground: { grain: { ...recipe.ground.grain, sha256: tile.sha256 } } } : recipe
  const brush = {
    id: 'brush',
    name,
    maker,
    licence,
    tags: [],
    recipe: whole as PackManifest['brushes'][number]['recipe'],
    ...{
      frames: pictures.map(({ sha256 }) => sha256),
      frameNames: [],
      keys: [],
      thumbnail: { from: 'stroke' as const },
      note: '',
    },
  }
  const manifest: PackManifest = {
    format: PACK_FORMAT,
    version: PACK_VERSION,
    title: name,
    maker,
    licence,
    help: '',
    release: '',
    brushes: [brush],
    grains: tile ? [{ sha256: tile.sha256, name: tile.name }] : [],
    strips: recipe.path.ribbon ? pictures.slice(0, 1).map(({ sha256 }) => ({ sha256, name })) : [],
    single: [],
    sets: [{ name: set || name, brushes: [brush.id] }],
    pockets: [],
    destinations: [],
  }
  const files = new Map<string, Uint8Array>([
    [MANIFEST_PATH, toUtf8(`${JSON.stringify(manifest, null, 1)}\n`)],
    ['README.txt', toUtf8(README)],
  ])
  for (const { pixels, sha256 } of pictures) files.set(framePath(brush, sha256), writePng(pixels, packers))
  if (tile) files.set(grainPath(tile.sha256), writePng(tile.pixels, packers))
  const sums = [...files].map(([path, bytes]) => ({ path, sha256: hash(bytes) }))
  files.set(SUMS_PATH, toUtf8(formatSums(sums)))
  const zip = new ZipWriter(packers.crc32 ? { crc32: packers.crc32 } : {})
  return joinBytes([...[...files].flatMap(([path, bytes]) => [...zip.add(path, bytes, 'store')]), ...zip.finish()])
}
