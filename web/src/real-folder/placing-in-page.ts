import { keepsTheLaw, Stopped } from '@satchel/core/installs/testing'
import { type Folder, listPaths } from './folder-files.ts'
import { browserStore } from './ledger.ts'
import { placingIn } from './placing.ts'

/** Every write and removal in the browser's own files counts, and may be the last. */
function countSteps() {
  let left: number | undefined
  const step = () => {
    if (left !== undefined && left-- <= 0) throw new Stopped()
  }
  const { createWritable } = FileSystemFileHandle.prototype
  FileSystemFileHandle.prototype.createWritable = async function (options) {
    step()
    return createWritable.call(this, options)
  }
  const { removeEntry } = FileSystemDirectoryHandle.prototype
  FileSystemDirectoryHandle.prototype.removeEntry = async function (name, options) {
    step()
    return removeEntry.call(this, name, options)
  }
  return {
    after(steps: number | undefined) {
      left = steps
    },
  }
}

/** The law of placing, carried out by the page's own code in a folder of this browser. @returns What broke it, if anything. */
async function tryInBrowser(numRuns: number): Promise<string | undefined> {
  const breaks = countSteps()
  const own = await navigator.storage.getDirectory()
  const kept = async () => listPaths((await own.getDirectoryHandle('satchel-before', { create: true })) as Folder)
  let n = 0
  try {
    await keepsTheLaw(async (begun) => {
      // what an attempt that failed has left would be taken for this one's
      for (const { id } of await browserStore.list()) await browserStore.drop(id)
      await own.removeEntry('satchel-before', { recursive: true }).catch(() => undefined)
      const folder = (await own.getDirectoryHandle(`Law ${++n}`, { create: true })) as Folder
      const size = async () => (await browserStore.list()).length + (await kept()).length
      return placingIn({ folder, breaks, store: browserStore, size }, begun)
    }, numRuns)
    return undefined
  } catch (error) {
    return `${error}\n${error instanceof Error && error.cause}`
  }
}

Object.assign(window, { tryInBrowser })
