import { isOwnPicture } from '../brush/thumbnail.ts'
import { FormatError } from '../errors.ts'
import type { Crc32 } from '../formats/crc32.ts'
import { fromUtf8 } from '../formats/text.ts'
import type { ByteSource, ZipEntry } from '../formats/zip/layout.ts'
import { type InflateRaw, listZip, readZipEntry } from '../formats/zip/read.ts'
import {
  framePath,
  grainPath,
  MANIFEST_PATH,
  type PackBrush,
  type PackManifest,
  parseManifest,
  thumbnailPath,
} from './manifest.ts'

/** A pack opened but not unpacked: pictures are read one at a time, by the name of their pixels. */
export type OpenedPack = {
  manifest: PackManifest
  readFrame(brush: PackBrush, sha256: string): Promise<Uint8Array>
  readGrain(sha256: string): Promise<Uint8Array>
  /** A brush's thumbnail, by its place in the manifest; surely there only where it is a picture of its own. */
  readThumbnail(place: number): Promise<Uint8Array>
}

type Codecs = { inflateRaw?: InflateRaw; crc32?: Crc32 }

/** Whether an archive's listing is that of a Satchel pack. */
export const isSatchelPack = (entries: readonly ZipEntry[]): boolean =>
  entries.some(({ path }) => path === MANIFEST_PATH)

/**
 * Opens a Satchel pack and checks that every picture it names is there.
 * @throws {FormatError} If pack.json is missing or wrong, or names a picture that is not in the file.
 */
export async function openPack(source: ByteSource, codecs: Codecs = {}): Promise<OpenedPack> {
  const entries = new Map((await listZip(source)).map((entry) => [entry.path, entry]))
  const read = (path: string) => {
    const entry = entries.get(path)
    if (!entry) throw new FormatError('Satchel pack', 0, `the file ${path} in it`)
    return readZipEntry(source, entry, codecs)
  }
  const manifest = parseManifest(fromUtf8(await read(MANIFEST_PATH), MANIFEST_PATH, 0))
  for (const [place, brush] of manifest.brushes.entries()) {
    const grain = brush.recipe.ground.grain
    const wanted = [
      ...brush.frames.map((sha256) => framePath(brush, sha256)),
      ...(grain ? [grainPath(grain.sha256)] : []),
      ...(isOwnPicture(brush.thumbnail) ? [thumbnailPath(place)] : []),
    ]
    const missing = wanted.find((path) => !entries.has(path))
    if (missing) throw new FormatError('Satchel pack', 0, `the picture of "${brush.name}" in it (${missing})`)
  }
  return {
    manifest,
    readFrame: (brush, sha256) => read(framePath(brush, sha256)),
    readGrain: (sha256) => read(grainPath(sha256)),
    readThumbnail: (place) => read(thumbnailPath(place)),
  }
}
