import { traitsOf, usualReasons } from '@satchel/core/destinations/app-traits'
import type { AppTraits } from '@satchel/core/destinations/which-app'
import { choosePart, OPEN_FILES, type PartSize, partSizes } from '@satchel/core/pack/contents'
import { readPart } from '@satchel/core/pack/parts'
import type { Release } from '../db/releases.ts'
import type { Deps } from '../deps.ts'
import { readContents } from './contents-file.ts'

const sizeOf = (files: readonly { packedBytes: number }[]) =>
  files.reduce((sum, { packedBytes }) => sum + packedBytes, 0)

type Parts = {
  apps: (PartSize & {
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
  open: PartSize | null
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
  const open = ofKind(OPEN_FILES)
  const satchel = contents.files.find(({ path }) => path === contents.satchelPath)
  return {
    apps: contents.apps.flatMap(({ id, name, appVersion, folder, afterCopying, refused }, at) => {
      const description = descriptions.get(id)
      if (!description) return []
      const told = { id, name, appVersion, folder, afterCopying, refused: refused.length }
      return [{ ...told, traits: traitsOf(description), reasons: usualReasons(description), ...ofKind(at) }]
    }),
    open: open.files === 0 ? null : open,
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
  const { brushes } = release.manifest
  const at = all.app ? contents.apps.indexOf(all.app) : OPEN_FILES
  const sizes = partSizes(contents, release.manifest, at)
  const told = new Map(all.app?.arrives.map((each) => [each.brush, each]))
  const refused = new Map(all.refused.map(({ brush, why }) => [brush, why]))
  return {
    brushes: brushes.map(({ id }, place) => {
      const { files = 0, bytes = 0 } = sizes.brushes[place] ?? {}
      return { id, files, bytes, arrives: told.get(place) ?? null, refused: refused.get(place) ?? null }
    }),
    sets: sizes.sets,
  }
}
