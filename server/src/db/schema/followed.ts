import type { PaintReading } from '@satchel/core/brush/recipe'
import { FOLLOWERS } from '@satchel/core/forms/followed'
import { sql } from 'drizzle-orm'
import { bigint, date, index, integer, pgTable, text, uniqueIndex, uuid } from 'drizzle-orm/pg-core'
import { createdAt, inWorkspace, maybeAt } from './columns.ts'
import { brush } from './library.ts'

/** A folder of some computer whose changed files become new versions of their brushes. */
export const followedFolder = pgTable(
  'followed_folder',
  {
    id: uuid().primaryKey().defaultRandom(),
    workspaceId: inWorkspace(),
    name: text().notNull(),
    /** Who looks at it. */
    by: text({ enum: FOLLOWERS }).notNull(),
    userId: text().notNull(),
    /** Names where it lies: two folders of one name are two. */
    place: text().notNull().default(sql`gen_random_uuid()::text`),
    /** Where its days begin. */
    zone: text().notNull(),
    createdAt: createdAt(),
    /** When it was last told how it is. */
    lookedAt: maybeAt(),
  },
  (t) => [uniqueIndex('followed_folder_place').on(t.workspaceId, t.userId, t.by, t.place)],
)

/** A file of a followed folder. */
export const followedFile = pgTable(
  'followed_file',
  {
    id: uuid().primaryKey().defaultRandom(),
    workspaceId: inWorkspace(),
    folderId: uuid()
      .notNull()
      .references(() => followedFolder.id, { onDelete: 'cascade' }),
    path: text().notNull(),
    sizeBytes: bigint({ mode: 'number' }).notNull(),
    /** The SHA-256 of what it held when it was last seen; of which nothing is stored, hence no `FileSha`. */
    seenSha: text().notNull(),
    /** The same of what was last read of it, whatever that came to. */
    readSha: text(),
    goneAt: maybeAt(),
    /** Why it could not be read. */
    reason: text().notNull().default(''),
    /** A file that is gone which it may be: asked, until that is answered. */
    maybeId: uuid(),
  },
  (t) => [
    index('followed_file_folder').on(t.folderId),
    uniqueIndex('followed_file_path').on(t.folderId, t.path).where(sql`${t.goneAt} is null`),
  ],
)

/** A brush that came out of a followed file, or was found to be in it: what it holds in that place gives it its pixels. */
export const followedPart = pgTable(
  'followed_part',
  {
    id: uuid().primaryKey().defaultRandom(),
    workspaceId: inWorkspace(),
    fileId: uuid()
      .notNull()
      .references(() => followedFile.id, { onDelete: 'cascade' }),
    /** Where in the file, if that holds several. */
    part: text().notNull(),
    brushId: uuid()
      .notNull()
      .references(() => brush.id, { onDelete: 'cascade' }),
    /** What the file gave last, and how that was to be read. */
    pixelKey: text().notNull(),
    reading: text().$type<PaintReading>().notNull(),
  },
  (t) => [uniqueIndex('followed_part_place').on(t.fileId, t.part), index('followed_part_brush').on(t.brushId)],
)

/** What one day of following has brought. */
export const followedDay = pgTable(
  'followed_day',
  {
    id: uuid().primaryKey().defaultRandom(),
    workspaceId: inWorkspace(),
    folderId: uuid()
      .notNull()
      .references(() => followedFolder.id, { onDelete: 'cascade' }),
    day: date({ mode: 'string' }).notNull(),
    changed: integer().notNull().default(0),
    fresh: integer().notNull().default(0),
    found: integer().notNull().default(0),
    renamed: integer().notNull().default(0),
    gone: integer().notNull().default(0),
    refused: integer().notNull().default(0),
    /** The act by which all new pixels of that day are taken back. */
    actId: uuid(),
  },
  (t) => [uniqueIndex('followed_day_of').on(t.folderId, t.day)],
)
