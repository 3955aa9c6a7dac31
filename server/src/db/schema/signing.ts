import { sql } from 'drizzle-orm'
import { pgTable, text, uniqueIndex, uuid } from 'drizzle-orm/pg-core'
import { createdAt, inWorkspace, maybeAt } from './columns.ts'

/** Keys that a workspace signs its releases with: the one that is not retired, and earlier ones, which stay valid. */
export const signingKey = pgTable(
  'signing_key',
  {
    id: uuid().primaryKey().defaultRandom(),
    workspaceId: inWorkspace(),
    /** The 32 bytes of the public half, in base64url. */
    publicKey: text().notNull(),
    /** The private half, encrypted by the server's secret. */
    sealed: text().notNull(),
    createdAt: createdAt(),
    retiredAt: maybeAt(),
  },
  // one at a time signs what is new
  (t) => [uniqueIndex('signing_key_one').on(t.workspaceId).where(sql`${t.retiredAt} is null`)],
)
