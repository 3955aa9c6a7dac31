import type { TraceAnswer, TraceAnswers, TraceRequest, TraceWish } from './protocol.ts'

/** The worker that traces; each wish gets its own answer. */
export class TraceBench {
  readonly #worker = new Worker(new URL('./trace-worker.ts', import.meta.url), { type: 'module' })
  readonly #waiting = new Map<number, (answer: TraceAnswer) => void>()
  #asked = 0

  constructor() {
    this.#worker.addEventListener('message', ({ data }: MessageEvent<TraceAnswer>) => {
      this.#waiting.get(data.id)?.(data)
      this.#waiting.delete(data.id)
    })
  }

  ask<Wish extends TraceWish>(wish: Wish): Promise<TraceAnswers[Wish['type']]> {
    const id = ++this.#asked
    return new Promise((done, fail) => {
      this.#waiting.set(id, (answer) =>
        'problem' in answer ? fail(new Error(answer.problem)) : done(answer.value as TraceAnswers[Wish['type']]),
      )
      this.#worker.postMessage({ ...wish, id } satisfies TraceRequest)
    })
  }

  close(): void {
    this.#worker.terminate()
  }
}
