import type { Drift } from '@satchel/core/installs/compare-folder'
import { listInstallBrushes } from '../db/install-brushes.ts'
import { type Install, type InstallFile, listFolder, listInstallFiles, type Placed } from '../db/installs.ts'
import { listPlaces } from '../db/places.ts'
import type { Deps } from '../deps.ts'
import type { FolderOfFiles, StandInFound } from '../workers/results.ts'
import { findDrift } from './installs.ts'

/**
 * The folder of a stand-in, as it looks into it: each path with the file of the cache that holds its bytes.
 * @param only The files that are wanted; all of them by default.
 */
export async function readFolder(
  { db, blobs }: Pick<Deps, 'db' | 'blobs'>,
  workspaceId: string,
  standIn: Placed['standIn'],
  only?: ReadonlySet<string>,
): Promise<FolderOfFiles> {
  const files = (await listFolder(db, workspaceId, standIn)).filter(({ path }) => !only || only.has(path))
  return readFiles({ blobs }, workspaceId, files)
}

const readFiles = (
  { blobs }: Pick<Deps, 'blobs'>,
  workspaceId: string,
  files: readonly Pick<InstallFile, 'path' | 'blobSha'>[],
): Promise<FolderOfFiles> =>
  Promise.all(
    files.map(async ({ path, blobSha }): Promise<[string, string]> => [path, await blobs.path(workspaceId, blobSha)]),
  )

/** How like themselves the brushes of an install paint there, as measured when they were written: 0 to 100. */
export type InstallLikeness = { middle: number; least: number }

export type ReadBack = {
  drift: Drift[]
  /** What the app finds; absent where nothing here reads as that app does. */
  found: { brushes: number; blank: string[]; passedOver: StandInFound['ignored'] } | null
  likeness: InstallLikeness | null
}

/** What of an install in the folder of a stand-in is not as it was written. */
export async function driftIn(
  { db }: Pick<Deps, 'db'>,
  { workspaceId, standIn, id }: Pick<Placed, 'workspaceId' | 'standIn' | 'id'>,
  files: readonly InstallFile[],
): Promise<Drift[]> {
  const [folder, places] = await Promise.all([
    listFolder(db, workspaceId, standIn),
    listPlaces(db, { workspaceId, standIn }),
  ])
  return findDrift(id, files, folder, places)
}

/**
 * What the app finds of an install, read back as it would: in its folder, or, where it lies in a folder of somebody's
 * computer, of the bytes that were written there.
 */
export async function readBack(deps: Deps, install: Install): Promise<ReadBack> {
  const { workspaceId, id, standIn, state } = install
  const [files, carried] = await Promise.all([
    listInstallFiles(deps.db, workspaceId, id),
    listInstallBrushes(deps.db, install),
  ])
  const isHere = standIn !== null && state === 'in'
  const folder = isHere ? await readFolder(deps, workspaceId, standIn) : await readFiles(deps, workspaceId, files)
  const own = new Set(files.map(({ path }) => path))
  const read = standIn && (await deps.workers.run('readStandIn', { standIn, folder, tried: [...own] }))
  const found = read?.brushes.filter(({ path }) => own.has(path)) ?? []
  const scores = carried.map(({ score }) => score).sort((a, b) => a - b)
  return {
    drift: isHere ? await driftIn(deps, { workspaceId, standIn, id }, files) : [],
    found: read
      ? {
          brushes: found.length,
          blank: found.filter(({ isBlank }) => isBlank).map(({ name }) => name),
          passedOver: read.ignored.filter(({ path }) => own.has(path)),
        }
      : null,
    likeness: scores.length === 0 ? null : { least: scores[0] ?? 0, middle: scores[scores.length >> 1] ?? 0 },
  }
}
