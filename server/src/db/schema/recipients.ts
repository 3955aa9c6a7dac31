import { pgTable, text, uniqueIndex, uuid } from 'drizzle-orm/pg-core'
import { createdAt, inWorkspace, maybeAt, named } from './columns.ts'

/** A person or a group that is handed something: the address book of a workspace. */
export const recipient = pgTable(
  'recipient',
  {
    id: uuid().primaryKey().defaultRandom(),
    workspaceId: inWorkspace(),
    /** Two with the same key are one: the same address, or the same name where there is none. */
    key: text().notNull(),
    name: named().notNull(),
    /** Empty where there is none. */
    email: text().notNull().default(''),
    note: text().notNull().default(''),
    /** When they said that no more mails shall come. */
    noMailAt: maybeAt(),
    createdAt: createdAt(),
  },
  (t) => [uniqueIndex('recipient_key').on(t.workspaceId, t.key)],
)
