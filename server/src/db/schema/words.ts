import { sql } from 'drizzle-orm'
import { customType, index, pgTable, primaryKey, text, uuid } from 'drizzle-orm/pg-core'
import { inWorkspace, named } from './columns.ts'
import { brush } from './library.ts'

/** A word as it is searched: compared byte by byte, so that its beginning finds it in an index. */
const word = customType<{ data: string }>({ dataType: () => 'text COLLATE "C"' })

/**
 * The words of a library, for finding those that hold what is typed. Kept by triggers, with `brushWord`; a word that no
 * brush has any more stays, since somebody may just be adding one that has it.
 */
export const libraryWord = pgTable('library_word', { workspaceId: inWorkspace(), word: word().notNull() }, (t) => [
  primaryKey({ columns: [t.workspaceId, t.word] }),
  index('library_word_parts').using('gin', sql`${t.word} gin_trgm_ops`).with({ fastupdate: false }),
])

/**
 * Which brushes have a word, in the order of their names: the first hundred of a common word are found at once. All that is
 * searched of a brush stands beside it where it is short, so that the index alone tells whether it has the other words too.
 */
export const brushWord = pgTable(
  'brush_word',
  {
    /** The brush's; it goes with the brush. */
    workspaceId: uuid().notNull(),
    word: word().notNull(),
    sortName: named().notNull(),
    brushId: uuid()
      .notNull()
      .references(() => brush.id, { onDelete: 'cascade' }),
    shortText: text(),
  },
  (t) => [
    primaryKey({ columns: [t.brushId, t.word] }),
    index('brush_word_by_name').on(t.workspaceId, t.word, t.sortName, t.brushId, t.shortText),
  ],
)
