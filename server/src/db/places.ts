import type { FileSha } from '@satchel/core/hashes'
import type { Place } from '@satchel/core/installs/places'
import { and, eq, sql } from 'drizzle-orm'
import type { Db } from './database.ts'
import type { Placed } from './installs.ts'
import { entryOf, inParts, isAnyOf } from './many.ts'
import { folderPlace } from './schema/all.ts'

/** The folder of a stand-in. */
export type AppFolder = Pick<Placed, 'workspaceId' | 'standIn'>

const inFolder = ({ workspaceId, standIn }: AppFolder) =>
  and(eq(folderPlace.workspaceId, workspaceId), eq(folderPlace.standIn, standIn))

/** What is remembered of a folder, by its paths. */
export async function listPlaces(db: Db, folder: AppFolder): Promise<Map<string, Place>> {
  const rows = await db.select().from(folderPlace).where(inFolder(folder))
  return new Map(
    rows.map(({ path, theirs, claimInstalls, claimShas }): [string, Place] => [
      path,
      { theirs, claims: claimInstalls.map((install, i) => ({ install, sha256: entryOf(claimShas, i) })) },
    ]),
  )
}

/** Remembers places; one that is undefined is forgotten. */
export async function notePlaces(
  db: Db,
  folder: AppFolder,
  changes: ReadonlyMap<string, Place | undefined>,
): Promise<void> {
  const all = [...changes]
  const gone = all.filter(([, place]) => place === undefined).map(([path]) => path)
  if (gone.length > 0) await db.delete(folderPlace).where(and(inFolder(folder), isAnyOf(folderPlace.path, gone)))
  const rows = all.flatMap(([path, place]) => {
    if (!place) return []
    const [theirs, claimShas] = [place.theirs, place.claims.map(({ sha256 }) => sha256)] as FileSha[][]
    const { workspaceId, standIn } = folder
    return [
      { workspaceId, standIn, path, theirs, claimShas, claimInstalls: place.claims.map(({ install }) => install) },
    ]
  })
  for (const some of inParts(folderPlace, rows))
    await db
      .insert(folderPlace)
      .values(some as (typeof folderPlace.$inferInsert)[])
      .onConflictDoUpdate({
        target: [folderPlace.workspaceId, folderPlace.standIn, folderPlace.path],
        set: {
          theirs: sql`excluded.theirs`,
          claimInstalls: sql`excluded.claim_installs`,
          claimShas: sql`excluded.claim_shas`,
        },
      })
}
