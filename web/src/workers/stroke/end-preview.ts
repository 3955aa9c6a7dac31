import { unite } from '@satchel/core/raster/rect'
import type { Rect } from '@satchel/core/raster/surface'
import type { Stroke } from '@satchel/core/stroke/stroke'

type Options = {
  /** The stroke as far as it is drawn. */
  painting: Stroke
  /** Begins the same stroke anew, where that one cannot draw its end on trial. */
  paint: () => Stroke
  /** The path so far; it grows. */
  samples: readonly number[]
  onPainted: (stroke: Stroke, area: Rect, startedMs: number) => void
}

/**
 * Shows how a stroke would end here and now, for strokes whose last part is drawn only when they end. Its end is drawn on
 * trial, or else all of it is painted anew; the longer that takes, the longer it rests afterwards, so that the pen is never
 * kept waiting.
 */
export class EndPreview {
  readonly #options: Options
  /** What was last drawn of the end, and what has changed since: both have to be painted over. */
  #shown: Rect | undefined
  #changed: Rect | undefined
  #restUntilMs = 0
  #timer: ReturnType<typeof setTimeout> | undefined

  constructor(options: Options) {
    this.#options = options
  }

  paintSoon(changed: Rect | undefined): void {
    this.#changed = unite(this.#changed, changed)
    this.#timer ??= setTimeout(() => this.#paint(), Math.max(0, this.#restUntilMs - performance.now()))
  }

  /** Ends with it. @returns What has to be painted over. */
  stop(): Rect | undefined {
    clearTimeout(this.#timer)
    return unite(this.#shown, this.#changed)
  }

  #paint(): void {
    this.#timer = undefined
    const startedMs = performance.now()
    const { painting } = this.#options
    if (painting.peek) this.#show(painting, painting.peek(), startedMs)
    else {
      const whole = this.#options.paint()
      whole.add(Float64Array.from(this.#options.samples))
      this.#show(whole, whole.finish(), startedMs)
      whole.close()
    }
    const nowMs = performance.now()
    this.#restUntilMs = nowMs + (nowMs - startedMs)
  }

  #show(stroke: Stroke, end: Rect | undefined, startedMs: number): void {
    const area = unite(this.stop(), end)
    if (area) this.#options.onPainted(stroke, area, startedMs)
    this.#shown = end
    this.#changed = undefined
  }
}
