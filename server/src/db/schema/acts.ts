import { CoverPlan } from '@satchel/core/cover/cover'
import { EditionPlan } from '@satchel/core/editions/plan'
import { index, pgTable, text, uuid } from 'drizzle-orm/pg-core'
import * as v from 'valibot'
import { createdAt, inWorkspace, maybeAt, parsed } from './columns.ts'

const Uuid = v.pipe(v.string(), v.uuid())

/** Where brushes stand, a kind each; see `db/brush-places.ts`. */
export const PLACE_KINDS = ['set', 'pocket', 'pack', 'source', 'followed', 'install'] as const
export type PlaceKind = (typeof PLACE_KINDS)[number]

/** A place that was changed, with what else its row held. */
const StoredMove = v.object({
  id: v.string(),
  list: Uuid,
  slot: v.string(),
  brush: Uuid,
  to: v.nullable(Uuid),
  row: v.record(v.string(), v.nullable(v.union([v.string(), v.number()]))),
})
export type StoredMove = v.InferOutput<typeof StoredMove>

/** A cover's plan with the brush that stands for the pack, and an edition's plan, before and after. */
const Cover = v.object({ coverBrushId: v.nullable(Uuid), cover: v.nullable(CoverPlan) })
const StoredDone = v.object({
  binned: v.array(Uuid),
  moves: v.array(v.object({ kind: v.picklist(PLACE_KINDS), moves: v.array(StoredMove) })),
  covers: v.array(v.object({ id: Uuid, before: Cover, after: Cover })),
  editions: v.array(v.object({ id: Uuid, before: EditionPlan, after: EditionPlan })),
  versions: v.array(v.object({ id: Uuid, from: v.number(), to: v.number() })),
  kept: v.array(v.object({ brushId: Uuid, root: v.string() })),
  apart: v.array(v.object({ mark: v.string(), original: v.string() })),
})
/** All that an act has changed, so that it can be taken back. */
export type ActDone = v.InferOutput<typeof StoredDone>

/** What was done to many brushes of a library in one step, as long as it can be taken back. */
export const libraryAct = pgTable(
  'library_act',
  {
    id: uuid().primaryKey().defaultRandom(),
    workspaceId: inWorkspace(),
    /** What was done, in words. */
    said: text().notNull(),
    done: parsed((stored): ActDone => v.parse(StoredDone, stored)).notNull(),
    createdAt: createdAt(),
    undoneAt: maybeAt(),
  },
  (t) => [index('library_act_newest').on(t.workspaceId, t.createdAt)],
)
