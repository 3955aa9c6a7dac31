import { and, desc, eq, inArray, lt, sql } from 'drizzle-orm'
import type { Db } from './database.ts'
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

/** Starts a queued job. @returns The job, to exactly one caller. The queue is the server's own and spans workspaces. */
export async function claimJob(db: Db, id: string): Promise<Job | undefined> {
  const [row] = await db
    .update(job)
    .set({
      state: 'running',
      heartbeatAt: new Date(),
      startedAt: new Date(),
      error: null,
      attempt: sql`${job.attempt} + 1`,
    })
    .where(and(eq(job.id, id), eq(job.state, 'queued')))
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
    .set({ heartbeatAt: new Date(), ...progress })
    .where(isMine(workspaceId, id, attempt))
    .returning({ stopAskedAt: job.stopAskedAt })
  return !row || row.stopAskedAt !== null
}

export async function endJob(
  db: Db,
  { workspaceId, id, attempt }: Job,
  end: { state: 'done' | 'failed' | 'stopped'; error?: string },
): Promise<void> {
  await db
    .update(job)
    .set({ ...end, endedAt: new Date() })
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
    .set({ state: 'queued', stopAskedAt: null, error: null, endedAt: null })
    .where(and(eq(job.workspaceId, workspaceId), eq(job.id, id), inArray(job.state, ['stopped', 'failed'])))
    .returning()
  return row
}

/** Jobs whose server died go back to the queue; across workspaces, since the queue is the servers' own. */
export async function requeueSilentJobs(db: Db): Promise<Job[]> {
  return db
    .update(job)
    .set({ state: 'queued', heartbeatAt: null })
    .where(and(eq(job.state, 'running'), lt(job.heartbeatAt, new Date(Date.now() - SILENT_MS))))
    .returning()
}

/** All waiting jobs, across workspaces. */
export async function listQueuedJobs(db: Db): Promise<Job[]> {
  return db.select().from(job).where(eq(job.state, 'queued'))
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
