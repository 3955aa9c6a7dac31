import { noteElsewhere } from '../install-queries.ts'
import { askFor } from './pick-folder.ts'
import { sentenceOn, takeOutOf } from './put-in.ts'
import { loadRecord } from './record.ts'

/**
 * Takes an install out of the folder of this computer that it lies in.
 * @returns The paths of what stayed, since somebody has changed it.
 * @throws {Error} With a sentence, if this browser did not put it there or may not change the folder.
 */
export async function takeOutHere({ id, name }: { id: string; name: string }): Promise<string[]> {
  const record = await loadRecord(id)
  if (!record) throw new Error(`"${name}" lies in a folder of another computer or browser; take it out from there.`)
  try {
    await askFor(record.folder)
    const stayed = await takeOutOf(id, record)
    await noteElsewhere(id, null)
    return stayed
  } catch (error) {
    throw new Error(sentenceOn(error, record.name), { cause: error })
  }
}
