import type { Mix, Touch } from '@satchel/core/make/steps/grey'
import type { Tones } from '@satchel/core/make/steps/tones'
import type { Plan } from '@satchel/core/make/ways'
import type { MakeAnswer, MakeRequest, MakeShown, MakeWish } from './protocol.ts'

/** What follows from touching colours. */
export type Found = { mix: Mix; tones: Tones }
export type MakeBenchEvents = { onShown(shown: MakeShown): void; onProblem(message: string): void }

/** The worker that runs a source's steps, as the page sees it: it says what it wants shown, and gets the latest. */
/** Whoever waits for an answer to one question. */
type Waiting = { done(answer: MakeAnswer): void; fail(error: Error): void }

export class MakeBench {
  readonly #worker = new Worker(new URL('./make-worker.ts', import.meta.url), { type: 'module' })
  readonly #waiting = new Map<number, Waiting>()
  #shown = 0
  #asked = 0

  constructor({ onShown, onProblem }: MakeBenchEvents) {
    this.#worker.addEventListener('message', ({ data }: MessageEvent<MakeAnswer>) => {
      switch (data.type) {
        case 'shown':
          // an answer to what is asked no longer would only flicker
          if (data.id === this.#shown) onShown(data)
          break
        case 'mix':
        case 'outline':
          this.#waiting.get(data.id)?.done(data)
          this.#waiting.delete(data.id)
          break
        case 'problem':
          // whoever waits says it; a picture that cannot be shown is told here
          if (this.#waiting.size === 0) onProblem(data.message)
          for (const { fail } of this.#waiting.values()) fail(new Error(data.message))
          this.#waiting.clear()
          break
        case 'opened':
      }
    })
  }

  open(bytes: ArrayBuffer, sourceWidth: number): void {
    this.#post({ type: 'open', bytes, sourceWidth }, [bytes])
  }

  setGrain(png: ArrayBuffer | undefined): void {
    this.#post({ type: 'grain', png }, png ? [png] : [])
  }

  show(wish: MakeWish): void {
    this.#post({ type: 'show', id: ++this.#shown, wish })
  }

  /** The mixture that parts what was touched, and the tones that fit it. */
  async mix(plan: Plan, touches: Touch[]): Promise<Found> {
    return this.#ask('mix', (id) => ({ type: 'mix', id, plan, touches }))
  }

  /** The outline of what a plan gives, as SVG. */
  async outline(plan: Plan): Promise<string> {
    return (await this.#ask('outline', (id) => ({ type: 'outline', id, plan }))).svg
  }

  #ask<Type extends MakeAnswer['type']>(type: Type, request: (id: number) => MakeRequest) {
    const id = ++this.#asked
    return new Promise<Extract<MakeAnswer, { type: Type }>>((done, fail) => {
      this.#waiting.set(id, {
        done: (answer) => answer.type === type && done(answer as Extract<MakeAnswer, { type: Type }>),
        fail,
      })
      this.#post(request(id))
    })
  }

  #post(request: MakeRequest, transfer: Transferable[] = []): void {
    this.#worker.postMessage(request, transfer)
  }

  close(): void {
    this.#worker.terminate()
  }
}
