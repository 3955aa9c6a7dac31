import { Port } from '../port.ts'
import type { GrainQuestions } from './protocol.ts'

/** The worker that draws and mends tiles. */
export const openGrainBench = () =>
  new Port<GrainQuestions>(new Worker(new URL('./grain-worker.ts', import.meta.url), { type: 'module' }))
