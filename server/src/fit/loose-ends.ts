import { PAINT_READINGS, type PaintReading } from '@satchel/core/brush/recipe'
import { BUILT_IN } from '@satchel/core/destinations/built-in'
import { STAND_INS, type StandInName } from '@satchel/core/destinations/destination'
import type { FileSha } from '@satchel/core/hashes'
import { findLooseEnds, type LooseEnd } from '@satchel/core/loose-ends/find'
import {
  type BrushSettings,
  originOf,
  type Reference,
  readBrushSettings,
  resolveTarget,
} from '@satchel/core/loose-ends/references'
import { LRUCache } from 'lru-cache'
import pMap from 'p-map'
import { listFolder } from '../db/installs.ts'
import { findKept, listFolders, listInstalledPaths } from '../db/mends.ts'
import type { Deps } from '../deps.ts'
import { proposeByLook } from '../library/find-looks.ts'

/** Settings that have been read once: their bytes never change. */
const known = new LRUCache<FileSha, { settings: BrushSettings | undefined }>({ max: 20_000 })
const READ_AT_ONCE = 16

type Filed = { path: string; blobSha: FileSha }
/** The folder of an app as far as references go. */
export type FolderReferences = {
  files: { path: string; sha256: FileSha }[]
  references: Reference[]
  /** How the brush of each settings file reads its pictures. */
  readings: Map<string, PaintReading>
}

async function readReferences(
  { blobs }: Deps,
  workspaceId: string,
  standIn: StandInName,
  folder: readonly Filed[],
): Promise<FolderReferences> {
  const { settings: extension } = BUILT_IN[standIn].files
  const settingsFiles = extension ? folder.filter(({ path }) => path.toLowerCase().endsWith(`.${extension}`)) : []
  const readings = new Map<string, PaintReading>()
  const read = await pMap(
    settingsFiles,
    async ({ path, blobSha }) => {
      const before = known.get(blobSha)
      const settings = before ? before.settings : readBrushSettings('', await blobs.read(workspaceId, blobSha))
      if (!before) known.set(blobSha, { settings })
      if (!settings) return []
      const reading = PAINT_READINGS.find((each) => each === settings.said['colour.reading'])
      if (reading) readings.set(path, reading)
      return settings.references.map((reference) => ({ ...reference, file: path }))
    },
    { concurrency: READ_AT_ONCE },
  )
  const files = folder.map(({ path, blobSha }) => ({ path, sha256: blobSha }))
  return { files, references: read.flat(), readings }
}

/** How many references of all folders lead nowhere. */
export async function countLooseEnds(deps: Deps, workspaceId: string): Promise<number> {
  const all = await listFolders(deps.db, workspaceId)
  let count = 0
  for (const standIn of STAND_INS) {
    const folder = all.filter((file) => file.standIn === standIn)
    if (folder.length === 0) continue
    const { files, references } = await readReferences(deps, workspaceId, standIn, folder)
    count += findLooseEnds(references, files, { origin: originOf(BUILT_IN[standIn]), isBare: true }).length
  }
  return count
}

/** The loose ends of an app's folder, with what may be meant: by content, by look, by name. */
export async function findFolderEnds(
  deps: Deps,
  workspaceId: string,
  standIn: StandInName,
): Promise<{ ends: LooseEnd[]; files: FolderReferences['files'] }> {
  const folder = await listFolder(deps.db, workspaceId, standIn)
  const { files, references, readings } = await readReferences(deps, workspaceId, standIn, folder)
  const installed = await listInstalledPaths(deps.db, { workspaceId, standIn })
  const shaAt = ({ sha256 }: Reference, path: string) => sha256 ?? installed.get(path)
  const origin = originOf(BUILT_IN[standIn])
  const loose = findLooseEnds(references, files, { origin, knownSha: shaAt })
  if (loose.length === 0) return { ends: [], files }
  const kept = await findKept(
    deps.db,
    workspaceId,
    loose.flatMap(({ sha256 }) => sha256 ?? []),
  )
  const ends = findLooseEnds(references, files, { origin, knownSha: shaAt, isKept: (sha256) => kept.has(sha256) })
  const looksIn = {
    files: folder,
    readings,
    used: new Set(references.map((reference) => resolveTarget(reference, origin) ?? '')),
  }
  return { ends: await proposeByLook(deps, workspaceId, ends, looksIn), files }
}
