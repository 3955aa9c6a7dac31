import PgBoss from 'pg-boss'
import type { Logger } from 'pino'
import type { Db } from '../db/database.ts'
import {
  askJobToStop,
  beatJob,
  claimJob,
  endJob,
  findOpenJob,
  insertJob,
  type Job,
  listQueuedJobs,
  requeueJob,
  requeueSilentJobs,
} from '../db/jobs.ts'
import type { EventBus } from '../events.ts'
import { JOB_KINDS, type JobKind, type JobPayload, parsePayload } from './job-kinds.ts'

const QUEUE = 'satchel'
const AT_ONCE = 2
const POLL_SECONDS = 0.5
const BEAT_MS = 500
const SWEEP_MS = 3_000
const EXPIRE_HOURS = 12

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
export class JobRefused extends Error {}

/**
 * Long tasks. pg-boss hands out the work; a row a job carries what the page shows. A job whose server died falls
 * silent, and the next sweep of any server puts it back in the queue, so every handler must be able to run again.
 */
export class JobQueue {
  readonly #boss: PgBoss
  readonly #db: Db
  readonly #events: EventBus
  readonly #log: Logger
  readonly #handlers: JobHandlers
  readonly #running = new Set<AbortController>()
  #sweeper: NodeJS.Timeout | undefined
  #closing = false

  constructor(url: string, deps: { db: Db; events: EventBus; log: Logger; handlers: JobHandlers }) {
    this.#boss = new PgBoss({ connectionString: url, max: 4 })
    this.#db = deps.db
    this.#events = deps.events
    this.#log = deps.log
    this.#handlers = deps.handlers
    this.#boss.on('error', (error) => this.#log.error({ err: error }, 'queue'))
  }

  async start(): Promise<void> {
    await this.#boss.start()
    await this.#boss.createQueue(QUEUE)
    for (let n = 0; n < AT_ONCE; n++) {
      await this.#boss.work<{ id: string }>(
        QUEUE,
        { batchSize: 1, pollingIntervalSeconds: POLL_SECONDS },
        async ([message]) => {
          if (message) await this.#run(message.data.id)
        },
      )
    }
    for (const waiting of await listQueuedJobs(this.#db)) await this.#send(waiting.id)
    await this.#sweep()
    this.#sweeper = setInterval(
      () => this.#sweep().catch((error: Error) => this.#log.error({ err: error }, 'sweep')),
      SWEEP_MS,
    )
  }

  /** Adds a job, or gives the one of its kind that already waits or runs for the subject. */
  async add<Kind extends JobKind>(values: NewJob<Kind>): Promise<Job> {
    const job = await insertJob(this.#db, values)
    if (!job) {
      const open = await findOpenJob(this.#db, values.workspaceId, values.kind, values.subjectId)
      // it ended between the two questions: then there is room for a new one
      return open ?? this.add(values)
    }
    await this.#send(job.id)
    await this.#tell(job)
    return job
  }

  async stop(workspaceId: string, id: string): Promise<Job | undefined> {
    const job = await askJobToStop(this.#db, workspaceId, id)
    if (job) await this.#tell(job)
    return job
  }

  async resume(workspaceId: string, id: string): Promise<Job | undefined> {
    const job = await requeueJob(this.#db, workspaceId, id)
    if (!job) return undefined
    await this.#send(job.id)
    await this.#tell(job)
    return job
  }

  async #run(id: string): Promise<void> {
    const job = this.#closing ? undefined : await claimJob(this.#db, id)
    if (!job) return
    if (!isKnown(job)) throw new Error(`no handler for jobs of kind ${job.kind}`)
    const handler = this.#handlers[job.kind] as JobHandler<JobKind>
    const abort = new AbortController()
    this.#running.add(abort)
    const state = { done: job.done, total: job.total, told: '' }
    const beat = async () => {
      if (await beatJob(this.#db, job, { done: state.done, total: state.total })) abort.abort(new JobStopped())
      const now = `${state.done}/${state.total}`
      if (now !== state.told) await this.#tell(job)
      state.told = now
    }
    const timer = setInterval(
      () => beat().catch((error: Error) => this.#log.error({ err: error, job: id }, 'heartbeat')),
      BEAT_MS,
    )
    try {
      await this.#tell(job)
      await handler.run({
        job,
        payload: parsePayload(job.kind, job.payload),
        signal: abort.signal,
        progress: (done, total) => {
          state.done = done
          state.total = total
        },
      })
      clearInterval(timer)
      await beat()
      await endJob(this.#db, job, { state: 'done' })
      const { workspaceId, kind, subjectId, title } = job
      const payload = parsePayload(kind, job.payload)
      if (await handler.more?.(job)) await this.add({ workspaceId, kind, subjectId, title, payload })
    } catch (error) {
      clearInterval(timer)
      // A server that closes leaves the job running and silent: another one takes it up.
      if (this.#closing) return
      if (abort.signal.aborted || error instanceof JobStopped) await endJob(this.#db, job, { state: 'stopped' })
      else {
        this.#log.error({ err: error, job: id, kind: job.kind }, 'job failed')
        await endJob(this.#db, job, {
          state: 'failed',
          error:
            error instanceof JobRefused
              ? error.message
              : 'It failed in the middle; nothing was half written. Resume it to try again.',
        })
      }
    } finally {
      clearInterval(timer)
      this.#running.delete(abort)
      await this.#tell(job)
    }
  }

  async #sweep(): Promise<void> {
    for (const job of await requeueSilentJobs(this.#db)) {
      this.#log.warn({ job: job.id, kind: job.kind }, 'taking up a job whose server is gone')
      await this.#send(job.id)
    }
  }

  async #send(id: string): Promise<void> {
    await this.#boss.send(QUEUE, { id }, { retryLimit: 0, expireInHours: EXPIRE_HOURS })
  }

  async #tell(job: Job): Promise<void> {
    if (!this.#closing) await this.#events.publish({ workspaceId: job.workspaceId, topic: 'job', id: job.id })
  }

  /** Stops taking work and lets go of what runs. */
  async close(): Promise<void> {
    this.#closing = true
    clearInterval(this.#sweeper)
    for (const abort of this.#running) abort.abort(new JobStopped())
    await this.#boss.stop({ graceful: true, wait: true, timeout: 5_000 })
  }
}

const isKnown = (job: Job): job is Job & { kind: JobKind } => job.kind in JOB_KINDS
