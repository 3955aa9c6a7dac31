import type { FileSha } from '@satchel/core/hashes'
import { keptFor, type Place } from '@satchel/core/installs/places'
import { createStore, del, entries, get, set } from 'idb-keyval'
import { type Folder, listPaths, readAt, removeAt, writeAt } from './folder-files.ts'
import { aloneOrNot } from './locks.ts'

/** What this browser remembers of a folder of this computer, for as long as an install lies in it. */
export type FolderLedger = {
  id: string
  folder: Folder
  name: string
  places: Map<string, Place>
  /** Installs that were being put in when that broke off. */
  writing: string[]
}

/** Where folders are remembered, and what was covered in them is kept. */
export type LedgerStore = {
  list(): Promise<FolderLedger[]>
  load(id: string): Promise<FolderLedger | undefined>
  save(ledger: FolderLedger): Promise<void>
  drop(id: string): Promise<void>
  keep(id: string, sha256: string, bytes: ArrayBuffer): Promise<void>
  readKept(id: string, sha256: string): Promise<ArrayBuffer | undefined>
  /** Lets go of all that was kept, but these. */
  dropKept(id: string, but: ReadonlySet<string>): Promise<void>
}

const store = createStore('satchel-folders', 'installs')
/** What is remembered has names of its own beside those of before. */
const FOLDER = 'folder '
/** Where what was covered is kept until it is given back: the browser's own files, which no app sees. */
const KEPT = 'satchel-before'

const ownFiles = () => navigator.storage.getDirectory()
const placeOf = (id: string, sha256: string) => `${KEPT}/${id}/${sha256}`

/** In the browser's own database and files. */
export const browserStore: LedgerStore = {
  async list() {
    const all = await entries<string, FolderLedger | OldRecord>(store)
    const ledgers = all.filter(([key]) => key.startsWith(FOLDER)).map(([, value]) => value as FolderLedger)
    const old = all.filter(([key]) => !key.startsWith(FOLDER)) as [string, OldRecord][]
    return old.length === 0 ? ledgers : takeOver(ledgers, old)
  },
  load: (id) => get(FOLDER + id, store),
  save: (ledger) => set(FOLDER + ledger.id, ledger, store),
  async drop(id) {
    await this.dropKept(id, new Set())
    await del(FOLDER + id, store)
  },
  async keep(id, sha256, bytes) {
    // so that the browser does not throw it away when it tidies up
    await navigator.storage.persist?.().catch(() => false)
    await writeAt(await ownFiles(), placeOf(id, sha256), bytes)
  },
  readKept: async (id, sha256) => readAt(await ownFiles(), placeOf(id, sha256)),
  async dropKept(id, but) {
    const own = await ownFiles()
    let kept: string[] = []
    try {
      const before = await (await own.getDirectoryHandle(KEPT)).getDirectoryHandle(id)
      kept = await listPaths(before)
    } catch {
      return // nothing was kept
    }
    for (const sha256 of kept) if (!but.has(sha256)) await removeAt(own, placeOf(id, sha256))
  },
}

/** As folders were remembered before, one record an install. */
type OldRecord = {
  folder: Folder
  name: string
  phase: 'writing' | 'in'
  files: { path: string; sha256: FileSha; replaced: FileSha | undefined; wasThere: boolean }[]
}

/** Takes over what was remembered install by install. Whoever has replaced another's file comes above it. */
async function takeOver(ledgers: FolderLedger[], old: [string, OldRecord][]): Promise<FolderLedger[]> {
  const own = await ownFiles()
  const all = [...ledgers]
  for (const [install, { folder, name, phase, files }] of old) {
    const known = await findLedger(all, folder)
    const ledger = known ?? {
      id: crypto.randomUUID(),
      folder,
      name,
      places: new Map<string, Place>(),
      writing: [] as string[],
    }
    if (!known) all.push(ledger)
    for (const { path, sha256, replaced, wasThere } of files) {
      const { claims, theirs } = ledger.places.get(path) ?? { claims: [], theirs: [] }
      const isBelow = claims.some((claim) => claim.sha256 === replaced)
      const before = wasThere ? sha256 : isBelow ? undefined : replaced
      const claim = { install, sha256 }
      ledger.places.set(path, {
        claims: isBelow ? [...claims, claim] : [claim, ...claims],
        theirs: before && !theirs.includes(before) ? [...theirs, before] : theirs,
      })
      const kept = replaced && (await readAt(own, `${KEPT}/${install}/${replaced}`))
      if (kept) await writeAt(own, placeOf(ledger.id, replaced), kept)
    }
    if (phase === 'writing') ledger.writing.push(install)
    await browserStore.save(ledger)
    await del(install, store)
  }
  return all
}

/** All folders that something is remembered of. One that was begun, or to be forgotten, when that broke off is forgotten now. */
export async function listLedgers(store: LedgerStore = browserStore): Promise<FolderLedger[]> {
  const all = await store.list()
  for (const { id, places } of all) if (places.size === 0) await aloneOrNot(id, () => store.drop(id))
  return all.filter(({ places }) => places.size > 0)
}

/** What is remembered of a folder, however it was opened this time. */
export async function findLedger(ledgers: readonly FolderLedger[], folder: Folder): Promise<FolderLedger | undefined> {
  for (const ledger of ledgers) if (await ledger.folder.isSameEntry(folder)) return ledger
  return undefined
}

/** The folder that an install lies in. */
export const ledgerOf = (ledgers: readonly FolderLedger[], install: string): FolderLedger | undefined =>
  ledgers.find(({ places }) =>
    [...places.values()].some(({ claims }) => claims.some((each) => each.install === install)),
  )

/** Remembers a folder as it is by now; with nothing of ours in it, and nothing to give back, it is forgotten. */
export async function saveLedger(store: LedgerStore, ledger: FolderLedger): Promise<void> {
  if (ledger.places.size === 0) return store.drop(ledger.id)
  await store.save(ledger)
  await store.dropKept(ledger.id, keptFor(ledger.places))
}
