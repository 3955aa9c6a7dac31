import { index, pgTable, real, text, uuid } from 'drizzle-orm/pg-core'
import { createdAt, inWorkspace, maybeAt } from './columns.ts'
import { brush } from './library.ts'

/** A named strip of favourite brushes. */
export const pocket = pgTable('pocket', {
  id: uuid().primaryKey().defaultRandom(),
  workspaceId: inWorkspace(),
  name: text().notNull(),
  createdAt: createdAt(),
  deletedAt: maybeAt(),
})

/** A brush in a pocket, at a size of its own; the same brush may be there at several sizes. */
export const pocketItem = pgTable(
  'pocket_item',
  {
    id: uuid().primaryKey().defaultRandom(),
    workspaceId: inWorkspace(),
    pocketId: uuid()
      .notNull()
      .references(() => pocket.id, { onDelete: 'cascade' }),
    brushId: uuid()
      .notNull()
      .references(() => brush.id, { onDelete: 'cascade' }),
    sizePx: real().notNull(),
    label: text().notNull().default(''),
    /** Fractional key: its place in the pocket. */
    position: text().notNull(),
  },
  (t) => [index('pocket_item_pocket').on(t.pocketId), index('pocket_item_brush').on(t.brushId)],
)
