import { countPlaces, findAnyObject } from '../db/file-places.ts'
import { isAway } from '../errors.ts'
import { lookAgain } from '../look-again.ts'
import { type Mover, moveFiles } from './move-files.ts'
import type { ObjectStore } from './object-store.ts'

const LOOK_MS = 20_000

/** The store that is set is not the one that the files of this library rest in. */
export class WrongStore extends Error {}

/**
 * Looks whether what rests in a store can be reached by what is set. A store that does not answer is no reason not to begin.
 * @throws {WrongStore} Where it cannot.
 */
export async function checkStore(
  { db, log }: Pick<Mover, 'db' | 'log'>,
  store: ObjectStore | undefined,
): Promise<void> {
  const name = await findAnyObject(db)
  if (!name) return
  if (!store) {
    const { files } = (await countPlaces(db)).store
    throw new WrongStore(
      `${files === 1 ? '1 file of this library rests' : `${files.toLocaleString('en')} files of this library rest`} in a store: set SATCHEL_STORE as it was, or bring them back first, with ./satchel files to-database.`,
    )
  }
  try {
    if (await store.has(name)) return
  } catch (error) {
    log.error({ err: error }, 'looking whether the store is the right one')
    return
  }
  throw new WrongStore(
    'The store that SATCHEL_STORE names does not have the files of this library: set it as it was before.',
  )
}

/**
 * Brings what is new, or was not yet, to where files are to rest, behind all who work.
 * @returns How to stop; over once nothing is on its way any more.
 */
export function keepFiles(mover: Omit<Mover, 'signal'>): () => Promise<void> {
  const stopping = new AbortController()
  let running = Promise.resolve()
  const look = () => {
    const moving = moveFiles({ ...mover, signal: stopping.signal })
    running = moving.then(
      () => undefined,
      () => undefined,
    )
    return moving
  }
  const stop = lookAgain(LOOK_MS, look, (error) => {
    if (!stopping.signal.aborted) mover.log.error({ err: error, away: isAway(error) }, 'moving files')
  })
  return async () => {
    stop()
    stopping.abort()
    await running
  }
}
