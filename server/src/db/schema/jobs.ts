import { index, integer, jsonb, pgTable, text, uuid } from 'drizzle-orm/pg-core'
import { createdAt, inWorkspace, maybeAt } from './columns.ts'

/** A long task as the page follows it; the queue itself lies beside it in the same database. */
export const job = pgTable(
  'job',
  {
    id: uuid().primaryKey().defaultRandom(),
    workspaceId: inWorkspace(),
    kind: text().notNull(),
    /** What it works on, for example a gather or a release; one job of a kind runs on a subject at a time. */
    subjectId: uuid().notNull(),
    title: text().notNull(),
    payload: jsonb().$type<Record<string, unknown>>().notNull().default({}),
    state: text({ enum: ['queued', 'running', 'done', 'failed', 'stopped'] })
      .notNull()
      .default('queued'),
    done: integer().notNull().default(0),
    total: integer().notNull().default(0),
    error: text(),
    stopAskedAt: maybeAt(),
    /** Refreshed while a server works on it; an old one shows that this server is gone. */
    heartbeatAt: maybeAt(),
    createdAt: createdAt(),
    startedAt: maybeAt(),
    endedAt: maybeAt(),
  },
  (t) => [index('job_open').on(t.workspaceId, t.state), index('job_subject').on(t.subjectId)],
)
