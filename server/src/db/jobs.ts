import { and, desc, eq, inArray, sql } from 'drizzle-orm'
import type { Db } from './database.ts'
import { isAnyOf } from './many.ts'
import { job } from './schema/all.ts'

export type Job = typeof job.$inferSelect

/** How long a running job may be silent before its server counts as gone. */
const SILENT_MS = 10_000
const SHOWN_ENDED = 20

/** Adds a job, unless one of its kind already waits or runs for the subject. */
export async function insertJob(db: Db, values: typeof job.$inferInsert): Promise<Job | undefined> {
  const [row] = await db.insert(job).values(values).onConflictDoNothing().returning()
  return row
}

/** The job of a kind that waits or runs for a subject. */
export async function findOpenJob(
  db: Db,
  workspaceId: string,
  kind: string,
  subjectId: string,
): Promise<Job | undefined> {
  const [row] = await db
    .select()
    .from(job)
    .where(
      and(
        eq(job.workspaceId, workspaceId),
        eq(job.kind, kind),
        eq(job.subjectId, subjectId),
        inArray(job.state, ['queued', 'running']),
      ),
    )
  return row
}

/** The jobs of a kind that wait or run, whatever their subjects. */
export async function listOpenJobs(db: Db, workspaceId: string, kind: string): Promise<Job[]> {
  return db
    .select()
    .from(job)
    .where(and(eq(job.workspaceId, workspaceId), eq(job.kind, kind), inArray(job.state, ['queued', 'running'])))
}

/** How many jobs of a workspace wait. */
export async function countQueuedJobs(db: Db, workspaceId: string): Promise<number> {
  const [row] = await db
    .select({ count: sql<number>`count(*)`.mapWith(Number) })
    .from(job)
    .where(and(eq(job.workspaceId, workspaceId), eq(job.state, 'queued')))
  return row?.count ?? 0
}

/**
 * Starts the job whose turn it is: of the workspace that has the fewest running, and in it of the member who has, the oldest.
 * The queue is the servers' own and spans workspaces.
 * @param mostOfOne How many of a workspace may run at once.
 * @returns The job, to exactly one caller; undefined where none may begin.
 */
export async function claimNextJob(db: Db, mostOfOne: number): Promise<Job | undefined> {
  const next = sql`(
    select waiting.id from ${job} waiting
    cross join lateral (
      select count(*) as ours, count(*) filter (where busy.asked_by is not distinct from waiting.asked_by) as theirs
      from ${job} busy where busy.state = 'running' and busy.workspace_id = waiting.workspace_id
    ) running
    where waiting.state = 'queued' and running.ours < ${mostOfOne}
    order by running.ours, running.theirs, waiting.created_at
    limit 1 for update of waiting skip locked
  )`
  const [row] = await db
    .update(job)
    .set({
      state: 'running',
      heartbeatAt: sql`now()`,
      startedAt: new Date(),
      error: null,
      attempt: sql`${job.attempt} + 1`,
    })
    .where(and(eq(job.id, next), eq(job.state, 'queued')))
    .returning()
  return row
}

/** A job that still runs, and was not taken up by another server meanwhile. */
const isMine = (workspaceId: string, id: string, attempt: number) =>
  and(eq(job.workspaceId, workspaceId), eq(job.id, id), eq(job.state, 'running'), eq(job.attempt, attempt))

/** Shows that a job's server lives, and how far it is. @returns Whether it is to stop: asked to, or another's by now. */
export async function beatJob(
  db: Db,
  { workspaceId, id, attempt }: Job,
  progress: { done: number; total: number },
): Promise<boolean> {
  const [row] = await db
    .update(job)
    .set({ heartbeatAt: sql`now()`, ...progress })
    .where(isMine(workspaceId, id, attempt))
    .returning({ stopAskedAt: job.stopAskedAt })
  return !row || row.stopAskedAt !== null
}

/** How a job ended; one that goes back to the queue has not. */
export type JobEnd = { state: 'done' | 'failed' | 'stopped' | 'queued'; error?: string }

export async function endJob(db: Db, { workspaceId, id, attempt }: Job, end: JobEnd): Promise<void> {
  const isOver = end.state !== 'queued'
  await db
    .update(job)
    .set({ ...end, lost: 0, heartbeatAt: null, endedAt: isOver ? new Date() : null })
    .where(isMine(workspaceId, id, attempt))
}

/** Asks a running job to stop; one that still waits ends at once. */
export async function askJobToStop(db: Db, workspaceId: string, id: string): Promise<Job | undefined> {
  const [row] = await db
    .update(job)
    .set({
      stopAskedAt: new Date(),
      state: sql`case when ${job.state} = 'queued' then 'stopped' else ${job.state} end`,
    })
    .where(and(eq(job.workspaceId, workspaceId), eq(job.id, id), inArray(job.state, ['queued', 'running'])))
    .returning()
  return row
}

/** Puts a stopped or failed job back in the queue. */
export async function requeueJob(db: Db, workspaceId: string, id: string): Promise<Job | undefined> {
  const [row] = await db
    .update(job)
    .set({ state: 'queued', stopAskedAt: null, error: null, endedAt: null, lost: 0 })
    .where(and(eq(job.workspaceId, workspaceId), eq(job.id, id), inArray(job.state, ['stopped', 'failed'])))
    .returning()
  return row
}

/** How often a job may end its server before it is given up. */
const LOST_MAX = 2
const GIVEN_UP =
  'It was given up: it has twice ended the server that worked on it. Leave out what was added last, or resume it to try once more.'

/**
 * Jobs whose server died go back to the queue, or are given up where that happened before; one that was to stop has stopped.
 * Across workspaces, since the queue is the servers' own.
 */
export async function requeueSilentJobs(db: Db): Promise<Job[]> {
  const isGivenUp = sql`${job.lost} + 1 >= ${LOST_MAX}`
  const isEnded = sql`${job.stopAskedAt} is not null or ${isGivenUp}`
  return db
    .update(job)
    .set({
      state: sql`case when ${job.stopAskedAt} is not null then 'stopped' when ${isGivenUp} then 'failed' else 'queued' end`,
      error: sql`case when ${job.stopAskedAt} is null and ${isGivenUp} then ${GIVEN_UP} end`,
      endedAt: sql`case when ${isEnded} then now() end`,
      heartbeatAt: null,
      lost: sql`${job.lost} + 1`,
    })
    .where(and(eq(job.state, 'running'), isSilent))
    .returning()
}

/** By the database's clock, which all servers share; their own may be wrong. */
const isSilent = sql`${job.heartbeatAt} < now() - ${`${SILENT_MS} milliseconds`}::interval`

/** The latest job of a kind for each of some subjects. */
export async function listLatestJobs(
  db: Db,
  workspaceId: string,
  kind: string,
  subjectIds: readonly string[],
): Promise<Map<string, Job>> {
  const rows = await db
    .selectDistinctOn([job.subjectId])
    .from(job)
    .where(and(eq(job.workspaceId, workspaceId), eq(job.kind, kind), isAnyOf(job.subjectId, subjectIds)))
    .orderBy(job.subjectId, desc(job.createdAt))
  return new Map(rows.map((row) => [row.subjectId, row]))
}

/** The open jobs that work on a subject, of whatever kind. */
export async function listOpenJobsOf(db: Db, workspaceId: string, subjectId: string): Promise<Job[]> {
  return db
    .select()
    .from(job)
    .where(
      and(eq(job.workspaceId, workspaceId), eq(job.subjectId, subjectId), inArray(job.state, ['queued', 'running'])),
    )
}

/** What the page shows: all open jobs and the latest ended ones, newest first. */
export async function listJobs(db: Db, workspaceId: string): Promise<Job[]> {
  return db
    .select()
    .from(job)
    .where(eq(job.workspaceId, workspaceId))
    .orderBy(sql`${job.state} in ('queued', 'running') desc`, desc(job.createdAt))
    .limit(SHOWN_ENDED)
}
