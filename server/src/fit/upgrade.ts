import {
  changeInstall,
  type InstallFile,
  listFolder,
  listInstallFiles,
  listSharedPaths,
  putIntoFolder,
  setInstallFiles,
} from '../db/installs.ts'
import type { Deps } from '../deps.ts'
import { Problem } from '../errors.ts'
import { nextOf } from './brush-source.ts'
import { checkRoom, dropUnused, giveBack, holdIn, keeping, withinRequest } from './installs.ts'
import { writeAnew } from './write-brushes.ts'

/**
 * Brings an install to what its brushes are by now, or to the newest release of its pack: only what changed is written,
 * what is there no longer goes.
 * @returns How many files were written, and how many went.
 */
export async function upgrade(deps: Deps, workspaceId: string, id: string): Promise<{ written: number; gone: number }> {
  const before = await listInstallFiles(deps.db, workspaceId, id)
  const install = await deps.db.transaction((tx) => holdIn(tx, workspaceId, id))
  const next = await nextOf(deps, install)
  const own = new Set(before.map(({ path }) => path))
  const others = (await listFolder(deps.db, workspaceId, install.standIn)).filter(({ path }) => !own.has(path))
  const fresh = await withinRequest(
    writeAnew(
      deps,
      next,
      { files: before, grains: install.grains },
      others.map(({ path }) => path),
    ),
  )
  const { files } = fresh
  const done = await keeping(deps, install, files, async (tx) => {
    const held = await holdIn(tx, workspaceId, id)
    if (!isAsBefore(before, await listInstallFiles(tx, workspaceId, id)))
      throw new Problem(409, 'It was brought up to date by somebody else just now; look at it again.')
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
      fresh.carried,
    )
    const { releaseId, brushIds } = next
    await changeInstall(tx, install, { refused: fresh.refused, grains: fresh.grains, releaseId, brushIds })
    return { written: changed.length, gone: gone.length }
  })
  await dropUnused(deps, workspaceId, before)
  return done
}

/** Whether an install still holds the very files that it held. */
function isAsBefore(before: readonly InstallFile[], now: readonly InstallFile[]): boolean {
  const nameOf = ({ path, blobSha }: InstallFile) => `${blobSha} ${path}`
  const held = new Set(before.map(nameOf))
  return now.length === before.length && now.every((file) => held.has(nameOf(file)))
}
