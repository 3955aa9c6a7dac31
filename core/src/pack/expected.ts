import { toCoverage } from '../brush/coverage.ts'
import type { PaintReading } from '../brush/recipe.ts'
import { toPaperPicture } from '../brush-file/open-brush.ts'
import { fittingKind } from '../brush-file/write.ts'
import { type HashBytes, hashPixels, type PixelSha } from '../hashes.ts'
import type { Pixels } from '../raster/pixels.ts'
import { framePath, grainPath, MANIFEST_PATH, type PackManifest, thumbnailPath } from './manifest.ts'
import { listOpenFiles } from './write.ts'

/** What a file of a pack must be: a text, a thumbnail, or the picture of that name. */
export type Expected = { what: 'text' | 'thumbnail' } | { what: 'picture'; sha256: PixelSha }

/** Every file that a pack of this manifest holds, besides its checksums. */
export function expectedInPack(manifest: PackManifest): Map<string, Expected> {
  const expected = new Map<string, Expected>(
    [MANIFEST_PATH, 'README.txt', 'LICENSE.txt'].map((path) => [path, { what: 'text' }]),
  )
  for (const [i, brush] of manifest.brushes.entries()) {
    for (const sha256 of brush.frames) expected.set(framePath(brush, sha256), { what: 'picture', sha256 })
    expected.set(thumbnailPath(i), { what: 'thumbnail' })
  }
  for (const { sha256 } of manifest.grains) expected.set(grainPath(sha256), { what: 'picture', sha256 })
  return expected
}

/** A frame as the open files show it: what it paints, the picture on paper, and its size. */
type FrameNames = { paint: PixelSha; paper: PixelSha; width: number; height: number }

/** The pictures that the open files of a download must hold; filled while the pack inside is read. */
export class OpenFileContents {
  readonly #frames = new Map<string, FrameNames[]>()
  /** The frames that a picture is, by its name. */
  readonly #users = new Map<string, { id: string; frame: number; reading: PaintReading }[]>()
  readonly #manifest: PackManifest
  readonly #hash: HashBytes

  constructor(manifest: PackManifest, hash: HashBytes) {
    this.#manifest = manifest
    this.#hash = hash
    for (const { id, frames, recipe } of manifest.brushes) {
      for (const [frame, sha256] of frames.entries()) {
        const users = this.#users.get(sha256) ?? []
        this.#users.set(sha256, [...users, { id, frame, reading: recipe.colour.reading }])
      }
    }
  }

  /** Notes what a picture of the pack looks like in the open files of every brush that has it. */
  note(sha256: PixelSha, pixels: Pixels): void {
    for (const { id, frame, reading } of this.#users.get(sha256) ?? []) {
      const names = this.#frames.get(id) ?? []
      names[frame] = {
        paint: hashPixels(toCoverage(pixels, reading), this.#hash),
        paper: hashPixels(toPaperPicture(pixels, reading), this.#hash),
        width: pixels.width,
        height: pixels.height,
      }
      this.#frames.set(id, names)
    }
  }

  /** The names of the pictures that each open file must hold, in order, by its path; undefined where only their number is known. */
  byPath(): Map<string, (PixelSha | undefined)[]> {
    return new Map(
      listOpenFiles(this.#manifest).flatMap(({ brush, base }): [string, (PixelSha | undefined)[]][] => {
        const names = this.#frames.get(brush.id) ?? []
        const all = brush.frames.map((_, i) => names[i])
        // Frames of different sizes lie on one canvas in a picture that plays.
        const isOneSize = all.every((each) => each?.width === all[0]?.width && each?.height === all[0]?.height)
        return [
          [`${base}.${fittingKind(all.length)}`, all.map((each) => each?.paint)],
          [`${base}.png`, all.map((each) => (isOneSize ? each?.paper : undefined))],
        ]
      }),
    )
  }
}
