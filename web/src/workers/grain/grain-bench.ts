import type { GrainAnswer, GrainTile, GrainWish } from './protocol.ts'

/** The worker that draws and mends tiles; each wish gets its own answer. */
export class GrainBench {
  readonly #worker = new Worker(new URL('./grain-worker.ts', import.meta.url), { type: 'module' })
  readonly #waiting = new Map<number, { done: (tile: GrainTile) => void; fail: (error: Error) => void }>()
  #asked = 0

  constructor() {
    this.#worker.addEventListener('message', ({ data }: MessageEvent<GrainAnswer>) => {
      const waiting = this.#waiting.get(data.id)
      this.#waiting.delete(data.id)
      if (data.type === 'tile') waiting?.done(data.tile)
      else waiting?.fail(new Error(data.message))
    })
  }

  make(wish: GrainWish): Promise<GrainTile> {
    return new Promise((done, fail) => {
      const id = ++this.#asked
      this.#waiting.set(id, { done, fail })
      this.#worker.postMessage({ ...wish, id })
    })
  }

  close(): void {
    this.#worker.terminate()
  }
}
