import {
  dropFromFolder,
  handOver,
  holdFolder,
  holdInstall,
  type Install,
  type InstallFile,
  listFolder,
  listInstallFiles,
  listSharedPaths,
  type Placed,
  putIntoFolder,
  type StandInFile,
  setInstallFiles,
  setInstallState,
} from '../db/installs.ts'
import { deleteOrphanBlobs } from '../db/orphans.ts'
import type { Deps } from '../deps.ts'
import { notFound, Problem } from '../errors.ts'
import { JobRefused } from '../queue/queue.ts'
import type { StandInFound } from '../workers/tasks.ts'
import { type StoredFitFile, writeBrushes } from './prepare-install.ts'

/** What to do where a file of the same name holds something else. */
export const CONFLICT_ANSWERS = ['both', 'replace', 'skip'] as const
export type ConflictAnswer = (typeof CONFLICT_ANSWERS)[number]

/** Bytes that a stand-in's folder holds at most: it is looked into as a whole. */
export const FOLDER_MAX_BYTES = 256 * 1024 ** 2

type Conflicts = { same: string[]; other: string[] }

/** Which files of an install are in the folder already: the same bytes, or others under the same name. */
export function findConflicts(files: readonly StoredFitFile[], folder: readonly StandInFile[]): Conflicts {
  const there = new Map(folder.map((file) => [file.path.toLowerCase(), file.blobSha]))
  const taken = files.filter(({ path }) => there.has(path.toLowerCase()))
  const isSame = ({ path, blobSha }: StoredFitFile) => there.get(path.toLowerCase()) === blobSha
  return {
    same: taken.filter(isSame).map(({ path }) => path),
    other: taken.filter((file) => !isSame(file)).map(({ path }) => path),
  }
}

/**
 * Puts a prepared install into the folder, all of it or nothing.
 * @param answer For files whose name is taken by something else.
 */
export async function putIn(deps: Deps, workspaceId: string, id: string, answer: ConflictAnswer): Promise<void> {
  const prepared = await listInstallFiles(deps.db, workspaceId, id)
  const files = await settleConflicts(deps, workspaceId, id, answer)
  await deps.db.transaction(async (tx) => {
    const install = await holdPlaced(tx, workspaceId, id)
    if (install.state !== 'ready') throw new Problem(409, 'It was put in or taken out meanwhile; look again.')
    const { standIn } = install
    await holdFolder(tx, workspaceId, standIn)
    const folder = await listFolder(tx, workspaceId, standIn)
    const there = new Map(folder.map((file) => [file.path, file]))
    checkRoom(folder, files)
    const shared = await listSharedPaths(tx, install)
    const after = findConflicts(files, folder)
    if (answer !== 'replace' && after.other.length > 0)
      throw new Problem(409, 'The folder has changed meanwhile; look at what is there now.')
    await putIntoFolder(tx, workspaceId, standIn, files)
    await setInstallFiles(
      tx,
      install,
      files.map((file) => {
        const before = there.get(file.path)
        const isSame = before?.blobSha === file.blobSha
        return {
          ...file,
          // what another install has brought goes with the last of them
          wasThere: isSame && (shared.get(file.path)?.wasThere ?? true),
          replacedSha: before && !isSame ? before.blobSha : null,
          replacedBytes: before && !isSame ? before.sizeBytes : null,
        }
      }),
    )
    await setInstallState(tx, install, { state: 'in' })
  })
  await dropUnused(deps, workspaceId, prepared)
}

/** The files that are to be put in, by the answer: brushes whose names are taken go under others, or not at all. */
async function settleConflicts(
  deps: Deps,
  workspaceId: string,
  id: string,
  answer: ConflictAnswer,
): Promise<StoredFitFile[]> {
  const install = await deps.db.transaction((tx) => holdPlaced(tx, workspaceId, id))
  if (install.state !== 'ready') throw new Problem(409, 'It is not ready to be put in; look again.')
  const files = await listInstallFiles(deps.db, workspaceId, id)
  const folder = await listFolder(deps.db, workspaceId, install.standIn)
  const other = new Set(findConflicts(files, folder).other)
  if (answer === 'replace' || other.size === 0) return files
  const taken = new Set(files.filter(({ path }) => other.has(path)).map(({ brushId }) => brushId))
  const kept = files.filter(({ brushId }) => !taken.has(brushId))
  if (answer === 'skip') return kept
  const avoid = [...folder, ...kept].map(({ path }) => path)
  return [...kept, ...(await writeNow(deps, install, [...taken], avoid)).files]
}

/** The same within a request: what would end a job is said to whoever asks. */
async function writeNow(deps: Deps, install: Install, brushIds: readonly string[], avoid: readonly string[]) {
  try {
    return await writeBrushes(deps, install, brushIds, { avoid })
  } catch (error) {
    throw error instanceof JobRefused ? new Problem(409, error.message) : error
  }
}

function checkRoom(folder: readonly StandInFile[], files: readonly StoredFitFile[]): void {
  // what is replaced makes room for what comes
  const after = new Map([...folder, ...files].map(({ path, sizeBytes }) => [path, sizeBytes]))
  const bytes = [...after.values()].reduce((sum, sizeBytes) => sum + sizeBytes, 0)
  if (bytes > FOLDER_MAX_BYTES)
    throw new Problem(507, 'There is no room for it in the folder of this app; take something out and try again.')
}

/** How a file of an install stands: as it was written, changed by somebody, or gone. */
export type Drift = { path: string; state: 'changed' | 'gone' }

export function findDrift(files: readonly InstallFile[], folder: readonly StandInFile[]): Drift[] {
  const there = new Map(folder.map((file) => [file.path, file.blobSha]))
  return files.flatMap(({ path, blobSha }): Drift[] => {
    const now = there.get(path)
    if (now === blobSha) return []
    return [{ path, state: now === undefined ? 'gone' : 'changed' }]
  })
}

/** Writes what has drifted as it was. */
export async function repair(deps: Deps, workspaceId: string, id: string): Promise<number> {
  return deps.db.transaction(async (tx) => {
    const install = await holdIn(tx, workspaceId, id)
    const files = await listInstallFiles(tx, workspaceId, id)
    const drifted = new Set(
      findDrift(files, await listFolder(tx, workspaceId, install.standIn)).map(({ path }) => path),
    )
    await putIntoFolder(
      tx,
      workspaceId,
      install.standIn,
      files.filter(({ path }) => drifted.has(path)),
    )
    return drifted.size
  })
}

async function holdPlaced(tx: Deps['db'], workspaceId: string, id: string): Promise<Placed> {
  const install = await holdInstall(tx, workspaceId, id)
  if (!install) throw notFound('install')
  return placed(install)
}

/** @throws {Problem} If it has no folder to lie in. */
export function placed(install: Install): Placed {
  const { standIn } = install
  if (!standIn) throw new Problem(409, 'There is no folder for it here; download its files instead.')
  return { ...install, standIn }
}

async function holdIn(tx: Deps['db'], workspaceId: string, id: string): Promise<Placed> {
  const install = await holdPlaced(tx, workspaceId, id)
  if (install.state !== 'in') throw new Problem(409, 'It does not lie in the folder any more; look again.')
  await holdFolder(tx, workspaceId, install.standIn)
  return install
}

/**
 * Brings an install to what its brushes are by now: only what changed is written, what is there no longer goes.
 * @returns How many files were written, and how many went.
 */
export async function upgrade(deps: Deps, workspaceId: string, id: string): Promise<{ written: number; gone: number }> {
  const before = await listInstallFiles(deps.db, workspaceId, id)
  const install = await deps.db.transaction((tx) => holdIn(tx, workspaceId, id))
  const own = new Set(before.map(({ path }) => path))
  const others = (await listFolder(deps.db, workspaceId, install.standIn)).filter(({ path }) => !own.has(path))
  const avoid = others.map(({ path }) => path)
  const fresh = await writeNow(deps, install, install.brushIds, avoid)
  // a brush that cannot be written any more stays as it was
  const stays = new Set(fresh.refused.map(({ brushId }) => brushId))
  const files = [...fresh.files, ...before.filter(({ brushId }) => stays.has(brushId))]
  const done = await deps.db.transaction(async (tx) => {
    const held = await holdIn(tx, workspaceId, id)
    const folder = await listFolder(tx, workspaceId, install.standIn)
    checkRoom(folder, files)
    const shared = await listSharedPaths(tx, held)
    const there = new Map(folder.map((file) => [file.path, file]))
    const was = new Map(before.map((file) => [file.path, file]))
    const changed = files.filter(({ path, blobSha }) => was.get(path)?.blobSha !== blobSha)
    const now = new Set(files.map(({ path }) => path))
    const gone = before.filter(({ path }) => !now.has(path))
    await putIntoFolder(tx, workspaceId, install.standIn, changed)
    await giveBack(tx, install, gone, folder)
    const isWritten = new Set(changed.map(({ path }) => path))
    await setInstallFiles(
      tx,
      install,
      files.map((file) => {
        const { blobSha, replacedSha = null, replacedBytes = null, wasThere = false } = was.get(file.path) ?? {}
        const lay = there.get(file.path)
        // what somebody has changed since, or another install has brought, too, is given back once this one goes
        const isTheirs = lay && (lay.blobSha !== blobSha || wasThere || shared.get(file.path)?.shas.has(lay.blobSha))
        return isWritten.has(file.path) && isTheirs
          ? { ...file, replacedSha: lay.blobSha, replacedBytes: lay.sizeBytes, wasThere: false }
          : { ...file, replacedSha, replacedBytes, wasThere }
      }),
    )
    await setInstallState(tx, install, { state: 'in', refused: fresh.refused })
    return { written: changed.length, gone: gone.length }
  })
  await dropUnused(deps, workspaceId, before)
  return done
}

/** Files that an install held and nobody names any more. */
const dropUnused = ({ db }: Deps, workspaceId: string, files: readonly { blobSha: InstallFile['blobSha'] }[]) =>
  deleteOrphanBlobs(
    db,
    workspaceId,
    files.map(({ blobSha }) => blobSha),
  )

/** Takes an install out again: what it put in goes, what it replaced comes back, what somebody changed since stays. */
export async function takeOut(deps: Deps, workspaceId: string, id: string): Promise<{ stayed: string[] }> {
  return deps.db.transaction(async (tx) => {
    const install = await holdIn(tx, workspaceId, id)
    const files = await listInstallFiles(tx, workspaceId, id)
    const folder = await listFolder(tx, workspaceId, install.standIn)
    const stayed = await giveBack(tx, install, files, folder)
    await setInstallState(tx, install, { state: 'out' })
    return { stayed }
  })
}

/** @returns Paths of files that stay, because somebody has changed them since. */
async function giveBack(
  tx: Deps['db'],
  install: Placed,
  files: readonly InstallFile[],
  folder: readonly StandInFile[],
): Promise<string[]> {
  const { workspaceId, standIn } = install
  const shared = await listSharedPaths(tx, install)
  await handOver(
    tx,
    install,
    files.filter(({ path }) => shared.has(path)),
  )
  const there = new Map(folder.map((file) => [file.path, file.blobSha]))
  // the very bytes that another install has brought, too, stay for it; what another one has put over them is its own
  const isOthers = (path: string) => {
    const now = there.get(path)
    return now !== undefined && shared.get(path)?.shas.has(now) === true
  }
  const own = files.filter(
    ({ path, blobSha, wasThere }) => !wasThere && !shared.get(path)?.shas.has(blobSha) && there.has(path),
  )
  const untouched = own.filter(({ path, blobSha }) => there.get(path) === blobSha)
  const replaced = untouched.flatMap(({ path, replacedSha, replacedBytes }) =>
    replacedSha === null ? [] : [{ path, blobSha: replacedSha, sizeBytes: replacedBytes ?? 0 }],
  )
  await putIntoFolder(tx, workspaceId, standIn, replaced)
  await dropFromFolder(
    tx,
    workspaceId,
    standIn,
    untouched.filter(({ replacedSha }) => replacedSha === null).map(({ path }) => path),
  )
  return own.filter((file) => !untouched.includes(file) && !isOthers(file.path)).map(({ path }) => path)
}

/**
 * The folder of a stand-in with its bytes, as it looks into it.
 * @param only The files that are wanted; all of them by default.
 */
export async function readFolder(
  { db, blobs }: Deps,
  workspaceId: string,
  standIn: Placed['standIn'],
  only?: ReadonlySet<string>,
): Promise<[path: string, bytes: Uint8Array][]> {
  const files = (await listFolder(db, workspaceId, standIn)).filter(({ path }) => !only || only.has(path))
  return Promise.all(
    files.map(
      async ({ path, blobSha }): Promise<[string, Uint8Array]> => [path, await blobs.read(workspaceId, blobSha)],
    ),
  )
}

/** What the stand-in finds of an install, read back as the app would. */
export async function verify(
  deps: Deps,
  workspaceId: string,
  { id, standIn }: Placed,
): Promise<{ drift: Drift[]; found: number; blank: string[]; passedOver: StandInFound['ignored'] }> {
  const files = await listInstallFiles(deps.db, workspaceId, id)
  const drift = findDrift(files, await listFolder(deps.db, workspaceId, standIn))
  const { brushes, ignored } = await deps.workers.run('readStandIn', {
    ...{ standIn, folder: await readFolder(deps, workspaceId, standIn) },
  })
  const own = new Set(files.map(({ path }) => path))
  const found = brushes.filter(({ path }) => own.has(path))
  return {
    ...{ drift, found: found.length, blank: found.filter(({ paints }) => !paints).map(({ name }) => name) },
    passedOver: ignored.filter(({ path }) => own.has(path)),
  }
}
