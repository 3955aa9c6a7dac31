import { boolean, index, pgTable, text, timestamp } from 'drizzle-orm/pg-core'

/** Where files rest: in pieces in the database, or each as an object of a store beside it. */
export type FilesRest = 'database' | 'store'

/** Where files are to rest, as whoever runs the server has said; one row at most. */
export const filesRest = pgTable('files_rest', {
  only: boolean().primaryKey().default(true),
  at: text().$type<FilesRest>().notNull(),
})

/** Objects of the store that no file names: not yet, as long as they are being written, or no more. */
export const looseObject = pgTable(
  'loose_object',
  {
    name: text().primaryKey(),
    since: timestamp({ withTimezone: true }).notNull().defaultNow(),
  },
  (t) => [index('loose_object_since').on(t.since)],
)
