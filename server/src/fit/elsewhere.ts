import { changeInstall, type Install, listInstallFiles, setInstallFiles } from '../db/installs.ts'
import type { Deps } from '../deps.ts'
import { nextOf } from './brush-source.ts'
import { type ConflictAnswer, dropUnused, keeping, type Settled, settle, withoutPassedOver } from './installs.ts'
import { type StoredFitFile, writeAnew } from './write-brushes.ts'

/** What lies in a folder of somebody's computer, as the page has found it. */
export type FoundThere = {
  /** What lies at the paths of the install. */
  there: readonly { path: string; sha256: string }[]
  /** The paths of everything: new names go round them. */
  names: readonly string[]
}

/** Settles what an install brings into a folder that the page writes to. */
export async function settleElsewhere(
  deps: Deps,
  install: Install,
  answer: ConflictAnswer,
  { there, names }: FoundThere,
): Promise<void> {
  const folder = there.map(({ path, sha256 }) => ({ path, blobSha: sha256 as StoredFitFile['blobSha'] }))
  const prepared = await listInstallFiles(deps.db, install.workspaceId, install.id)
  const settled = await settle(deps, install, { answer, folder, names })
  await replaceFiles(deps, install, settled, { brushIds: withoutPassedOver(install, prepared, settled.files) })
}

/**
 * Writes the files of an install anew, as its brushes are by now, or as the newest release of its pack has them; what
 * cannot be written any more stays as it was.
 * @param names What else lies in its folder.
 */
export async function renewElsewhere(deps: Deps, install: Install, names: readonly string[]): Promise<void> {
  const before = await listInstallFiles(deps.db, install.workspaceId, install.id)
  const own = new Set(before.map(({ path }) => path))
  const avoid = names.filter((name) => !own.has(name))
  const next = await nextOf(deps, install)
  const { files, carried, refused, grains } = await writeAnew(
    deps,
    next,
    { files: before, grains: install.grains },
    avoid,
  )
  const { releaseId, brushIds } = next
  await replaceFiles(deps, install, { files, carried }, { refused, grains, releaseId, brushIds })
}

async function replaceFiles(
  deps: Deps,
  install: Install,
  { files, carried }: Settled,
  change: Parameters<typeof changeInstall>[2],
): Promise<void> {
  const before = await listInstallFiles(deps.db, install.workspaceId, install.id)
  await keeping(deps, install, files, async (tx) => {
    await setInstallFiles(tx, install, files, carried)
    await changeInstall(tx, install, change)
  })
  await dropUnused(deps, install.workspaceId, before)
}
