import { Port } from '../port.ts'
import type { MakeQuestions } from './protocol.ts'

/** The worker that runs a source's steps. */
export const openMakeBench = () =>
  new Port<MakeQuestions>(new Worker(new URL('./make-worker.ts', import.meta.url), { type: 'module' }))
