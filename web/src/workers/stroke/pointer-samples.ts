import { SAMPLE_STRIDE } from '@satchel/core/stroke/path/samples'

/** A mouse has no pressure: it presses evenly, or the more lightly the faster it goes. */
export type MousePressure = 'even' | 'speed'

const EVEN_PRESSURE = 0.7
/** Speed at which a mouse presses half as hard, px per ms. */
const HALF_SPEED = 1.2
/** How quickly pressure from speed follows: share per sample. */
const FOLLOW = 0.25

type Event = Pick<PointerEvent, 'clientX' | 'clientY' | 'pressure' | 'tiltX' | 'tiltY' | 'timeStamp' | 'pointerType'>

/** Turns pointer events into samples on the canvas, in its own px. */
export class PointerSamples {
  readonly #mouse: MousePressure
  #last: { x: number; y: number; ms: number; pressure: number } | undefined

  constructor(mouse: MousePressure) {
    this.#mouse = mouse
  }

  /** @param toCanvas Where a point of the page lies on the canvas. */
  take(events: readonly Event[], toCanvas: (x: number, y: number) => { x: number; y: number }): Float64Array {
    const samples = new Float64Array(events.length * SAMPLE_STRIDE)
    for (const [i, event] of events.entries()) {
      const { x, y } = toCanvas(event.clientX, event.clientY)
      const pressure = event.pointerType === 'mouse' ? this.#mousePressure(x, y, event.timeStamp) : event.pressure
      samples.set([x, y, pressure, event.tiltX, event.tiltY, event.timeStamp], i * SAMPLE_STRIDE)
      this.#last = { x, y, ms: event.timeStamp, pressure }
    }
    return samples
  }

  #mousePressure(x: number, y: number, ms: number): number {
    if (this.#mouse === 'even') return EVEN_PRESSURE
    const last = this.#last
    if (!last || ms <= last.ms) return last?.pressure ?? EVEN_PRESSURE
    const speed = Math.hypot(x - last.x, y - last.y) / (ms - last.ms)
    return last.pressure + (HALF_SPEED / (HALF_SPEED + speed) - last.pressure) * FOLLOW
  }
}
