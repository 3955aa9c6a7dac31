import { Port } from '../port.ts'
import type { CopyQuestions } from './protocol.ts'

/** The worker that looks into files for whom they were issued to. */
export const openCopiesBench = () =>
  new Port<CopyQuestions>(new Worker(new URL('./copies-worker.ts', import.meta.url), { type: 'module' }))
