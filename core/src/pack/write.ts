import { toUtf8 } from '../formats/text.ts'
import type { HashBytes, PixelSha } from '../hashes.ts'
import { UniqueNames } from './file-name.ts'
import { framePath, grainPath, MANIFEST_PATH, type PackBrush, type PackManifest, thumbnailPath } from './manifest.ts'
import { SIGNATURE_PATH, SIGNER_PATH, type Signer } from './signature.ts'
import { formatSums, SUMS_PATH, type Sum } from './sums.ts'

/** One file for an archive. Pictures are stored, text is deflated. */
export type PackEntry = { path: string; bytes: Uint8Array; packing: 'store' | 'deflate' }

/** Where pictures come from: the PNG file of a frame or grain by the name of its pixels, and a brush's thumbnail. */
export type PackPictures = {
  loadPng(sha256: PixelSha): Promise<Uint8Array>
  loadThumbnail(brushId: string): Promise<Uint8Array>
}

export type PackTexts = { readme: string; licence: string }

const text = (path: string, content: string): PackEntry => ({ path, bytes: toUtf8(content), packing: 'deflate' })

/** The entries of a Satchel pack, in order; the last holds the checksums of all others, and behind it lies who signs them. */
export async function* satchelPackEntries(
  manifest: PackManifest,
  { readme, licence }: PackTexts,
  pictures: PackPictures,
  hash: HashBytes,
  signer?: Signer,
): AsyncGenerator<PackEntry> {
  const sums: Sum[] = []
  const noted = (entry: PackEntry): PackEntry => {
    sums.push({ path: entry.path, sha256: hash(entry.bytes) })
    return entry
  }
  yield noted(text(MANIFEST_PATH, `${JSON.stringify(manifest, null, 1)}\n`))
  yield noted(text(README_PATH, readme))
  yield noted(text(LICENCE_PATH, licence))
  for (const [path, sha256] of picturesOf(manifest)) {
    yield noted({ path, bytes: await pictures.loadPng(sha256), packing: 'store' })
  }
  for (const [i, brush] of manifest.brushes.entries()) {
    const bytes = await pictures.loadThumbnail(brush.id)
    yield noted({ path: thumbnailPath(i), bytes, packing: 'store' })
  }
  yield* signedSums(sums, signer)
}

/** The checksums of an archive, and who signs them. */
export function* signedSums(sums: readonly Sum[], signer: Signer | undefined): Generator<PackEntry> {
  const list = text(SUMS_PATH, formatSums(sums))
  yield list
  if (!signer) return
  yield { path: SIGNATURE_PATH, bytes: signer.sign(list.bytes), packing: 'store' }
  yield { path: SIGNER_PATH, bytes: toUtf8(signer.pem), packing: 'store' }
}

/** Each picture's file and the name of its pixels, once. */
function picturesOf({ brushes, grains }: PackManifest): Map<string, PixelSha> {
  const files = brushes.flatMap((brush) =>
    brush.frames.map((sha256): [string, PixelSha] => [framePath(brush, sha256), sha256]),
  )
  return new Map([...files, ...grains.map(({ sha256 }): [string, PixelSha] => [grainPath(sha256), sha256])])
}

/** The folder beside those of sets that has one for each app the pack is meant for. */
export const APPS_FOLDER = 'Apps'
export const README_PATH = 'README.txt'
export const LICENCE_PATH = 'LICENSE.txt'
/** The help and the notes as a page to read. */
export const HELP_PATH = 'HELP.html'
/** All strokes to print. */
export const SHEET_PATH = 'SHEET.pdf'
/** What stands for the pack. */
export const COVER_PATH = 'COVER.png'
/** What lies beside the folders of sets, and gives none of them its name. */
const BESIDE = [README_PATH, LICENCE_PATH, HELP_PATH, SHEET_PATH, COVER_PATH, SUMS_PATH, SIGNATURE_PATH, SIGNER_PATH]

/** Where a brush's open files go: the brush, and the path without its extension. */
export type OpenFilePath = { brush: PackBrush; base: string }

/**
 * The paths of a hand-out's open files: single brushes beside the folders, a folder per set, each brush in the folder of
 * every set it is in, names unique and safe within their folder.
 */
export function listOpenFiles({ brushes, single, sets, destinations }: PackManifest): OpenFilePath[] {
  const byId = new Map(brushes.map((brush) => [brush.id, brush]))
  const folders = new UniqueNames()
  for (const name of BESIDE) folders.take(name)
  if (destinations.length > 0) folders.take(APPS_FOLDER)
  const placed = (ids: readonly string[], under: string, names: UniqueNames) =>
    ids.flatMap((id) => {
      const brush = byId.get(id)
      return brush ? [{ brush, base: `${under}${names.take(brush.name)}` }] : []
    })
  return [
    ...placed(single, '', folders),
    ...sets.flatMap((set) => placed(set.brushes, `${folders.take(set.name)}/`, new UniqueNames())),
  ]
}

/** How many open files a hand-out has: of every brush a picture and a brush file, in each place where it lies. */
export const countOpenFiles = (manifest: PackManifest): number => 2 * listOpenFiles(manifest).length
