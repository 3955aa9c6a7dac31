import { Steady } from '@satchel/core/stroke/path/steady'
import { type MousePressure, PointerSamples } from './pointer-samples.ts'

/** How the hand is taken up: steadied by an amount 0…1, and what a mouse's pressure comes from. */
export type HandSettings = { steady: number; mouse: MousePressure }

/** What a pointer's strokes lead to. */
export type StrokeTaker = {
  /** The size that is painted at, px; the canvas may be shown at another. */
  size(): { width: number; height: number }
  begin(seed: number): void
  more(samples: Float64Array): void
  end(): void
  /** Takes back the stroke that is being drawn. */
  drop(): void
}

/** Strokes of a pen, a finger or a mouse on a canvas, one at a time. */
export class PointerStrokes {
  hand: HandSettings = { steady: 0, mouse: 'even' }
  readonly #canvas: HTMLCanvasElement
  readonly #taker: StrokeTaker
  #drawing: { pointer: number; samples: PointerSamples; steady: Steady } | undefined

  constructor(canvas: HTMLCanvasElement, taker: StrokeTaker) {
    this.#canvas = canvas
    this.#taker = taker
    canvas.addEventListener('pointerdown', this.#down)
    canvas.addEventListener('pointermove', this.#move)
    canvas.addEventListener('pointerup', this.#up)
    canvas.addEventListener('pointercancel', this.#up)
  }

  #down = (event: PointerEvent) => {
    if (event.button !== 0 || event.defaultPrevented || this.#drawing) return
    this.#canvas.setPointerCapture(event.pointerId)
    this.#drawing = {
      pointer: event.pointerId,
      samples: new PointerSamples(this.hand.mouse),
      steady: new Steady(this.hand.steady),
    }
    this.#taker.begin(Math.floor(event.timeStamp))
    this.#more([event])
  }

  #move = (event: PointerEvent) => {
    if (event.pointerId !== this.#drawing?.pointer) return
    const events = event.getCoalescedEvents()
    this.#more(events.length > 0 ? events : [event])
  }

  #up = (event: PointerEvent) => {
    if (event.pointerId !== this.#drawing?.pointer) return
    const rest = this.#drawing.steady.finish()
    this.#drawing = undefined
    if (rest.length > 0) this.#taker.more(rest)
    this.#taker.end()
  }

  /** Takes back the stroke that is being drawn. */
  drop(): void {
    if (!this.#drawing) return
    this.#drawing = undefined
    this.#taker.drop()
  }

  #more(events: readonly PointerEvent[]): void {
    if (!this.#drawing) return
    const shown = this.#canvas.getBoundingClientRect()
    const size = this.#taker.size()
    const samples = this.#drawing.samples.take(events, (x, y) => ({
      x: ((x - shown.left) * size.width) / shown.width,
      y: ((y - shown.top) * size.height) / shown.height,
    }))
    this.#taker.more(this.#drawing.steady.add(samples))
  }

  close(): void {
    this.#canvas.removeEventListener('pointerdown', this.#down)
    this.#canvas.removeEventListener('pointermove', this.#move)
    this.#canvas.removeEventListener('pointerup', this.#up)
    this.#canvas.removeEventListener('pointercancel', this.#up)
  }
}
