import { type Drift, findDrift } from '@satchel/core/installs/compare-folder'
import type { Said } from '@satchel/core/installs/places'
import {
  type InstallEntry,
  loadInstall,
  loadInstallFile,
  noteElsewhere,
  renewElsewhere,
  repairInstall,
  takeOut,
  upgradeInstall,
  verifyInstall,
} from '../../data/installs.ts'
import { changeFolder, driftOf, filesIn, sentenceOn } from '../../real-folder/change-folder.ts'
import { listPaths } from '../../real-folder/folder-files.ts'
import { type FolderLedger, ledgerOf, listLedgers } from '../../real-folder/ledger.ts'
import { askFor } from '../../real-folder/pick-folder.ts'

type ReadBack = Awaited<ReturnType<typeof verifyInstall>>

/** The folder that an install lies in, as its card looks after it: that of a simulated app, or one of this computer. */
export type InstallFolder = {
  /** What it is called in a sentence. */
  called: string
  verify(): Promise<{ drift: readonly Drift[]; read: ReadBack | undefined }>
  /** @returns How many files were written. */
  repair(): Promise<number>
  renew(): Promise<Pick<Said, 'written' | 'gone'>>
  takeOut(): Promise<Pick<Said, 'stayed' | 'beside'>>
}

export const simulatedFolder = ({ id }: Pick<InstallEntry, 'id'>): InstallFolder => ({
  called: 'the folder',
  async verify() {
    const read = await verifyInstall(id)
    return { drift: read.drift, read }
  },
  repair: async () => (await repairInstall(id)).repaired,
  renew: () => upgradeInstall(id),
  takeOut: () => takeOut(id),
})

export function realFolder({ id }: Pick<InstallEntry, 'id'>, ledger: FolderLedger): InstallFolder {
  /** Asks for the folder first, and says in a sentence what went wrong. */
  const within = async <Answer>(work: () => Promise<Answer>): Promise<Answer> => {
    try {
      await askFor(ledger.folder)
      return await work()
    } catch (error) {
      throw new Error(sentenceOn(error, ledger.name, { isWhole: false }), { cause: error })
    }
  }
  const change = { ledger, install: id, load: loadInstallFile }
  return {
    called: `"${ledger.name}"`,
    verify: () =>
      within(async () => {
        const drift = await driftOf(ledger, id)
        const { files } = await loadInstall(id)
        // the app is asked of what was written, where that is what lies there
        const isWhole =
          drift.length === 0 &&
          findDrift(files, filesIn(ledger, id), { install: id, places: ledger.places }).length === 0
        return { drift, read: isWhole ? await verifyInstall(id) : undefined }
      }),
    repair: () =>
      within(async () => (await changeFolder({ ...change, files: filesIn(ledger, id), repairs: true })).written),
    renew: () =>
      within(async () => {
        await renewElsewhere(id, await listPaths(ledger.folder))
        return changeFolder({ ...change, files: (await loadInstall(id)).files })
      }),
    takeOut: () =>
      within(async () => {
        const said = await changeFolder({ ...change, files: [] })
        await noteElsewhere(id, null)
        return said
      }),
  }
}

/** The folder that an install lies in. @throws {Error} With a sentence, if this browser did not put it there. */
export async function folderOf(install: Pick<InstallEntry, 'id' | 'name' | 'elsewhere'>): Promise<InstallFolder> {
  if (install.elsewhere === null) return simulatedFolder(install)
  const ledger = ledgerOf(await listLedgers(), install.id)
  if (ledger) return realFolder(install, ledger)
  throw new Error(`"${install.name}" lies in a folder of another computer or browser; take it out from there.`)
}
