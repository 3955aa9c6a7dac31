import type { StrokeAnswer, StrokeRequest } from './protocol.ts'

/** A mouse has no pressure; it presses evenly. */
const MOUSE_PRESSURE = 0.7

/** A canvas that a stroke worker paints: pointer strokes go in, pixels come out; React never sees them. */
export class StrokeCanvas {
  readonly #worker = new Worker(new URL('./stroke-worker.ts', import.meta.url), { type: 'module' })
  readonly #canvas: HTMLCanvasElement
  readonly #context: CanvasRenderingContext2D
  readonly #observer: ResizeObserver
  #drawing = false

  constructor(canvas: HTMLCanvasElement, onProblem: (message: string) => void) {
    this.#canvas = canvas
    const context = canvas.getContext('2d', { alpha: false })
    if (!context) throw new Error('this browser gives no 2D canvas')
    this.#context = context
    this.#worker.addEventListener('message', ({ data }: MessageEvent<StrokeAnswer>) => {
      if (data.type === 'problem') return onProblem(data.message)
      this.#context.putImageData(new ImageData(data.data, data.width, data.height), data.x, data.y)
      // What tests and the bench look at: how often, and how fast, the picture was painted.
      canvas.dataset.painted = String(Number(canvas.dataset.painted ?? 0) + 1)
      if (data.whole) canvas.dataset.ms = data.ms.toFixed(1)
    })
    this.#observer = new ResizeObserver(() => this.#resize())
    this.#observer.observe(canvas)
    canvas.addEventListener('pointerdown', this.#down)
    canvas.addEventListener('pointermove', this.#move)
    canvas.addEventListener('pointerup', this.#up)
    canvas.addEventListener('pointercancel', this.#up)
  }

  post(request: StrokeRequest, transfer: Transferable[] = []): void {
    this.#worker.postMessage(request, transfer)
  }

  #resize(): void {
    const { clientWidth, clientHeight } = this.#canvas
    if (clientWidth === 0 || (this.#canvas.width === clientWidth && this.#canvas.height === clientHeight)) return
    this.#canvas.width = clientWidth
    this.#canvas.height = clientHeight
    this.post({ type: 'size', width: clientWidth, height: clientHeight })
  }

  #down = (event: PointerEvent) => {
    if (event.button !== 0) return
    this.#canvas.setPointerCapture(event.pointerId)
    this.#drawing = true
    this.post({ type: 'begin', seed: Math.floor(event.timeStamp) })
    this.post({ type: 'more', samples: this.#samples([event]) })
  }

  #move = (event: PointerEvent) => {
    if (!this.#drawing) return
    const events = event.getCoalescedEvents()
    this.post({ type: 'more', samples: this.#samples(events.length > 0 ? events : [event]) })
  }

  #up = () => {
    if (!this.#drawing) return
    this.#drawing = false
    this.post({ type: 'end' })
  }

  #samples(events: readonly PointerEvent[]): Float64Array {
    const { left, top } = this.#canvas.getBoundingClientRect()
    return Float64Array.from(
      events.flatMap((event) => [
        event.clientX - left,
        event.clientY - top,
        event.pointerType === 'mouse' ? MOUSE_PRESSURE : event.pressure,
        event.tiltX,
        event.tiltY,
        event.timeStamp,
      ]),
    )
  }

  close(): void {
    this.#observer.disconnect()
    this.#canvas.removeEventListener('pointerdown', this.#down)
    this.#canvas.removeEventListener('pointermove', this.#move)
    this.#canvas.removeEventListener('pointerup', this.#up)
    this.#canvas.removeEventListener('pointercancel', this.#up)
    this.#worker.terminate()
  }
}
