import { and, asc, desc, eq, isNotNull, isNull, ne, type SQL, sql } from 'drizzle-orm'
import type { Db } from './database.ts'
import { isAnyOf } from './many.ts'
import {
  brush,
  followedDay,
  followedFile,
  followedFolder,
  followedPart,
  gather,
  gatherFile,
  libraryAct,
  user,
} from './schema/all.ts'

const DAYS_SHOWN = 14
/** Names that are listed one by one; of others it is said how many there are. */
const LISTED = 50

/** The folders that are followed, with what they brought, what is missed, and what is asked. */
export async function listFollowed(db: Db, workspaceId: string) {
  const folders = await db
    .select({
      id: followedFolder.id,
      name: followedFolder.name,
      by: followedFolder.by,
      userId: followedFolder.userId,
      person: user.name,
      lookedAt: followedFolder.lookedAt,
      createdAt: followedFolder.createdAt,
      files: sql<number>`(select count(*) from ${followedFile} where ${followedFile.folderId} = ${followedFolder.id} and ${followedFile.goneAt} is null)`.mapWith(Number),
      brushes: sql<number>`(select count(*) from ${followedPart} join ${followedFile} on ${followedFile.id} = ${followedPart.fileId}
        join ${brush} on ${brush.id} = ${followedPart.brushId}
        where ${followedFile.folderId} = ${followedFolder.id} and ${brush.deletedAt} is null)`.mapWith(Number),
      reading: sql<number>`(select count(*) from ${gatherFile} join ${gather} on ${gather.id} = ${gatherFile.gatherId}
        where ${gather.folderId} = ${followedFolder.id} and ${gather.state} = 'open')`.mapWith(Number),
    }) // biome-ignore format: a table
    .from(followedFolder)
    .leftJoin(user, eq(user.id, followedFolder.userId))
    .where(eq(followedFolder.workspaceId, workspaceId))
    .orderBy(asc(followedFolder.createdAt), asc(followedFolder.id))
  const ids = folders.map(({ id }) => id)
  if (ids.length === 0) return []
  const [days, gone, refused, asked] = await Promise.all([
    listDays(db, workspaceId, ids),
    listGone(db, workspaceId, ids),
    db
      .select({ folderId: followedFile.folderId, path: followedFile.path, reason: followedFile.reason })
      .from(followedFile)
      .where(
        and(
          eq(followedFile.workspaceId, workspaceId),
          isAnyOf(followedFile.folderId, ids),
          ne(followedFile.reason, ''),
          isNull(followedFile.goneAt),
        ),
      )
      .orderBy(asc(followedFile.path))
      .limit(LISTED),
    listAsked(db, workspaceId, ids),
  ])
  return folders.map((folder) => {
    const own = <Row extends { folderId: string }>(rows: readonly Row[]) =>
      rows.filter((row) => row.folderId === folder.id)
    return { ...folder, days: own(days), gone: own(gone), refused: own(refused), asked: own(asked) }
  })
}

async function listDays(db: Db, workspaceId: string, folderIds: readonly string[]) {
  const rows = await db
    .select({
      folderId: followedDay.folderId,
      day: followedDay.day,
      changed: followedDay.changed,
      fresh: followedDay.fresh,
      found: followedDay.found,
      renamed: followedDay.renamed,
      gone: followedDay.gone,
      refused: followedDay.refused,
      actId: libraryAct.id,
      undoneAt: libraryAct.undoneAt,
      place: sql<number>`row_number() over (partition by ${followedDay.folderId} order by ${followedDay.day} desc)`.mapWith(Number), // biome-ignore format: a table
    })
    .from(followedDay)
    .leftJoin(libraryAct, eq(libraryAct.id, followedDay.actId))
    .where(and(eq(followedDay.workspaceId, workspaceId), isAnyOf(followedDay.folderId, folderIds)))
    .orderBy(desc(followedDay.day))
  return rows.filter(({ place }) => place <= DAYS_SHOWN)
}

const listGone = (db: Db, workspaceId: string, folderIds: readonly string[]) =>
  db
    .select({
      folderId: followedFile.folderId,
      path: followedFile.path,
      goneAt: followedFile.goneAt,
      brushId: brush.id,
      brush: brush.name,
    })
    .from(followedFile)
    .innerJoin(followedPart, eq(followedPart.fileId, followedFile.id))
    .innerJoin(brush, eq(brush.id, followedPart.brushId))
    .where(
      and(
        eq(followedFile.workspaceId, workspaceId),
        isAnyOf(followedFile.folderId, folderIds),
        isNotNull(followedFile.goneAt),
        isNull(brush.deletedAt),
      ),
    )
    .orderBy(desc(followedFile.goneAt), asc(followedFile.path))
    .limit(LISTED)

/** Something of the first line that waits of a file. */
const firstLine = <Value>(
  what: SQL,
) => sql<Value>`(select ${what} from gather_line l join ${gatherFile} on ${gatherFile.id} = l.file_id
  where ${gatherFile.followedId} = ${followedFile.id} and jsonb_array_length(l.frames) > 0 order by l.ordinal limit 1)`

/** New files that may be some that are gone, each with the brush that it would be of. */
function listAsked(db: Db, workspaceId: string, folderIds: readonly string[]) {
  return db
    .select({
      folderId: followedFile.folderId,
      fileId: followedFile.id,
      path: followedFile.path,
      brushId: brush.id,
      brush: brush.name,
      reading: brush.reading,
      brushPicture: sql<
        string | null
      >`(select blob_sha from tip_frame f where f.tip_id = ${brush.tipId} and f.ordinal = 0)`,
      picture: firstLine<string | null>(sql`l.frames -> 0 ->> 'blobSha'`),
      pictureReading: firstLine<string | null>(sql`l.brush -> 'recipe' -> 'colour' ->> 'reading'`),
    })
    .from(followedFile)
    .innerJoin(followedPart, eq(followedPart.fileId, followedFile.maybeId))
    .innerJoin(brush, eq(brush.id, followedPart.brushId))
    .where(
      and(
        eq(followedFile.workspaceId, workspaceId),
        isAnyOf(followedFile.folderId, folderIds),
        isNotNull(followedFile.maybeId),
        isNull(brush.deletedAt),
      ),
    )
    .orderBy(asc(followedFile.path))
    .limit(LISTED)
}
