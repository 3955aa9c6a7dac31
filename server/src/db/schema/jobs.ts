import { sql } from 'drizzle-orm'
import { index, integer, jsonb, pgTable, text, uniqueIndex, uuid } from 'drizzle-orm/pg-core'
import { createdAt, inWorkspace, maybeAt } from './columns.ts'

/** A long task: it waits here, is taken by a server from here, and the page follows it here. */
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
    /** Counts the servers that took it up: what an earlier one still writes is refused. */
    attempt: integer().notNull().default(0),
    /** How often its server was lost while it ran; what ends its server again and again is given up. */
    lost: integer().notNull().default(0),
    /** The member who asked for it. */
    askedBy: text(),
    endedAt: maybeAt(),
  },
  (t) => [
    index('job_open').on(t.workspaceId, t.state),
    // what waits and runs, across workspaces: a look at it takes no longer however many have ended
    index('job_waiting').on(t.state, t.workspaceId, t.createdAt).where(sql`${t.state} in ('queued', 'running')`),
    index('job_subject').on(t.kind, t.subjectId, t.createdAt),
    // one at a time of a kind for a subject, whoever asks at the same moment
    uniqueIndex('job_one_open').on(t.kind, t.subjectId).where(sql`${t.state} in ('queued', 'running')`),
  ],
)
