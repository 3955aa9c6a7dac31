import { traitsOf, usualReasons } from '@satchel/core/destinations/app-traits'
import type { AppTraits } from '@satchel/core/destinations/which-app'
import { type Chosen, choosePart, OPEN_FILES, readPart } from '@satchel/core/pack/contents'
import type { Release } from '../db/releases.ts'
import type { Deps } from '../deps.ts'
import { readContents } from './contents-file.ts'

const sizeOf = (files: readonly { packedBytes: number }[]) =>
  files.reduce((sum, { packedBytes }) => sum + packedBytes, 0)

type Size = { files: number; bytes: number }
type Parts = {
  apps: (Size & {
    id: string
    name: string
    appVersion: string
    folder: string
    afterCopying: string[]
    /** How many brushes could not be made for it. */
    refused: number
    traits: AppTraits
    reasons: string[]
  })[]
  open: Size | null
  satchel: { bytes: number } | null
}

/** What of a release can be had alone, and for which app; nothing where it was built before that was noted. */
export async function partsOf(deps: Pick<Deps, 'blobs'>, release: Release): Promise<Parts> {
  const contents = await readContents(deps, release)
  if (!contents) return { apps: [], open: null, satchel: null }
  const descriptions = new Map(release.destinations.map(({ id, description }) => [id, description]))
  const ofKind = (at: number) => {
    const files = contents.files.filter(({ of }) => of === at)
    return { files: files.length, bytes: sizeOf(files) }
  }
  const satchel = contents.files.find(({ path }) => path === contents.satchelPath)
  return {
    apps: contents.apps.flatMap(({ id, name, appVersion, folder, afterCopying, refused }, at) => {
      const description = descriptions.get(id)
      if (!description) return []
      const told = { id, name, appVersion, folder, afterCopying, refused: refused.length }
      return [{ ...told, traits: traitsOf(description), reasons: usualReasons(description), ...ofKind(at) }]
    }),
    open: ofKind(OPEN_FILES),
    satchel: satchel ? { bytes: satchel.packedBytes } : null,
  }
}

/**
 * What arrives of each brush in an app, or of the open files, with how much each brush and each set are.
 * @returns Nothing where the release has no such part.
 */
export async function arrivesIn(deps: Pick<Deps, 'blobs'>, release: Release, as: string) {
  const contents = await readContents(deps, release)
  const part = readPart(as, 'all')
  const all = contents && part && choosePart(contents, release.manifest, part)
  if (!all || part.as.kind === 'satchel') return undefined
  const { brushes, sets } = release.manifest
  const sizes = brushSizes(all, brushes.length)
  const told = new Map(all.app?.arrives.map((each) => [each.brush, each]))
  const refused = new Map(all.refused.map(({ brush, why }) => [brush, why]))
  return {
    brushes: brushes.map(({ id }, place) => {
      const { files = 0, bytes = 0 } = sizes[place] ?? {}
      return { id, files, bytes, arrives: told.get(place) ?? null, refused: refused.get(place) ?? null }
    }),
    sets: sets.map((_, at) => {
      const files = choosePart(contents, release.manifest, { ...part, of: { kind: 'set', at } })?.files ?? []
      return { files: files.length, bytes: sizeOf(files) }
    }),
  }
}

/** Of each brush how many files it has there, and how large they are. */
function brushSizes({ files }: Chosen, count: number): Size[] {
  const sizes = Array.from({ length: count }, () => ({ files: 0, bytes: 0 }))
  for (const { brushes, packedBytes } of files)
    for (const place of brushes) {
      const size = sizes[place]
      if (!size) continue
      size.files++
      size.bytes += packedBytes
    }
  return sizes
}
