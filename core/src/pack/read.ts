import { isOwnPicture } from '../brush/thumbnail.ts'
import { FormatError, LimitError } from '../errors.ts'
import { fromUtf8 } from '../formats/text.ts'
import type { ByteSource, ZipEntry } from '../formats/zip/layout.ts'
import { listZip, readZipEntry, type ZipCodecs } from '../formats/zip/read.ts'
import type { PixelSha } from '../hashes.ts'
import { MANIFEST_MAX_BYTES } from '../limits.ts'
import {
  framePath,
  grainPath,
  MANIFEST_PATH,
  PACK,
  type PackBrush,
  type PackManifest,
  thumbnailPath,
} from './manifest.ts'
import { parseManifest } from './read-manifest.ts'

/** A pack opened but not unpacked: pictures are read one at a time, by the name of their pixels. */
export type OpenedPack = {
  manifest: PackManifest
  readFrame(brush: PackBrush, sha256: PixelSha): Promise<Uint8Array>
  readGrain(sha256: PixelSha): Promise<Uint8Array>
  /** A brush's thumbnail, by its number in the manifest; surely there only where it is a picture of its own. */
  readThumbnail(i: number): Promise<Uint8Array>
}

/** Whether an archive's listing is that of a Satchel pack. */
export const isSatchelPack = (entries: readonly ZipEntry[]): boolean =>
  entries.some(({ path }) => path === MANIFEST_PATH)

/**
 * Opens a Satchel pack and checks that every picture it names is there.
 * @param entries Its listing, where it is at hand.
 * @throws {FormatError} If pack.json is missing or wrong, or names a picture that is not in the file.
 * @throws {LimitError} If it is larger than is taken.
 */
export async function openPack(
  source: ByteSource,
  codecs: ZipCodecs = {},
  entries?: readonly ZipEntry[],
): Promise<OpenedPack> {
  const byPath = new Map((entries ?? (await listZip(source))).map((entry) => [entry.path, entry]))
  const read = (path: string) => {
    const entry = byPath.get(path)
    if (!entry) throw new FormatError(PACK, undefined, `the file ${path} in it`)
    return readZipEntry(source, entry, codecs)
  }
  const { sizeBytes = 0 } = byPath.get(MANIFEST_PATH) ?? {}
  if (sizeBytes > MANIFEST_MAX_BYTES) throw new LimitError(`${MANIFEST_PATH} in bytes`, sizeBytes, MANIFEST_MAX_BYTES)
  const manifest = parseManifest(fromUtf8(await read(MANIFEST_PATH), MANIFEST_PATH, 0))
  for (const [path, { name }] of wantedPictures(manifest))
    if (!byPath.has(path)) throw new FormatError(PACK, undefined, `the picture of "${name}" in it (${path})`)
  return {
    manifest,
    readFrame: (brush, sha256) => read(framePath(brush, sha256)),
    readGrain: (sha256) => read(grainPath(sha256)),
    readThumbnail: (i) => read(thumbnailPath(i)),
  }
}

/** The pictures without which the brushes of a pack would not be whole: each file and the first brush that needs it. */
function wantedPictures({ brushes }: PackManifest): Map<string, PackBrush> {
  const wanted = new Map<string, PackBrush>()
  for (const [i, brush] of brushes.entries()) {
    const { grain } = brush.recipe.ground
    const paths = [
      ...brush.frames.map((sha256) => framePath(brush, sha256)),
      ...(grain ? [grainPath(grain.sha256)] : []),
      ...(isOwnPicture(brush.thumbnail) ? [thumbnailPath(i)] : []),
    ]
    for (const path of paths) if (!wanted.has(path)) wanted.set(path, brush)
  }
  return wanted
}
