import { integer, pgTable, text, timestamp, uuid } from 'drizzle-orm/pg-core'
import { createdAt, inWorkspace } from './columns.ts'

/** A link by which one phone brings photographs into the ledger for a while. Only hashes of its secrets are kept. */
export const phoneLink = pgTable('phone_link', {
  id: uuid().primaryKey().defaultRandom(),
  workspaceId: inWorkspace(),
  tokenHash: text().notNull().unique(),
  /** The secret of the phone that opened it; no other one gets in after that. */
  holderHash: text(),
  photographs: integer().notNull().default(0),
  endsAt: timestamp({ withTimezone: true }).notNull(),
  createdAt: createdAt(),
})
