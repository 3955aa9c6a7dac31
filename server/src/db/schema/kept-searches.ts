import { KeptFilter } from '@satchel/core/forms/brush-filter'
import { BRUSH_SORTS } from '@satchel/core/forms/brush-filter-words'
import { index, pgTable, text, uuid } from 'drizzle-orm/pg-core'
import * as v from 'valibot'
import { createdAt, inWorkspace, maybeAt, named, parsed } from './columns.ts'

/** A search that is kept: a set which fills itself. */
export const keptSearch = pgTable(
  'kept_search',
  {
    id: uuid().primaryKey().defaultRandom(),
    workspaceId: inWorkspace(),
    name: named().notNull(),
    filter: parsed((stored) => v.parse(KeptFilter, stored)).notNull(),
    sort: text({ enum: BRUSH_SORTS }).notNull(),
    createdAt: createdAt(),
    deletedAt: maybeAt(),
  },
  (t) => [index('kept_search_workspace').on(t.workspaceId)],
)
