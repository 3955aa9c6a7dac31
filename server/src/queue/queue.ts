import { setTimeout as sleep } from 'node:timers/promises'
import { askAs, whoAsks } from '../asking.ts'
import type { Db } from '../db/database.ts'
import {
  askJobToStop,
  beatJob,
  claimNextJob,
  countQueuedJobs,
  endJob,
  findOpenJob,
  insertJob,
  type Job,
  type JobEnd,
  listOpenJobsOf,
  requeueJob,
  requeueSilentJobs,
} from '../db/jobs.ts'
import { isAway, isDiskFull, Refusal, TaskGivenUp } from '../errors.ts'
import type { EventBus, SatchelEvent } from '../events.ts'
import type { Log } from '../log.ts'
import { JOB_KINDS, JOB_TOPICS, type JobKind, type JobPayload, parsePayload } from './job-kinds.ts'

/** Jobs that one server works on at once; what is heavy in them shares the processes of the pool. */
const AT_ONCE = 4
/** How many of them may be one workspace's: a place stays for the others. */
const OF_ONE_WORKSPACE = 3
const POLL_MS = 500
const BEAT_MS = 500
const SWEEP_MS = 3_000
/** How long a server that closes waits for what runs to let go. */
const CLOSE_MS = 5_000
/** Jobs of a workspace that may wait at once. */
export const JOBS_WAITING_MAX = 50

/** What a running job is given: who it is, what it is told, how to say how far it got, and the sign to stop. */
export type JobContext<Kind extends JobKind = JobKind> = {
  job: Job
  payload: JobPayload<Kind>
  signal: AbortSignal
  progress(done: number, total: number): void
}

/**
 * What does a kind of job. `more` tells, once a job has ended, whether work came in that it no longer saw; then
 * another one follows.
 */
export type JobHandler<Kind extends JobKind> = {
  run(context: JobContext<Kind>): Promise<void>
  more?(job: Job): Promise<boolean>
}
/** A handler for each kind; the compiler holds it complete. */
export type JobHandlers = { [Kind in JobKind]: JobHandler<Kind> }

/** A job to be done. */
export type NewJob<Kind extends JobKind> = {
  workspaceId: string
  kind: Kind
  subjectId: string
  title: string
  payload: JobPayload<Kind>
}

/** The person asked to stop, or the server is shutting down. */
export class JobStopped extends Error {}

/** Ends a job that cannot be done as it was asked for; its sentence says why, and the next step. */
export class JobRefused extends Refusal {
  constructor(sentence: string) {
    super('clash', sentence)
  }
}

/**
 * Long tasks. A row a job is all there is of it: it waits, is taken by one server, and says how far it is. One whose server
 * died falls silent, and the next sweep of any server puts it back, so every handler must be able to run again. Nothing of
 * it rejects unheard: what cannot be said while the database is away is said when it is back.
 */
export class JobQueue {
  readonly #db: Db
  readonly #events: EventBus
  readonly #log: Log
  readonly #handlers: JobHandlers
  readonly #running = new Map<AbortController, Promise<void>>()
  /** How jobs ended that could not be written down yet. */
  readonly #unsaid = new Map<Job, JobEnd>()
  #timers: NodeJS.Timeout[] = []
  #isTaking = false
  #closing = false

  constructor(deps: { db: Db; events: EventBus; log: Log; handlers: JobHandlers }) {
    this.#db = deps.db
    this.#events = deps.events
    this.#log = deps.log
    this.#handlers = deps.handlers
  }

  async start(): Promise<void> {
    await this.#sweep()
    this.#timers = [setInterval(() => void this.#take(), POLL_MS), setInterval(() => void this.#sweep(), SWEEP_MS)]
    void this.#take()
  }

  /**
   * Adds a job, or gives the one of its kind that already waits or runs for the subject.
   * @throws {Refusal} Where too many of the workspace wait already.
   */
  async add<Kind extends JobKind>(values: NewJob<Kind>): Promise<Job> {
    if ((await countQueuedJobs(this.#db, values.workspaceId)) >= JOBS_WAITING_MAX)
      throw new Refusal(
        'tooMuch',
        `${JOBS_WAITING_MAX} tasks of this workspace wait already; wait until some have ended, or stop some.`,
      )
    const job = await insertJob(this.#db, { ...values, askedBy: whoAsks().personId ?? null })
    if (!job) {
      const open = await findOpenJob(this.#db, values.workspaceId, values.kind, values.subjectId)
      // it ended between the two questions: then there is room for a new one
      return open ?? this.add(values)
    }
    await this.#tell(job)
    void this.#take()
    return job
  }

  async stop(workspaceId: string, id: string): Promise<Job | undefined> {
    const job = await askJobToStop(this.#db, workspaceId, id)
    if (job) await this.#tell(job)
    return job
  }

  /** Stops all that works on something that is no more. */
  async stopAllOf(workspaceId: string, subjectId: string): Promise<void> {
    for (const { id } of await listOpenJobsOf(this.#db, workspaceId, subjectId)) await this.stop(workspaceId, id)
  }

  async resume(workspaceId: string, id: string): Promise<Job | undefined> {
    const job = await requeueJob(this.#db, workspaceId, id)
    if (!job) return undefined
    await this.#tell(job)
    void this.#take()
    return job
  }

  /** Takes what waits, as far as there is room. */
  async #take(): Promise<void> {
    if (this.#isTaking) return
    this.#isTaking = true
    try {
      while (!this.#closing && this.#running.size < AT_ONCE) {
        const job = await claimNextJob(this.#db, OF_ONE_WORKSPACE)
        if (!job) break
        const abort = new AbortController()
        const running = this.#run(job, abort)
          .catch((error: unknown) => this.#log.error({ err: error, job: job.id }, 'a job was not ended'))
          .finally(() => {
            this.#running.delete(abort)
            void this.#take()
          })
        this.#running.set(abort, running)
      }
    } catch (error) {
      this.#log.warn({ err: error }, 'no job can be taken just now')
    } finally {
      this.#isTaking = false
    }
  }

  async #run(job: Job, abort: AbortController): Promise<void> {
    const { signal } = abort
    const state = { done: job.done, total: job.total, told: '' }
    const beat = async () => {
      if (await beatJob(this.#db, job, { done: state.done, total: state.total })) abort.abort(new JobStopped())
      const now = `${state.done}/${state.total}`
      if (now !== state.told) await this.#tell(job)
      state.told = now
    }
    const timer = setInterval(
      () => void beat().catch((error: Error) => this.#log.warn({ err: error, job: job.id }, 'heartbeat')),
      BEAT_MS,
    )
    const progress = (done: number, total: number) => Object.assign(state, { done, total })
    const who = { workspaceId: job.workspaceId, personId: job.askedBy ?? undefined, signal }
    try {
      if (!isKnown(job)) throw new Error(`no handler for jobs of kind ${job.kind}`)
      const handler = this.#handlers[job.kind] as JobHandler<JobKind>
      const payload = parsePayload(job.kind, job.payload)
      await this.#tell(job)
      await askAs(who, () => handler.run({ job, payload, signal, progress }))
      clearInterval(timer)
      await beat()
      await this.#end(job, { state: 'done' })
      const { workspaceId, kind, subjectId, title } = job
      if (await handler.more?.(job)) await askAs(who, () => this.add({ workspaceId, kind, subjectId, title, payload }))
    } catch (error) {
      clearInterval(timer)
      await this.#end(job, this.#endOf(job, error, signal))
    } finally {
      clearInterval(timer)
      await this.#tell(job, isKnown(job) ? JOB_TOPICS[job.kind] : undefined)
    }
  }

  /** How a job ends that threw. */
  #endOf(job: Job, error: unknown, signal: AbortSignal): JobEnd {
    // another server takes it up, or this one once the database is back
    if (this.#closing || isAway(error)) return { state: 'queued' }
    if (signal.aborted || error instanceof JobStopped) return { state: 'stopped' }
    if (error instanceof Refusal || error instanceof TaskGivenUp) return { state: 'failed', error: error.message }
    this.#log.error({ err: error, job: job.id, kind: job.kind }, 'job failed')
    return { state: 'failed', error: isDiskFull(error) ? DISK_FULL : FAILED }
  }

  /** Writes down how a job ended; where the database is away, the next sweep does. */
  async #end(job: Job, end: JobEnd): Promise<void> {
    try {
      await endJob(this.#db, job, end)
      this.#unsaid.delete(job)
    } catch (error) {
      this.#unsaid.set(job, end)
      this.#log.warn({ err: error, job: job.id }, 'how a job ended cannot be written down yet')
    }
  }

  async #sweep(): Promise<void> {
    try {
      for (const [job, end] of [...this.#unsaid]) {
        await endJob(this.#db, job, end)
        this.#unsaid.delete(job)
        await this.#tell(job, isKnown(job) ? JOB_TOPICS[job.kind] : undefined)
      }
      for (const job of await requeueSilentJobs(this.#db)) {
        this.#log.warn({ job: job.id, kind: job.kind, state: job.state }, 'the server of a job is gone')
        await this.#tell(job, isKnown(job) ? JOB_TOPICS[job.kind] : undefined)
      }
      void this.#take()
    } catch (error) {
      this.#log.warn({ err: error }, 'sweep')
    }
  }

  /** Tells the pages, also of what it was about once it has ended. They ask anew when the database is back: that it cannot be told fails nothing. */
  async #tell({ workspaceId, id, subjectId }: Job, about?: SatchelEvent['topic']): Promise<void> {
    if (this.#closing) return
    try {
      await this.#events.publish({ workspaceId, topic: 'job', id })
      if (about) await this.#events.publish({ workspaceId, topic: about, id: subjectId })
    } catch (error) {
      this.#log.warn({ err: error }, 'a job is not told of')
    }
  }

  /** Stops taking work and lets go of what runs: it goes back to the queue, for the next server. */
  async close(): Promise<void> {
    this.#closing = true
    for (const timer of this.#timers) clearInterval(timer)
    for (const abort of this.#running.keys()) abort.abort(new JobStopped())
    const bound = new AbortController()
    await Promise.race([
      Promise.all(this.#running.values()),
      sleep(CLOSE_MS, undefined, { signal: bound.signal }).catch(() => undefined),
    ])
    bound.abort()
  }
}

const FAILED = 'It failed in the middle; nothing was half written. Resume it to try again.'
const DISK_FULL =
  'There is no room left on the disk; nothing was half written. Ask whoever runs the server to make room, then resume it.'

const isKnown = (job: Job): job is Job & { kind: JobKind } => job.kind in JOB_KINDS
