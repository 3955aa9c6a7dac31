import { SEAM_MEASURE } from '@satchel/core/grain/seam'
import { integer, pgTable, real, text, uniqueIndex, uuid } from 'drizzle-orm/pg-core'
import { createdAt, fileSha, inWorkspace, maybeAt, named, pixelSha } from './columns.ts'

/**
 * A grain or a strip of the library. Recipes name a grain by its pixels, and a ribbon brush's tip is its strip: what is
 * kept here is the name the curator gave it, where its file is, and how its seam measured.
 */
export const material = pgTable(
  'material',
  {
    id: uuid().primaryKey().defaultRandom(),
    workspaceId: inWorkspace(),
    kind: text({ enum: ['grain', 'strip'] }).notNull(),
    name: named().notNull(),
    blobSha: fileSha().notNull(),
    pixelSha: pixelSha().notNull(),
    width: integer().notNull(),
    height: integer().notNull(),
    seamAcross: real().notNull(),
    seamDown: real().notNull(),
    /** The measure that gave both figures; an older one is measured again. */
    seamMeasure: integer().notNull().default(SEAM_MEASURE),
    createdAt: createdAt(),
    deletedAt: maybeAt(),
  },
  (t) => [uniqueIndex('material_pixels').on(t.workspaceId, t.kind, t.pixelSha)],
)
