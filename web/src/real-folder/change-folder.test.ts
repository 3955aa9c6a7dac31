import { keepsTheLaw, Stopped, sha } from '@satchel/core/installs/testing'
import { describe, expect, it } from 'vitest'
import {
  changeFolder,
  driftOf,
  FolderChanged,
  letGo,
  lookInto,
  moveLedger,
  NotKept,
  openLedger,
  putInto,
} from './change-folder.ts'
import type { Folder } from './folder-files.ts'
import { placingIn, StoreInMemory } from './placing.ts'

/** A folder of a disk in memory, as browsers give it: as far as files are placed in it. */
class FakeFolder {
  readonly kind = 'directory'
  readonly #inside = new Map<string, FakeFolder | FakeFile>()
  constructor(
    readonly name: string,
    readonly step: () => void,
  ) {}
  async *entries() {
    yield* this.#inside
  }
  isSameEntry = async (other: unknown) => other === this
  async getDirectoryHandle(name: string, { create = false } = {}) {
    const found = this.#inside.get(name) ?? (create ? new FakeFolder(name, this.step) : undefined)
    if (!found) throw new DOMException(name, 'NotFoundError')
    if (found.kind === 'file') throw new DOMException(name, 'TypeMismatchError')
    this.#inside.set(name, found)
    return found
  }
  async getFileHandle(name: string, { create = false } = {}) {
    const found = this.#inside.get(name) ?? (create ? new FakeFile(this.step) : undefined)
    if (!found) throw new DOMException(name, 'NotFoundError')
    if (found.kind === 'directory') throw new DOMException(name, 'TypeMismatchError')
    this.#inside.set(name, found)
    return found
  }
  async removeEntry(name: string) {
    const found = this.#inside.get(name)
    if (!found) throw new DOMException(name, 'NotFoundError')
    if (found.kind === 'directory' && found.#inside.size > 0) throw new DOMException(name, 'InvalidModificationError')
    if (found.kind === 'file') this.step()
    this.#inside.delete(name)
  }
}
class FakeFile {
  readonly kind = 'file'
  #bytes = new ArrayBuffer(0)
  constructor(readonly step: () => void) {}
  getFile = async () => new Blob([this.#bytes])
  async createWritable() {
    // by now the file is there, and empty
    this.step()
    let bytes = new ArrayBuffer(0)
    return {
      write: async (all: ArrayBuffer) => {
        bytes = all
      },
      close: async () => {
        this.#bytes = bytes
      },
      abort: async () => undefined,
    }
  }
}

/** A folder that breaks off after so many writes and removals. */
function fakeFolder(name = 'Brushes') {
  let left: number | undefined
  const step = () => {
    if (left !== undefined && left-- <= 0) throw new Stopped()
  }
  const folder = new FakeFolder(name, step)
  const after = (steps?: number) => {
    left = steps
  }
  return { folder: folder as unknown as Folder, breaks: { after }, step }
}

async function begin(begun: Record<string, string>) {
  const { folder, breaks, step } = fakeFolder()
  const store = new StoreInMemory(step)
  const placing = await placingIn({ folder, breaks, store, size: async () => store.size }, begun)
  return { placing, store, folder, breaks }
}

describe('a folder of this computer', () => {
  it('keeps the law of placing', async () => {
    await keepsTheLaw(async (begun) => (await begin(begun)).placing, 400)
  }, 60_000)

  const path = 'Shore/Rush.png'
  const load = async () => new TextEncoder().encode('a').buffer as ArrayBuffer
  const files = [{ path, sha256: sha('a') }]

  it('is as it was where putting something in breaks off, and says that something else came there', async () => {
    const { placing, store, folder, breaks } = await begin({ [path]: 'theirs' })
    const ledger = await openLedger(folder, store)
    const wish = { ledger, install: 'A', files, load, store }
    await expect(putInto({ ...wish, expected: new Map() })).rejects.toBeInstanceOf(FolderChanged)
    const expected = new Map([[path, sha('theirs')]])
    const failing = async () => {
      breaks.after(undefined)
      throw new Error('the line is dead')
    }
    await expect(putInto({ ...wish, load: failing, expected })).rejects.toThrow('the line is dead')
    expect([await placing.all(), store.size]).toEqual([{ [path]: 'theirs' }, 0])
    await putInto({ ...wish, expected })
    expect(await placing.all()).toEqual({ [path]: 'a' })
  })

  it('is remembered under another handle of the same folder, found where it was moved to, and let go', async () => {
    const { store, folder } = await begin({})
    const ledger = await openLedger(folder, store)
    await changeFolder({ ledger, install: 'A', files, load, store })
    const known = await openLedger(folder, store)
    expect(known.id).toBe(ledger.id)
    const { folder: other } = fakeFolder('Other')
    expect(await moveLedger(known, other, store)).toBe(false)
    const byHand = await placingIn(
      { folder: other, breaks: { after: () => undefined }, store, size: async () => 0 },
      {},
    )
    await byHand.person(path, 'a')
    expect(await moveLedger(known, other, store)).toBe(true)
    const { folder: third } = fakeFolder('Third')
    await changeFolder({ ledger: await openLedger(third, store), install: 'B', files, load, store })
    await expect(moveLedger(known, third, store)).rejects.toThrow('Other installs are looked after in "Third"')
    expect((await store.load(known.id))?.name).toBe('Other')
    await letGo(known, 'A', store)
    expect(await store.load(known.id)).toBeUndefined()
  })

  it('is looked into by names of any case, since they are one on many disks', async () => {
    const { store, folder } = await begin({ 'shore/RUSH.png': 'theirs', 'notes.txt': 'mine' })
    const { conflicts, there, names } = await lookInto(await openLedger(folder, store), 'A', files)
    expect(conflicts.other).toEqual([path])
    expect(there).toEqual([{ path: 'shore/RUSH.png', sha256: sha('theirs') }])
    expect(names.sort()).toEqual(['notes.txt', 'shore/RUSH.png'])
  })

  it('takes nothing for kept that was kept in part', async () => {
    const { placing } = await begin({})
    const same = placing.bring('same')
    await placing.change('A', [{ path, sha256: same }])
    await placing.change('B', [{ path, sha256: placing.bring('b') }], { stopAt: 0 })
    await placing.change(
      'A',
      [path, 'Shore/Reed.png'].map((each) => ({ path: each, sha256: same })),
    )
    expect(await placing.all()).toEqual({ [path]: 'same', 'Shore/Reed.png': 'same' })
  })

  it('says which install has covered a file, and that what was covered is kept no more', async () => {
    const { placing, store, folder } = await begin({ [path]: 'theirs' })
    await placing.change('A', [{ path, sha256: placing.bring('a') }])
    await placing.change('B', [{ path, sha256: placing.bring('b') }])
    const ledger = await openLedger(folder, store)
    expect(await driftOf(ledger, 'A')).toEqual([{ path, state: 'changed', by: 'B' }])
    await placing.change('B', [])
    await store.dropKept(ledger.id, new Set())
    const out = changeFolder({ ledger: await openLedger(folder, store), install: 'A', files: [], load, store })
    await expect(out).rejects.toBeInstanceOf(NotKept)
    expect(await placing.all()).toEqual({ [path]: 'a' })
  })
})
