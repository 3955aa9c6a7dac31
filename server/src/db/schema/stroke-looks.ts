import { sql } from 'drizzle-orm'
import { index, integer, pgTable, real, text, uuid } from 'drizzle-orm/pg-core'
import { bytea, inWorkspace } from './columns.ts'
import { brush } from './library.ts'

/**
 * How the stroke of each brush looks, in figures that lists are ordered by, and which parts of the recipe it uses. A trigger of the
 * database makes a row for every brush, so that a list by looks is whole; what was not measured stands at its end.
 */
export const strokeLook = pgTable(
  'stroke_look',
  {
    workspaceId: inWorkspace(),
    brushId: uuid()
      .primaryKey()
      .references(() => brush.id, { onDelete: 'cascade' }),
    /** The version that was measured, and by which rules; 0 and none where it never was. */
    version: integer().notNull().default(0),
    rules: text().notNull().default(''),
    darkness: real().notNull().default(sql`'infinity'`),
    widthPx: real().notNull().default(sql`'infinity'`),
    roughness: real().notNull().default(sql`'infinity'`),
    /** Names of parts of the recipe, of those that brushes are found by. */
    uses: text().array().notNull().default([]),
    /** What strokes that look like it are found by; empty where it paints nothing. */
    signature: bytea(),
  },
  (t) => [
    index('stroke_look_darkness').on(t.workspaceId, t.darkness, t.brushId),
    index('stroke_look_width').on(t.workspaceId, t.widthPx, t.brushId),
    index('stroke_look_roughness').on(t.workspaceId, t.roughness, t.brushId),
  ],
)
