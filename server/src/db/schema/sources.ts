import type { PaintReading } from '@satchel/core/brush/recipe'
import type { FileSha } from '@satchel/core/hashes'
import { readStoredPlan } from '@satchel/core/make/parse-plan'
import type { Written } from '@satchel/core/make/written'
import { index, integer, jsonb, pgTable, text, uniqueIndex, uuid } from 'drizzle-orm/pg-core'
import { createdAt, inWorkspace, maybeAt, parsed } from './columns.ts'
import { brush } from './library.ts'

/**
 * A file that a source was made from, as it came: its name there, what it is, and the size of its first picture. A picture
 * of words knows them, so that they can be written anew.
 */
export type SourceFile = {
  blobSha: FileSha
  name: string
  kind: string
  width: number
  height: number
  written?: Written
}

/** What tips are made from: the file as it came, and what is done with it, so that any of it can be changed later. */
export const source = pgTable(
  'source',
  {
    id: uuid().primaryKey().defaultRandom(),
    workspaceId: inWorkspace(),
    name: text().notNull(),
    file: jsonb().$type<SourceFile>().notNull(),
    plan: parsed(readStoredPlan).notNull(),
    /** Counts changes of the plan and of the file. */
    revision: integer().notNull().default(1),
    createdAt: createdAt(),
    updatedAt: createdAt(),
    deletedAt: maybeAt(),
  },
  (t) => [index('source_newest').on(t.workspaceId, t.updatedAt)],
)

/** A brush whose tip was made from a source, or from a part of it. */
export const sourceMade = pgTable(
  'source_made',
  {
    id: uuid().primaryKey().defaultRandom(),
    workspaceId: inWorkspace(),
    sourceId: uuid()
      .notNull()
      .references(() => source.id, { onDelete: 'cascade' }),
    /** Which part of the source: the same name as long as it is the same thing. */
    part: text().notNull(),
    brushId: uuid()
      .notNull()
      .references(() => brush.id, { onDelete: 'cascade' }),
    /** The source's revision it was made from. */
    revision: integer().notNull(),
    /** The reading the source gave: a recipe's own is left alone while this stays. */
    reading: text().$type<PaintReading>().notNull(),
  },
  (t) => [uniqueIndex('source_made_part').on(t.sourceId, t.part), index('source_made_brush').on(t.brushId)],
)
