import { availableParallelism } from 'node:os'
import type { MessagePort } from 'node:worker_threads'
import { Piscina } from 'piscina'
import type { Tasks } from './tasks.ts'

const THREADS_MAX = 8

/** The worker threads that do everything heavy, so that the server goes on answering. */
export type WorkerPool = {
  /** @param transferList Ports in the input. @param signal Ends the thread in the middle when it is aborted. */
  run<Task extends keyof Tasks>(
    task: Task,
    input: Parameters<Tasks[Task]>[0],
    options?: { transferList?: MessagePort[]; signal?: AbortSignal },
  ): ReturnType<Tasks[Task]>
  threads: number
  close(): Promise<void>
}

/** @param filename The built worker file. */
export function createWorkerPool(filename: string): WorkerPool {
  const threads = Math.min(THREADS_MAX, Math.max(1, availableParallelism()))
  const pool = new Piscina({ filename, minThreads: threads, maxThreads: threads, execArgv: process.execArgv })
  return {
    threads,
    run: (task, input, options) => pool.run({ task, input }, options) as ReturnType<Tasks[typeof task]>,
    close: () => pool.destroy(),
  }
}
