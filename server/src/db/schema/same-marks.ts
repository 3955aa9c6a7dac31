import { DIFFERENCES, type Difference, type DifferenceKind } from '@satchel/core/alike/differences'
import { boolean, index, pgTable, primaryKey, text, uuid } from 'drizzle-orm/pg-core'
import * as v from 'valibot'
import { createdAt, inWorkspace, parsed } from './columns.ts'
import { brush } from './library.ts'

const Differences = v.array(
  v.object({
    kind: v.picklist(Object.keys(DIFFERENCES) as [DifferenceKind, ...DifferenceKind[]]),
    amount: v.optional(v.tuple([v.number(), v.number()])),
  }),
)

/**
 * A mark of the library, its pixels with the reading they are painted in, that was compared with all the others: of which one it is a
 * copy, and how it differs; of none where it is like no other, or is the original itself.
 */
export const comparedMark = pgTable(
  'compared_mark',
  {
    workspaceId: inWorkspace(),
    mark: text().notNull(),
    original: text(),
    differs: parsed((stored): Difference[] => v.parse(Differences, stored)),
    /** Whether a painter sees how it differs. */
    isSeen: boolean().notNull().default(false),
  },
  (t) => [
    primaryKey({ columns: [t.workspaceId, t.mark] }),
    index('compared_mark_original').on(t.workspaceId, t.original),
  ],
)

/** Two marks that the curator has called not the same. */
export const marksApart = pgTable(
  'marks_apart',
  { workspaceId: inWorkspace(), mark: text().notNull(), original: text().notNull(), createdAt: createdAt() },
  (t) => [primaryKey({ columns: [t.workspaceId, t.mark, t.original] })],
)

/** A brush that the curator keeps beside the others of its mark. */
export const keptBoth = pgTable(
  'kept_both',
  {
    workspaceId: inWorkspace(),
    brushId: uuid()
      .notNull()
      .references(() => brush.id, { onDelete: 'cascade' }),
    /** The mark of the original that its group is named after. */
    root: text().notNull(),
    createdAt: createdAt(),
  },
  (t) => [primaryKey({ columns: [t.brushId, t.root] })],
)
