import { setMaxListeners } from 'node:events'
import { availableParallelism } from 'node:os'
import { type Lane, whoAsks } from '../asking.ts'
import { FairQueue } from './fair-queue.ts'
import { Hand } from './hand.ts'
import { givenUp, TASK_LIMITS, type TaskLimit, type Urgency, WALL_FACTOR } from './task-limits.ts'
import type { Tasks } from './tasks.ts'
import { type FromHand, fromWireError } from './wire.ts'

const CORES_MAX = 8
/** Processes that are kept free for what somebody looks at. */
const VIEW_HANDS = 2
/** How far everything else gives way to those, and to the server itself. */
const NICENESS = 10
const WATCH_MS = 100
/** A process that holds more than this once its task is done is ended, and another one takes its place. */
const KEPT_MEMORY_BYTES = 500 * 1024 * 1024
const HEAP_MB = 1536
/** How often what has ended its process is tried in all. */
const TRIES = 2

export type RunOptions = {
  /** Ends it in the middle when it is aborted, beside the signal of whoever asks. */
  signal?: AbortSignal | undefined
  /** Told what share of it is done, from 0 to 1000, by tasks that tell. */
  onShare?: ((share: number) => void) | undefined
  /** How urgent it is, where that differs from what such a task is usually. */
  urgency?: Urgency | undefined
}

/** The processes that do everything heavy, so that the server goes on answering; see `docs/reliability.md`. */
export type WorkerPool = {
  /**
   * Does a task in a process of its own, in the name of whoever asks (`asking.ts`).
   * @throws {TaskGivenUp} If it takes more than its limits let it, or has twice ended its process.
   * @throws The signal's reason, once it is aborted: the task ends at once then, wherever it is.
   */
  run<Task extends keyof Tasks>(
    task: Task,
    input: Parameters<Tasks[Task]>[0],
    options?: RunOptions,
  ): ReturnType<Tasks[Task]>
  /** How many tasks are worth giving out at once. */
  threads: number
  close(): Promise<void>
}

type Work = {
  task: keyof Tasks
  input: unknown
  limit: TaskLimit
  lane: Lane
  urgency: Urgency
  tries: number
  onShare: ((share: number) => void) | undefined
  done: (result: unknown) => void
  fail: (error: unknown) => void
}

/** What a process is doing. */
type Running = { id: number; work: Work; since: number; cpuBefore: number }
type Place = { hand: Hand; running: Running | undefined; isForView: boolean }

class Closed extends Error {
  override readonly name = 'AbortError'
}

class ProcessPool {
  readonly threads: number
  readonly #filename: string
  readonly #limits: typeof TASK_LIMITS
  readonly #niceness: number
  readonly #queues: Record<Urgency, FairQueue<Work>> = {
    view: new FairQueue(),
    asked: new FairQueue(),
    behind: new FairQueue(),
  }
  readonly #places = new Set<Place>()
  #watch: NodeJS.Timeout | undefined
  #lastId = 0
  #isClosed = false

  constructor(filename: string, limits: typeof TASK_LIMITS, niceness: number) {
    this.#niceness = niceness
    this.threads = Math.min(CORES_MAX, Math.max(1, availableParallelism()))
    this.#filename = filename
    this.#limits = limits
  }

  run<Task extends keyof Tasks>(
    task: Task,
    input: Parameters<Tasks[Task]>[0],
    { signal, onShare, urgency }: RunOptions = {},
  ): ReturnType<Tasks[Task]> {
    const who = whoAsks()
    const limit = this.#limits[task]
    const ends = [signal, who.signal].filter((each) => each !== undefined)
    const result = new Promise<unknown>((done, fail) => {
      if (this.#isClosed) return fail(new Closed('The server is stopping.'))
      const aborted = ends.find((end) => end.aborted)
      if (aborted) return fail(aborted.reason)
      const leave = (event: Event) => this.#drop(work, (event.target as AbortSignal).reason)
      const settled =
        <Value>(settle: (value: Value) => void) =>
        (value: Value) => {
          for (const end of ends) end.removeEventListener('abort', leave)
          settle(value)
        }
      const work: Work = {
        task,
        input,
        limit,
        onShare,
        tries: 0,
        lane: { workspaceId: who.workspaceId, personId: who.personId },
        urgency: urgency ?? (who.isBehind ? 'behind' : limit.urgency),
        done: settled(done),
        fail: settled(fail),
      }
      for (const end of ends) {
        setMaxListeners(0, end) // a job has many tasks at once
        end.addEventListener('abort', leave, { once: true })
      }
      this.#queue(work)
    })
    return result as ReturnType<Tasks[Task]>
  }

  #queue(work: Work): void {
    this.#queues[work.urgency].add(work, work.lane)
    this.#next()
  }

  /** Gives out what waits to processes that are free. */
  #next(): void {
    if (this.#isClosed) return
    for (const isForView of [true, false]) {
      while (true) {
        const work = this.#take(isForView)
        if (!work) break
        const place = this.#freePlace(isForView)
        this.#begin(place, work)
      }
    }
  }

  /** What comes next for a process, where there is room for another one. */
  #take(isForView: boolean): Work | undefined {
    const most = isForView ? VIEW_HANDS : this.threads + 1
    const busy = [...this.#places].filter((place) => place.isForView === isForView && place.running)
    if (busy.length >= most) return undefined
    // the last place is not for a workspace that has all the others
    const held = new Map<string, number>()
    for (const { running } of busy) {
      const { workspaceId } = running?.work.lane ?? { workspaceId: '' }
      held.set(workspaceId, (held.get(workspaceId) ?? 0) + 1)
    }
    const may = (workspaceId: string) => (held.get(workspaceId) ?? 0) < most - 1
    if (isForView) return this.#queues.view.take(may)
    return this.#queues.view.take(may) ?? this.#queues.asked.take(may) ?? this.#queues.behind.take(may)
  }

  #freePlace(isForView: boolean): Place {
    for (const place of this.#places) if (place.isForView === isForView && !place.running) return place
    const place: Place = {
      isForView,
      running: undefined,
      hand: new Hand(this.#filename, {
        niceness: isForView ? 0 : this.#niceness,
        heapMb: HEAP_MB,
        onMessage: (message) => this.#hear(place, message),
        onGone: () => this.#lost(place),
      }),
    }
    this.#places.add(place)
    return place
  }

  #begin(place: Place, work: Work): void {
    const id = ++this.#lastId
    work.tries++
    place.running = { id, work, since: Date.now(), cpuBefore: place.hand.measure()?.cpuSeconds ?? 0 }
    place.hand.send({ id, task: work.task, input: work.input })
    this.#watch ??= setInterval(() => this.#look(), WATCH_MS).unref()
  }

  #hear(place: Place, message: FromHand): void {
    const { running } = place
    if (!running || running.id !== message.id) return
    const { work } = running
    if (message.kind === 'share') {
      work.onShare?.(message.share)
      return
    }
    place.running = undefined
    if ((place.hand.measure()?.memoryBytes ?? 0) > KEPT_MEMORY_BYTES) this.#end(place)
    if (message.kind === 'done') work.done(message.result)
    else work.fail(fromWireError(message.error))
    this.#next()
  }

  /** A process has ended by itself. */
  #lost(place: Place): void {
    if (!this.#places.delete(place)) return
    const work = place.running?.work
    place.running = undefined
    if (work && work.tries < TRIES && !this.#isClosed) this.#queue(work)
    else work?.fail(givenUp('crash', work.limit))
    this.#next()
  }

  /** Ends what takes more than it may. */
  #look(): void {
    let isBusy = false
    for (const place of this.#places) {
      const { running } = place
      if (!running) continue
      isBusy = true
      const { work, since, cpuBefore } = running
      const { limit } = work
      const taken = place.hand.measure()
      const seconds = (Date.now() - since) / 1000
      const isLate =
        (taken && taken.cpuSeconds - cpuBefore > limit.cpuSeconds) || seconds > limit.cpuSeconds * WALL_FACTOR
      const isLarge = taken !== undefined && taken.memoryBytes > limit.memoryBytes
      if (!isLate && !isLarge) continue
      this.#end(place)
      work.fail(givenUp(isLarge ? 'memory' : 'time', limit))
    }
    if (!isBusy) {
      clearInterval(this.#watch)
      this.#watch = undefined
    } else this.#next()
  }

  /** Nobody waits for it any more. */
  #drop(work: Work, reason: unknown): void {
    if (!this.#queues[work.urgency].remove(work)) {
      const place = [...this.#places].find(({ running }) => running?.work === work)
      if (place) this.#end(place)
    }
    work.fail(reason)
    this.#next()
  }

  #end(place: Place): void {
    this.#places.delete(place)
    place.running = undefined
    place.hand.end()
  }

  async close(): Promise<void> {
    this.#isClosed = true
    clearInterval(this.#watch)
    const closed = new Closed('The server is stopping.')
    const left = [
      ...Object.values(this.#queues).flatMap((queue) => queue.clear()),
      ...[...this.#places].flatMap(({ running }) => (running ? [running.work] : [])),
    ]
    for (const place of [...this.#places]) this.#end(place)
    for (const work of left) work.fail(closed)
  }
}

/**
 * @param filename The built file that its processes run. @param options.niceness How far what nobody looks at gives way, 0 to 19.
 * @param options.limits For tests: what each task may take.
 */
export function createWorkerPool(
  filename: string,
  { niceness = NICENESS, limits = TASK_LIMITS }: { niceness?: number | undefined; limits?: typeof TASK_LIMITS } = {},
): WorkerPool {
  const pool = new ProcessPool(filename, limits, niceness)
  return {
    threads: pool.threads,
    run: (task, input, options) => pool.run(task, input, options),
    close: () => pool.close(),
  }
}
