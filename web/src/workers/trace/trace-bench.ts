import { Port } from '../port.ts'
import type { TraceQuestions } from './protocol.ts'

/** The worker that traces. */
export const openTraceBench = () =>
  new Port<TraceQuestions>(new Worker(new URL('./trace-worker.ts', import.meta.url), { type: 'module' }))
