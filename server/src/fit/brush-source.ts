import { givenAt } from '@satchel/core/editions/cut'
import { findEdition } from '../db/editions.ts'
import { listFitBrushes, type StoredFitBrush } from '../db/fit.ts'
import type { Install } from '../db/installs.ts'
import { findNewestRelease, findRelease, type Release } from '../db/releases.ts'
import type { Deps } from '../deps.ts'
import { notFound, Refusal, recalled } from '../errors.ts'

/** Where the brushes of an install come from: opened once, and asked in parts. */
export type BrushSource = {
  list(ids: readonly string[]): Promise<StoredFitBrush[]>
  /** Whether they are those of the library, which the matrix shows: only then is what is measured of them kept there. */
  isLibrary: boolean
}

/** The brushes of an install: those of its release, or those of the library as they are by now. */
export async function openBrushes(
  { db }: Pick<Deps, 'db'>,
  { workspaceId, releaseId }: Pick<Install, 'workspaceId' | 'releaseId'>,
): Promise<BrushSource> {
  const release = releaseId === null ? undefined : await findRelease(db, workspaceId, releaseId)
  return release ? brushesOf(release) : { list: (ids) => listFitBrushes(db, workspaceId, ids), isLibrary: true }
}

/** The brushes of a release. */
export function brushesOf(release: Pick<Release, 'manifest' | 'brushes'>): BrushSource {
  const brushes = new Map(toFitBrushes(release).map((brush) => [brush.id, brush]))
  return { list: async (ids) => ids.flatMap((id) => brushes.get(id) ?? []), isLibrary: false }
}

/** The brushes of a release as they go to a destination, in its order. */
export function toFitBrushes({ manifest, brushes }: Pick<Release, 'manifest' | 'brushes'>): StoredFitBrush[] {
  const stored = new Map(brushes.map((brush) => [brush.id, brush]))
  const grainNames = new Map(manifest.grains.map(({ sha256, name }) => [sha256, name]))
  const setOf = new Map<string, string>()
  // of several sets the first counts
  for (const { name, brushes: ids } of manifest.sets) for (const id of ids) if (!setOf.has(id)) setOf.set(id, name)
  return manifest.brushes.map(({ id, name, maker, licence, recipe }) => {
    const pixelSha = recipe.ground.grain?.sha256
    const blobSha = stored.get(id)?.grainBlob
    return {
      id,
      name,
      maker,
      licence,
      recipe,
      set: setOf.get(id) ?? '',
      frames: stored.get(id)?.blobs ?? [],
      grain: pixelSha && blobSha ? { pixelSha, blobSha, name: grainNames.get(pixelSha) ?? '' } : undefined,
    }
  })
}

/**
 * What an install would be by now: of the newest release of its pack where it is of one, without the brushes that were
 * passed over before.
 */
export async function nextOf({ db }: Pick<Deps, 'db'>, install: Install): Promise<Install> {
  const { workspaceId, releaseId, editionId } = install
  // an edition says itself what is in it by now
  if (editionId !== null) return { ...install, ...(await findWished(db, workspaceId, { editionId })) }
  const own = releaseId === null ? undefined : await findRelease(db, workspaceId, releaseId)
  const newest = own && (await findNewestRelease(db, workspaceId, own.packId))
  if (!newest || newest.id === own.id) return install
  const had = new Set(install.brushIds)
  const passedOver = new Set(own.brushes.map(({ id }) => id).filter((id) => !had.has(id)))
  return {
    ...install,
    releaseId: newest.id,
    brushIds: newest.manifest.brushes.map(({ id }) => id).filter((id) => !passedOver.has(id)),
  }
}

/** Which brushes: some of the library, all of a release, or those of an edition. */
export type Wished = {
  brushIds?: string[] | undefined
  releaseId?: string | undefined
  editionId?: string | undefined
}

/**
 * The brushes that are asked for: as many of the library's as there are, all of a release, or what an edition gives just now.
 * @throws {Refusal} If none of them is there.
 */
export async function findWished(
  db: Deps['db'],
  workspaceId: string,
  { brushIds = [], releaseId, editionId }: Wished,
): Promise<Pick<Install, 'brushIds' | 'releaseId' | 'editionId'>> {
  if (editionId !== undefined) return findGiven(db, workspaceId, editionId)
  if (releaseId !== undefined) {
    const release = await findRelease(db, workspaceId, releaseId)
    if (release?.state !== 'ready') throw notFound('release')
    if (release.recalledAt) throw recalled(release)
    return { brushIds: release.manifest.brushes.map(({ id }) => id), releaseId, editionId: null }
  }
  const known = new Set((await listFitBrushes(db, workspaceId, brushIds)).map(({ id }) => id))
  if (known.size === 0) throw notFound('brush')
  return { brushIds: [...new Set(brushIds)].filter((id) => known.has(id)), releaseId: null, editionId: null }
}

async function findGiven(db: Deps['db'], workspaceId: string, editionId: string) {
  const edition = await findEdition(db, workspaceId, editionId)
  if (!edition || edition.deletedAt) throw notFound('edition')
  const release = await findNewestRelease(db, workspaceId, edition.packId)
  if (!release) throw notFound('release')
  const brushIds = givenAt(edition.plan, release.manifest, new Date())
  if (brushIds.length === 0)
    throw new Refusal('unfit', `Nothing of "${edition.name}" is open just now; its first lesson opens some.`)
  return { brushIds, releaseId: release.id, editionId }
}
