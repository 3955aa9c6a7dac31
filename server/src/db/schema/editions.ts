import { EditionPlan } from '@satchel/core/editions/plan'
import { bigint, index, integer, pgTable, text, uniqueIndex, uuid } from 'drizzle-orm/pg-core'
import * as v from 'valibot'
import { createdAt, fileSha, inWorkspace, maybeAt, named, parsed } from './columns.ts'
import { pack, release } from './packs.ts'

/** How releases of a pack are cut for an audience; a class kit where its plan has lessons. */
export const edition = pgTable(
  'edition',
  {
    id: uuid().primaryKey().defaultRandom(),
    workspaceId: inWorkspace(),
    packId: uuid()
      .notNull()
      .references(() => pack.id, { onDelete: 'cascade' }),
    name: named().notNull(),
    plan: parsed((stored) => v.parse(EditionPlan, stored)).notNull(),
    /** When its class is over, and its links with it: worked out of the plan whenever that is written. */
    endsAt: maybeAt(),
    /** Counts its changes: two pages that change it at once are told. */
    version: integer().notNull().default(1),
    /** When to see again that its downloads are built: before a lesson opens, and at once after a change. */
    prepareAt: maybeAt(),
    createdAt: createdAt(),
    deletedAt: maybeAt(),
  },
  (t) => [index('edition_pack').on(t.packId), index('edition_prepare').on(t.prepareAt)],
)

/** What of a release is in a download: enough to cut it the same way again. */
export type Cut = { plan: EditionPlan; brushes: string[] }
const StoredCut = v.object({ plan: EditionPlan, brushes: v.array(v.string()) })

/** The download of a release as an edition gives it while the same lessons are open. */
export const editionBuild = pgTable(
  'edition_build',
  {
    id: uuid().primaryKey().defaultRandom(),
    workspaceId: inWorkspace(),
    editionId: uuid()
      .notNull()
      .references(() => edition.id, { onDelete: 'cascade' }),
    releaseId: uuid()
      .notNull()
      .references(() => release.id, { onDelete: 'cascade' }),
    /** Names all that the download follows from. */
    key: text().notNull(),
    cut: parsed((stored): Cut => v.parse(StoredCut, stored)).notNull(),
    state: text({ enum: ['building', 'ready', 'failed'] }).notNull(),
    zipSha: fileSha(),
    zipBytes: bigint({ mode: 'number' }),
    zipFiles: integer(),
    contentsSha: fileSha(),
    createdAt: createdAt(),
  },
  (t) => [uniqueIndex('edition_build_key').on(t.editionId, t.key)],
)
