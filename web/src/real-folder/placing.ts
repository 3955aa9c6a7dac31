import { type Placing, Stopped, sha } from '@satchel/core/installs/testing'
import { changeFolder, openLedger } from './change-folder.ts'
import { type Folder, listPaths, readAt, removeAt, writeAt } from './folder-files.ts'
import { type FolderLedger, type LedgerStore, ledgerOf, listLedgers } from './ledger.ts'

const toBytes = (text: string): ArrayBuffer => new Uint8Array(new TextEncoder().encode(text)).buffer as ArrayBuffer
const toText = (bytes: ArrayBuffer) => new TextDecoder().decode(bytes)

/** What this browser remembers, as a test has it. */
export class StoreInMemory implements LedgerStore {
  readonly #ledgers = new Map<string, FolderLedger>()
  readonly #kept = new Map<string, ArrayBuffer>()
  readonly #step: () => void
  /** @param step Called where keeping something may break off. */
  constructor(step: () => void = () => undefined) {
    this.#step = step
  }
  get size(): number {
    return this.#ledgers.size + this.#kept.size
  }
  // as a database does, it gives copies; a handle is itself
  list = async () => [...this.#ledgers.values()].map(copy)
  load = async (id: string) => {
    const ledger = this.#ledgers.get(id)
    return ledger && copy(ledger)
  }
  save = async (ledger: FolderLedger) => void this.#ledgers.set(ledger.id, copy(ledger))
  async drop(id: string) {
    this.#ledgers.delete(id)
    await this.dropKept(id, new Set())
  }
  async keep(id: string, sha256: string, bytes: ArrayBuffer) {
    // begun, it is there, and empty
    const key = `${id} ${sha256}`
    if (!this.#kept.has(key)) this.#kept.set(key, new ArrayBuffer(0))
    this.#step()
    this.#kept.set(key, bytes)
  }
  readKept = async (id: string, sha256: string) => this.#kept.get(`${id} ${sha256}`)
  async dropKept(id: string, but: ReadonlySet<string>) {
    for (const key of [...this.#kept.keys()])
      if (key.startsWith(`${id} `) && !but.has(key.slice(id.length + 1))) this.#kept.delete(key)
  }
}
const copy = (ledger: FolderLedger): FolderLedger => ({
  ...ledger,
  places: structuredClone(ledger.places),
  writing: [...ledger.writing],
})

/** Breaks a folder off after so many of its writes and removals, the last one half done. */
export type Breaks = { after: (steps: number | undefined) => void }

/**
 * The page's own way of carrying plans out, as the law of placing tries it.
 * @param folder A handle, faked or of the browser's own files. @param size How much the store holds.
 */
export function placingIn(
  { folder, breaks, store, size }: { folder: Folder; breaks: Breaks; store: LedgerStore; size: () => Promise<number> },
  begun: Record<string, string>,
): Promise<Placing> {
  const brought = new Map<string, string>()
  /** What the server has of each install by now. */
  const written = new Map<string, Map<string, string>>()
  const placing: Placing = {
    async person(path, bytes) {
      if (bytes === undefined) await removeAt(folder, path)
      else await writeAt(folder, path, toBytes(bytes))
    },
    async all() {
      const files: Record<string, string> = {}
      for (const path of await listPaths(folder)) {
        const bytes = await readAt(folder, path)
        if (bytes) files[path] = toText(bytes)
      }
      return files
    },
    bring(bytes) {
      brought.set(sha(bytes), bytes)
      return sha(bytes)
    },
    async change(install, files, { repairs = false, stopAt } = {}) {
      const known = ledgerOf(await listLedgers(store), install)
      const ledger = known ?? (await openLedger(folder, store))
      // an install that was never put in is not taken out
      if (files.length === 0 && !known) return
      if (files.length > 0) written.set(install, new Map(files.map(({ path, sha256 }) => [path, sha256])))
      const load = async (bringer: string, path: string) => {
        const bytes = brought.get(written.get(bringer)?.get(path) ?? '')
        return bytes === undefined ? undefined : toBytes(bytes)
      }
      breaks.after(stopAt)
      try {
        await changeFolder({ ledger, install, files, load, repairs, store })
      } catch (error) {
        if (!(error instanceof Stopped)) throw error
      } finally {
        breaks.after(undefined)
      }
    },
    async remembered() {
      await listLedgers(store)
      return size()
    },
  }
  return (async () => {
    for (const [path, bytes] of Object.entries(begun)) await placing.person(path, bytes)
    return placing
  })()
}
