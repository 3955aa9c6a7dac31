import { namePlaces } from '@satchel/core/followed/parts'
import { groupBy } from '@satchel/core/group-by'
import type { Db } from '../../db/database.ts'
import { denyAll, type NewPart, noteParts } from '../../db/followed.ts'
import { listFollowedIn } from '../../db/followed-files.ts'
import type { GatherLine } from '../../db/gathers.ts'
import { entryOf } from '../../db/many.ts'

/**
 * Notes which brushes came out of files of followed folders, when a ledger is taken in: they get their new pixels from there on.
 * @param made.lines All lines of the ledger that hold a brush.
 * @param made.taken Those that became brushes.
 * @param made.ids The brushes, in the order of these.
 */
export async function noteFollowed(
  tx: Db,
  workspaceId: string,
  gatherId: string,
  { lines, taken, ids }: { lines: readonly GatherLine[]; taken: readonly GatherLine[]; ids: readonly string[] },
): Promise<void> {
  const files = await listFollowedIn(tx, workspaceId, gatherId)
  if (files.length === 0) return
  const brushOf = new Map(taken.map((line, i) => [line.id, entryOf(ids, i)]))
  const ofFile = groupBy(lines, ({ fileId }) => fileId)
  const parts = files.flatMap(({ id, path, followedId }): NewPart[] => {
    const own = (ofFile.get(id) ?? []).filter(({ kind }) => kind !== 'pack')
    return [...namePlaces(own, path)].flatMap(([part, line]) => {
      const brushId = brushOf.get(line.id)
      const reading = line.brush?.recipe.colour.reading
      return brushId && reading ? [{ fileId: followedId, part, brushId, pixelKey: line.pixelKey ?? '', reading }] : []
    })
  })
  await noteParts(tx, workspaceId, parts)
  await denyAll(tx, workspaceId, files.map(({ followedId }) => followedId)) // biome-ignore format: one step
}
