import { type Drift, findConflicts, findDrift } from '@satchel/core/installs/compare-folder'
import type { PlacedFile } from '@satchel/core/installs/places'
import { carryOut, type Place, pathsToRead, planFiles, type Said } from '@satchel/core/installs/places'
import { type Folder, hashAt, hashOf, listPaths, readAt, removeAt, writeAt } from './folder-files.ts'
import { browserStore, type FolderLedger, findLedger, type LedgerStore, listLedgers, saveLedger } from './ledger.ts'
import { alone } from './locks.ts'

/** Where the bytes of a file come from that an install brings; undefined where it brings none there any more. */
export type LoadFile = (install: string, path: string) => Promise<ArrayBuffer | undefined>

/** Something else lies in a folder than a moment ago. */
export class FolderChanged extends Error {}
/** Putting something in was broken off, and so was putting it back; both can go on. */
export class LeftHalfway extends Error {}
/** What was covered is kept no more: the browser was told to clear its files. */
export class NotKept extends Error {}

/** Another install that lay there before brings something else by now, or nothing: what it held is held no more. */
class Stale extends Error {
  constructor(
    readonly path: string,
    readonly install: string,
  ) {
    super(`${path} is brought no more`)
  }
}

type Changing = {
  ledger: FolderLedger
  install: string
  /** All that it is to have in the folder: none of it takes it out. */
  files: readonly PlacedFile[]
  load: LoadFile
  repairs?: boolean
  onProgress?: ((done: number, total: number) => void) | undefined
  store?: LedgerStore
}

/** What is remembered of a folder that the person has chosen, or nothing yet. */
export async function openLedger(folder: Folder, store: LedgerStore = browserStore): Promise<FolderLedger> {
  const known = await findLedger(await listLedgers(store), folder)
  return known ?? { id: crypto.randomUUID(), folder, name: folder.name, places: new Map(), writing: [] }
}

/** What lies at the paths that matter. */
export async function readThere(
  { folder, places }: Pick<FolderLedger, 'folder' | 'places'>,
  files: readonly { path: string }[],
): Promise<Map<string, string>> {
  const there = new Map<string, string>()
  for (const path of pathsToRead(places, files)) {
    const sha256 = await hashAt(folder, path)
    if (sha256) there.set(path, sha256)
  }
  return there
}

/**
 * Brings a folder to hold just these files of an install: puts in, brings up to date, repairs, or takes out. What breaks
 * off loses nothing: the same can be asked for again, or the install taken out.
 * @throws {FolderChanged} If somebody writes there meanwhile. @throws {NotKept} If what has to come back is kept no more.
 */
export function changeFolder({ store = browserStore, ...wish }: Changing): Promise<Said> {
  return alone(wish.ledger.id, async () => {
    // as it is by now: another tab may have been there
    const ledger = (await store.load(wish.ledger.id)) ?? wish.ledger
    while (true) {
      try {
        return await changeAlone({ ...wish, ledger, store })
      } catch (error) {
        if (!(error instanceof Stale)) throw error
        const { path, install } = error
        const place = ledger.places.get(path)
        if (!place) throw error
        ledger.places.set(path, { ...place, claims: place.claims.filter((claim) => claim.install !== install) })
        await store.save(ledger)
      }
    }
  })
}

async function changeAlone({
  ledger,
  install,
  files,
  load,
  repairs = false,
  onProgress,
  store,
}: Changing & { store: LedgerStore }): Promise<Said> {
  const { folder } = ledger
  const there = await readThere(ledger, files)
  const plan = planFiles({ there, names: await listPaths(folder), places: ledger.places }, install, files, { repairs })
  const total = plan.write.length
  let done = 0
  const note = async (changes: ReadonlyMap<string, Place | undefined>) => {
    for (const [path, place] of changes)
      if (place) ledger.places.set(path, place)
      else ledger.places.delete(path)
    await store.save(ledger)
  }
  // remembered before anything is kept: what breaks off can be tidied up
  await store.save(ledger)
  ledger.writing = files.length > 0 ? [...new Set([...ledger.writing, install])] : ledger.writing
  await carryOut(plan, {
    async keep({ path, sha256 }) {
      const bytes = await readAt(folder, path)
      if (!bytes || (await hashOf(bytes)) !== sha256) throw new FolderChanged(path)
      await store.keep(ledger.id, sha256, bytes)
    },
    note,
    async write({ path, sha256, install: bringer, over }) {
      onProgress?.(done++, total)
      const isIt = async (some: ArrayBuffer | undefined) => some !== undefined && (await hashOf(some)) === sha256
      // what is kept may be of a time when keeping broke off
      let bytes = await store.readKept(ledger.id, sha256)
      if (!(await isIt(bytes)) && bringer !== undefined) bytes = await load(bringer, path)
      if (!bytes || !(await isIt(bytes))) {
        if (bringer === undefined) throw new NotKept(path)
        if (bringer !== install) throw new Stale(path, bringer)
        throw new Error(`${path} did not arrive as it was written; try again.`)
      }
      if ((await hashAt(folder, path)) !== over) throw new FolderChanged(path)
      await writeAt(folder, path, bytes)
    },
    async remove({ path, over }) {
      if ((await hashAt(folder, path)) !== over) throw new FolderChanged(path)
      await removeAt(folder, path)
    },
  })
  ledger.writing = ledger.writing.filter((each) => each !== install)
  await saveLedger(store, ledger)
  return plan.said
}

/**
 * Puts an install in, all of it or nothing.
 * @param wish.expected What lay there when the person was asked.
 * @throws {FolderChanged} If something else lies there by now. Whatever is thrown, the folder is as it was.
 */
export async function putInto({
  expected,
  ...wish
}: Omit<Changing, 'repairs'> & { expected: ReadonlyMap<string, string> }): Promise<Said> {
  const there = await readThere(wish.ledger, wish.files)
  for (const { path } of wish.files) if (there.get(path) !== expected.get(path)) throw new FolderChanged(path)
  try {
    return await changeFolder(wish)
  } catch (error) {
    try {
      await changeFolder({ ...wish, files: [] })
    } catch (cause) {
      throw new LeftHalfway(wish.ledger.name, { cause })
    }
    throw error
  }
}

/** What lies in a folder where files of an install would go, and all names that are taken there. */
export async function lookInto(ledger: FolderLedger, install: string, files: readonly PlacedFile[]) {
  const expected = await readThere(ledger, files)
  const there = [...expected].map(([path, sha256]) => ({ path, sha256 }))
  const names = await listPaths(ledger.folder)
  // names that differ only in their case are one on many disks
  const wanted = new Set(files.map(({ path }) => path.toLowerCase()))
  for (const path of names) {
    if (expected.has(path) || !wanted.has(path.toLowerCase())) continue
    const sha256 = await hashAt(ledger.folder, path)
    if (sha256) there.push({ path, sha256 })
  }
  return { expected, there, names, conflicts: findConflicts(files, there, { install, places: ledger.places }) }
}

/** What of an install is not as it was put there, and who has changed it. */
export async function driftOf(ledger: FolderLedger, install: string): Promise<Drift[]> {
  const files = filesIn(ledger, install)
  const there = await readThere(ledger, files)
  return findDrift(
    files,
    [...there].map(([path, sha256]) => ({ path, sha256 })),
    { install, places: ledger.places },
  )
}

/** What an install has in a folder. */
export const filesIn = ({ places }: Pick<FolderLedger, 'places'>, install: string): PlacedFile[] =>
  [...places].flatMap(([path, { claims }]) =>
    claims.flatMap((claim) => (claim.install === install ? [{ path, sha256: claim.sha256 }] : [])),
  )

/** Forgets what an install has put somewhere, and leaves it there: its folder is gone, or may not be written to. */
export async function letGo(ledger: FolderLedger, install: string, store: LedgerStore = browserStore): Promise<void> {
  await alone(ledger.id, async () => {
    const now = (await store.load(ledger.id)) ?? ledger
    for (const [path, place] of now.places) {
      const claims = place.claims.filter((claim) => claim.install !== install)
      if (claims.length === 0) now.places.delete(path)
      else if (claims.length < place.claims.length) now.places.set(path, { ...place, claims })
    }
    await saveLedger(store, { ...now, writing: now.writing.filter((each) => each !== install) })
  })
}

/**
 * Remembers that a folder lies elsewhere by now.
 * @returns Whether anything of it lies there; otherwise nothing is changed.
 * @throws {Error} With a sentence, if other installs are looked after in that folder.
 */
export async function moveLedger(
  ledger: FolderLedger,
  folder: Folder,
  store: LedgerStore = browserStore,
): Promise<boolean> {
  const known = await findLedger(await listLedgers(store), folder)
  if (known && known.id !== ledger.id)
    throw new Error(`Other installs are looked after in "${folder.name}"; take them out first, or let go of this one.`)
  const there = await readThere({ folder, places: ledger.places }, [])
  const isThere = [...ledger.places].some(([path, { claims }]) => claims.at(-1)?.sha256 === there.get(path))
  if (isThere) await store.save({ ...ledger, folder, name: folder.name })
  return isThere
}

/** What went wrong, in one sentence with the next step. @param isWhole Whether the folder is as it was before. */
export function sentenceOn(error: unknown, name: string, { isWhole }: { isWhole: boolean }): string {
  const how = isWhole ? 'it is as it was' : 'what was begun goes on when you try again'
  if (error instanceof LeftHalfway)
    return `Putting it into "${name}" was broken off in the middle. Put it back as it was once that folder can be written to.`
  if (error instanceof FolderChanged)
    return `In "${name}", ${error.message} was changed by somebody else just now; ${how}. Look at it and try again.`
  if (error instanceof NotKept)
    return `What lay at ${error.message} in "${name}" before is kept no more: this browser has cleared its files. Put your own copy there, and try again, or let go of this install.`
  const kind = error instanceof DOMException ? error.name : ''
  if (kind === 'QuotaExceededError') return `There is no room left in "${name}"; ${how}. Make room and try again.`
  if (kind === 'NotAllowedError' || kind === 'NoModificationAllowedError' || kind === 'SecurityError')
    return `"${name}" may not be changed; ${how}. Allow it when the browser asks, or choose another folder.`
  if (kind === 'NotFoundError') return `"${name}" is not there any more. Say where it is now, or let go of it.`
  return error instanceof Error ? error.message : String(error)
}
