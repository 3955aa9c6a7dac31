import {
  type Conflicts,
  findConflicts as compareConflicts,
  findDrift as compareDrift,
  type Drift,
} from '@satchel/core/installs/compare-folder'
import { type Places, type Plan, planFiles } from '@satchel/core/installs/places'
import {
  changeInstall,
  holdInstall,
  type Install,
  type InstallFile,
  listFolder,
  listInstallFiles,
  type Placed,
  type StandInFile,
  setInstallFiles,
} from '../db/installs.ts'
import { deleteOrphanBlobs } from '../db/orphans.ts'
import type { Deps } from '../deps.ts'
import { notFound, Refusal } from '../errors.ts'
import { carryOutIn, type HeldFolder, openFolder } from './app-folder.ts'
import { type StoredFitFile, type WrittenFiles, writeBrushes } from './write-brushes.ts'

/** What to do where a file of the same name holds something else. */
export const CONFLICT_ANSWERS = ['both', 'replace', 'skip'] as const
export type ConflictAnswer = (typeof CONFLICT_ANSWERS)[number]

/** A file as it is compared. */
export const compared = ({ path, blobSha }: { path: string; blobSha: string }) => ({ path, sha256: blobSha })

/** Which files of an install are in the folder already: the same bytes, or others under the same name, and whose. */
export const findConflicts = (
  install: string,
  files: readonly StoredFitFile[],
  folder: readonly Pick<StandInFile, 'path' | 'blobSha'>[],
  places: Places = new Map(),
): Conflicts => compareConflicts(files.map(compared), folder.map(compared), { install, places })

/**
 * Puts a prepared install into the folder, all of it or nothing.
 * @param answer For files whose name is taken by something else.
 */
export async function putIn(deps: Deps, workspaceId: string, id: string, answer: ConflictAnswer): Promise<void> {
  const prepared = await listInstallFiles(deps.db, workspaceId, id)
  const { files, carried } = await settleConflicts(deps, workspaceId, id, answer)
  await keeping(deps, { workspaceId }, files, async (tx) => {
    const install = await holdPlaced(tx, workspaceId, id)
    if (install.state !== 'ready') throw new Refusal('clash', 'It was put in or taken out meanwhile; look again.')
    const folder = await openFolder(tx, install)
    if (answer !== 'replace' && findConflicts(id, files, folder.files).other.length > 0)
      throw new Refusal('clash', 'The folder has changed meanwhile; look at what is there now.')
    await carryOutIn(tx, install, folder, planFiles(folder, id, files.map(compared)))
    await setInstallFiles(tx, install, files, carried)
    await changeInstall(tx, install, { state: 'in', brushIds: withoutPassedOver(install, prepared, files) })
  })
  await dropUnused(deps, workspaceId, prepared)
}

/** The files that are to be put in, by the answer: brushes whose names are taken go under others, or not at all. */
async function settleConflicts(deps: Deps, workspaceId: string, id: string, answer: ConflictAnswer): Promise<Settled> {
  const install = await deps.db.transaction((tx) => holdPlaced(tx, workspaceId, id))
  if (install.state !== 'ready') throw new Refusal('clash', 'It is not ready to be put in; look again.')
  const folder = await listFolder(deps.db, workspaceId, install.standIn)
  return settle(deps, install, { answer, folder, names: folder.map(({ path }) => path) })
}

type Settling = {
  answer: ConflictAnswer
  /** What lies at the paths of the install. */
  folder: readonly Pick<StandInFile, 'path' | 'blobSha'>[]
  /** Everything that is there: new names go round it. */
  names: readonly string[]
}

/** The files that are to be put in, and what became of brushes that were written anew for that. */
export type Settled = Pick<WrittenFiles, 'files' | 'carried'>

export async function settle(deps: Deps, install: Install, { answer, folder, names }: Settling): Promise<Settled> {
  const files = await listInstallFiles(deps.db, install.workspaceId, install.id)
  const other = new Set(findConflicts(install.id, files, folder).other)
  if (answer === 'replace' || other.size === 0) return { files, carried: [] }
  const taken = new Set(files.filter(({ path }) => other.has(path)).map(({ brushId }) => brushId))
  const kept = files.filter(({ brushId }) => !taken.has(brushId))
  if (answer === 'skip') return { files: kept, carried: [] }
  const avoid = [...names, ...kept.map(({ path }) => path)]
  const fresh = await writeBrushes(deps, install, [...taken], { avoid })
  return { files: [...kept, ...fresh.files], carried: fresh.carried }
}

type OfBrush = { brushId: string }
/** The brushes of an install without those whose files were prepared and are not wanted: they do not come by and by. */
export function withoutPassedOver(
  { brushIds }: Pick<Install, 'brushIds'>,
  prepared: readonly OfBrush[],
  files: readonly OfBrush[],
): string[] {
  const wanted = new Set(files.map(({ brushId }) => brushId))
  const passedOver = new Set(prepared.map(({ brushId }) => brushId).filter((brushId) => !wanted.has(brushId)))
  return brushIds.filter((brushId) => !passedOver.has(brushId))
}

export const findDrift = (
  install: string,
  files: readonly InstallFile[],
  folder: readonly StandInFile[],
  places: Places,
): Drift[] => compareDrift(files.map(compared), folder.map(compared), { install, places })

/** Writes what has drifted as it was; what lies there by now is kept, and given back once the install goes. */
export async function repair(deps: Deps, workspaceId: string, id: string): Promise<number> {
  return deps.db.transaction(async (tx) => {
    const { install, folder } = await holdIn(tx, workspaceId, id)
    const files = (await listInstallFiles(tx, workspaceId, id)).map(compared)
    const plan = planFiles(folder, id, files, { repairs: true })
    await carryOutIn(tx, install, folder, plan)
    return plan.said.written
  })
}

async function holdPlaced(tx: Deps['db'], workspaceId: string, id: string): Promise<Placed> {
  const install = await holdInstall(tx, workspaceId, id)
  if (!install) throw notFound('install')
  return placed(install)
}

/** @throws {Refusal} If it has no folder to lie in. */
export function placed(install: Install): Placed {
  const { standIn } = install
  if (!standIn) throw new Refusal('clash', 'There is no folder for it here; download its files instead.')
  return { ...install, standIn }
}

/** An install that lies in its folder, and that folder; both are held until the transaction ends. */
export async function holdIn(
  tx: Deps['db'],
  workspaceId: string,
  id: string,
): Promise<{ install: Placed; folder: HeldFolder }> {
  const install = await holdPlaced(tx, workspaceId, id)
  if (install.state !== 'in') throw new Refusal('clash', 'It does not lie in the folder any more; look again.')
  return { install, folder: await openFolder(tx, install) }
}

/** Files that an install held and nobody names any more. */
export const dropUnused = ({ db }: Deps, workspaceId: string, files: readonly { blobSha: InstallFile['blobSha'] }[]) =>
  deleteOrphanBlobs(
    db,
    workspaceId,
    files.map(({ blobSha }) => blobSha),
  )

/** A transaction for files that are stored by now: if it keeps nothing, they are nobody's, and go. */
export async function keeping<Answer>(
  deps: Deps,
  { workspaceId }: Pick<Install, 'workspaceId'>,
  files: readonly StoredFitFile[],
  work: (tx: Deps['db']) => Promise<Answer>,
): Promise<Answer> {
  try {
    return await deps.db.transaction(work)
  } catch (error) {
    await dropUnused(deps, workspaceId, files)
    throw error
  }
}

/** Takes an install out again: what it put in goes, what it covered comes back, what somebody changed since stays. */
export async function takeOut(
  deps: Deps,
  workspaceId: string,
  id: string,
): Promise<Pick<Plan['said'], 'stayed' | 'beside'>> {
  return deps.db.transaction(async (tx) => {
    const { install, folder } = await holdIn(tx, workspaceId, id)
    const plan = planFiles(folder, id, [])
    await carryOutIn(tx, install, folder, plan)
    await changeInstall(tx, install, { state: 'out' })
    const { stayed, beside } = plan.said
    return { stayed, beside }
  })
}
