import type { Mix, Touch } from '@satchel/core/make/steps/grey'
import type { Tones } from '@satchel/core/make/steps/tones'
import type { Plan } from '@satchel/core/make/ways'
import type { MakeAnswer, MakeRequest, MakeShown, MakeWish } from './protocol.ts'

/** What follows from touching colours. */
export type Found = { mix: Mix; tones: Tones }
export type MakeBenchEvents = { onShown(shown: MakeShown): void; onProblem(message: string): void }

/** The worker that runs a source's steps, as the page sees it: it says what it wants shown, and gets the latest. */
export class MakeBench {
  readonly #worker = new Worker(new URL('./make-worker.ts', import.meta.url), { type: 'module' })
  readonly #mixes = new Map<number, (found: Found) => void>()
  #asked = 0
  #mixesAsked = 0
  readonly #outlines = new Map<number, (svg: string) => void>()
  #outlinesAsked = 0

  constructor({ onShown, onProblem }: MakeBenchEvents) {
    this.#worker.addEventListener('message', ({ data }: MessageEvent<MakeAnswer>) => {
      switch (data.type) {
        case 'shown':
          // an answer to what is asked no longer would only flicker
          if (data.id === this.#asked) onShown(data)
          break
        case 'mix':
          this.#mixes.get(data.id)?.(data)
          this.#mixes.delete(data.id)
          break
        case 'outline':
          this.#outlines.get(data.id)?.(data.svg)
          this.#outlines.delete(data.id)
          break
        case 'problem':
          onProblem(data.message)
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
    this.#post({ type: 'show', id: ++this.#asked, wish })
  }

  /** The mixture that parts what was touched, and the tones that fit it. */
  mix(plan: Plan, touches: Touch[]): Promise<Found> {
    return new Promise((done) => {
      const id = ++this.#mixesAsked
      this.#mixes.set(id, done)
      this.#post({ type: 'mix', id, plan, touches })
    })
  }

  /** The outline of what a plan gives, as SVG. */
  outline(plan: Plan): Promise<string> {
    return new Promise((done) => {
      const id = ++this.#outlinesAsked
      this.#outlines.set(id, done)
      this.#post({ type: 'outline', id, plan })
    })
  }

  #post(request: MakeRequest, transfer: Transferable[] = []): void {
    this.#worker.postMessage(request, transfer)
  }

  close(): void {
    this.#worker.terminate()
  }
}
