import type { GrainAnswer, GrainRequest, GrainTile, GrainWish, Shown, StrokeWish } from './protocol.ts'

/** The worker that draws and mends tiles; each wish gets its own answer. */
export class GrainBench {
  readonly #worker = new Worker(new URL('./grain-worker.ts', import.meta.url), { type: 'module' })
  readonly #waiting = new Map<number, (answer: GrainAnswer) => void>()
  #asked = 0

  constructor() {
    this.#worker.addEventListener('message', ({ data }: MessageEvent<GrainAnswer>) => {
      this.#waiting.get(data.id)?.(data)
      this.#waiting.delete(data.id)
    })
  }

  async make(wish: GrainWish): Promise<GrainTile> {
    const answer = await this.#ask(wish)
    if (answer.type !== 'tile') throw new Error('a tile was asked for')
    return answer.tile
  }

  async stroke(wish: StrokeWish): Promise<Shown> {
    const answer = await this.#ask(wish)
    if (answer.type !== 'stroke') throw new Error('a stroke was asked for')
    return answer.stroke
  }

  #ask(wish: GrainWish | StrokeWish): Promise<GrainAnswer> {
    const id = ++this.#asked
    const request: GrainRequest = { ...wish, id }
    return new Promise((done, fail) => {
      this.#waiting.set(id, (answer) => (answer.type === 'problem' ? fail(new Error(answer.message)) : done(answer)))
      this.#worker.postMessage(request)
    })
  }

  close(): void {
    this.#worker.terminate()
  }
}
