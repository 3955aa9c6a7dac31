import { index, pgTable, text, uuid } from 'drizzle-orm/pg-core'
import * as v from 'valibot'
import { createdAt, inWorkspace, maybeAt } from './columns.ts'
import { pack } from './packs.ts'

/** An item of an exchange: where that is, what it calls itself, and what the item is called there. */
export const AtExchange = v.object({ host: v.string(), title: v.string(), item: v.string() })
export type AtExchange = v.InferOutput<typeof AtExchange>

/** An item that is in a ledger; of its brushes those that were wanted, by their ids in the pack, or all. */
export const FromExchange = v.object({ ...AtExchange.entries, only: v.nullable(v.array(v.string())) })
export type FromExchange = v.InferOutput<typeof FromExchange>

/** A release that was published at an exchange. */
export const published = pgTable(
  'published',
  {
    id: uuid().primaryKey().defaultRandom(),
    workspaceId: inWorkspace(),
    packId: uuid()
      .notNull()
      .references(() => pack.id, { onDelete: 'cascade' }),
    version: text().notNull(),
    host: text().notNull(),
    /** What the exchange calls itself, and the item. */
    title: text().notNull(),
    item: text().notNull(),
    publishedAt: createdAt(),
    withdrawnAt: maybeAt(),
  },
  (t) => [index('published_pack').on(t.packId)],
)
