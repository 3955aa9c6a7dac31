import { planFiles } from '@satchel/core/installs/places'
import { changeInstall, type InstallFile, listFolder, listInstallFiles, setInstallFiles } from '../db/installs.ts'
import type { Deps } from '../deps.ts'
import { Refusal } from '../errors.ts'
import { carryOutIn } from './app-folder.ts'
import { nextOf } from './brush-source.ts'
import { compared, dropUnused, holdIn, keeping } from './installs.ts'
import { writeAnew } from './write-brushes.ts'

/**
 * Brings an install to what its brushes are by now, or to the newest release of its pack: only what changed is written,
 * what is there no longer goes.
 * @returns How many files were written, and how many went.
 */
export async function upgrade(deps: Deps, workspaceId: string, id: string): Promise<{ written: number; gone: number }> {
  const before = await listInstallFiles(deps.db, workspaceId, id)
  const { install } = await deps.db.transaction((tx) => holdIn(tx, workspaceId, id))
  const next = await nextOf(deps, install)
  const own = new Set(before.map(({ path }) => path))
  const others = (await listFolder(deps.db, workspaceId, install.standIn)).filter(({ path }) => !own.has(path))
  const fresh = await writeAnew(
    deps,
    next,
    { files: before, grains: install.grains },
    others.map(({ path }) => path),
  )
  const { files } = fresh
  const done = await keeping(deps, install, files, async (tx) => {
    const { folder } = await holdIn(tx, workspaceId, id)
    if (!isAsBefore(before, await listInstallFiles(tx, workspaceId, id)))
      throw new Refusal('clash', 'It was brought up to date by somebody else just now; look at it again.')
    const plan = planFiles(folder, id, files.map(compared))
    await carryOutIn(tx, install, folder, plan)
    await setInstallFiles(tx, install, files, fresh.carried)
    const { releaseId, brushIds } = next
    await changeInstall(tx, install, { refused: fresh.refused, grains: fresh.grains, releaseId, brushIds })
    const { written, gone } = plan.said
    return { written, gone }
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
