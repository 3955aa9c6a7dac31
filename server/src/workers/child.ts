// What a process of the pool runs: one task after another, as the server says; see `pool.ts`.
import { Worker } from 'node:worker_threads'
import { type FromHand, type ToHand, toWireError } from './wire.ts'
import run from './worker.ts'

const say = (message: FromHand) => process.send?.(message)
// its server is gone: nobody hears what it has to say
process.on('error', () => process.exit())

process.on('message', async ({ id, task, input }: ToHand) => {
  try {
    const result = await run({ task, input: input as never, tell: (share) => say({ id, kind: 'share', share }) })
    say({ id, kind: 'done', result })
  } catch (error) {
    say({ id, kind: 'failed', error: toWireError(error) })
  }
})

// Without its server it has nothing to do. One that is in the middle of something does not hear that its server is gone;
// then a thread of its own, which nothing holds up, ends it.
process.on('disconnect', () => process.exit())
const WATCH_MS = 1000
new Worker(
  `const parent = process.ppid
   setInterval(() => { if (process.ppid !== parent) process.kill(process.pid, 'SIGKILL') }, ${WATCH_MS})`,
  { eval: true, resourceLimits: { maxOldGenerationSizeMb: 8, maxYoungGenerationSizeMb: 2 } },
).unref()
