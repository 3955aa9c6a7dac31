import { availableParallelism } from 'node:os'
import { Piscina } from 'piscina'
import type { Tasks } from './tasks.ts'

const THREADS_MAX = 8

/** The worker threads that do everything heavy, so that the server goes on answering. */
export type WorkerPool = {
  run<Task extends keyof Tasks>(task: Task, input: Parameters<Tasks[Task]>[0]): ReturnType<Tasks[Task]>
  threads: number
  close(): Promise<void>
}

/** @param filename The built worker file. */
export function createWorkerPool(filename: string): WorkerPool {
  const threads = Math.min(THREADS_MAX, Math.max(1, availableParallelism()))
  const pool = new Piscina({ filename, minThreads: threads, maxThreads: threads, execArgv: process.execArgv })
  return {
    threads,
    run: (task, input) => pool.run({ task, input }) as ReturnType<Tasks[typeof task]>,
    close: () => pool.destroy(),
  }
}
