import { pgTable, primaryKey, text, timestamp, uuid } from 'drizzle-orm/pg-core'
import { user } from './accounts.ts'
import { inWorkspace } from './columns.ts'

/** What members meet at, a kind each. */
export const MEETING_KINDS = ['brush', 'set', 'pack'] as const
export type MeetingKind = (typeof MEETING_KINDS)[number]

const at = () => timestamp({ withTimezone: true }).notNull().defaultNow()

/** Who has what open just now: a row is as old as its page last said so. */
export const presence = pgTable(
  'presence',
  {
    workspaceId: inWorkspace(),
    kind: text({ enum: MEETING_KINDS }).notNull(),
    subjectId: uuid().notNull(),
    userId: text()
      .notNull()
      .references(() => user.id, { onDelete: 'cascade' }),
    seenAt: at(),
  },
  (t) => [primaryKey({ columns: [t.workspaceId, t.kind, t.subjectId, t.userId] })],
)

/** Who changed a thing last, and when. */
export const lastSave = pgTable(
  'last_save',
  {
    workspaceId: inWorkspace(),
    kind: text({ enum: MEETING_KINDS }).notNull(),
    subjectId: uuid().notNull(),
    /** The name as it was then. */
    person: text().notNull(),
    at: at(),
  },
  (t) => [primaryKey({ columns: [t.workspaceId, t.kind, t.subjectId] })],
)
