import { Steady } from '@satchel/core/stroke/path/steady'
import { type MousePressure, PointerSamples } from './pointer-samples.ts'
import type { Findings, StrokeAnswer, StrokeRequest } from './protocol.ts'

export type StrokeCanvasEvents = {
  onProblem(message: string): void
  onFindings?(findings: Findings): void
  onJoin?(join: Extract<StrokeAnswer, { type: 'join' }>): void
}

/** How the hand is taken up: steadied by an amount 0…1, and what a mouse's pressure comes from. */
export type HandSettings = { steady: number; mouse: MousePressure }

/** A canvas that a stroke worker paints: pointer strokes go in, pixels come out; React never sees them. */
export class StrokeCanvas {
  hand: HandSettings = { steady: 0, mouse: 'even' }
  readonly #worker = new Worker(new URL('./stroke-worker.ts', import.meta.url), { type: 'module' })
  readonly #canvas: HTMLCanvasElement
  readonly #context: CanvasRenderingContext2D
  readonly #previews = new Map<string, (pixels: ImageData) => void>()
  #drawing: { pointer: number; samples: PointerSamples; steady: Steady } | undefined

  constructor(canvas: HTMLCanvasElement, { onProblem, onFindings, onJoin }: StrokeCanvasEvents) {
    this.#canvas = canvas
    const context = canvas.getContext('2d', { alpha: false })
    if (!context) throw new Error('this browser gives no 2D canvas')
    this.#context = context
    this.#worker.addEventListener('message', ({ data }: MessageEvent<StrokeAnswer>) => {
      switch (data.type) {
        case 'pixels':
          this.#put(data)
          break
        case 'preview':
          this.#previews.get(data.id)?.(new ImageData(data.data, data.width, data.height))
          this.#previews.delete(data.id)
          break
        case 'findings':
          onFindings?.(data)
          break
        case 'join':
          onJoin?.(data)
          break
        case 'problem':
          onProblem(data.message)
      }
    })
    canvas.addEventListener('pointerdown', this.#down)
    canvas.addEventListener('pointermove', this.#move)
    canvas.addEventListener('pointerup', this.#up)
    canvas.addEventListener('pointercancel', this.#up)
  }

  post(request: StrokeRequest, transfer: Transferable[] = []): void {
    this.#worker.postMessage(request, transfer)
  }

  /** Paints one long stroke of another recipe beside the canvas. */
  preview(
    request: Omit<Extract<StrokeRequest, { type: 'preview' }>, 'type'>,
    onPixels: (pixels: ImageData) => void,
  ): void {
    this.#previews.set(request.id, onPixels)
    this.post({ type: 'preview', ...request })
  }

  /** Sets the canvas's own size, px; the picture is painted anew when it changes. */
  resize(width: number, height: number): void {
    if (width < 1 || height < 1 || (this.#canvas.width === width && this.#canvas.height === height)) return
    this.#canvas.width = width
    this.#canvas.height = height
    this.post({ type: 'size', width, height })
  }

  #put({ data, width, height, x, y, whole, ms }: Extract<StrokeAnswer, { type: 'pixels' }>): void {
    const canvas = this.#canvas
    this.#context.putImageData(new ImageData(data, width, height), x, y)
    // What tests and the bench look at: how often, and how fast, the picture was painted.
    canvas.dataset.painted = String(Number(canvas.dataset.painted ?? 0) + 1)
    if (whole) canvas.dataset.ms = ms.toFixed(1)
    else canvas.dataset.partMs = ms.toFixed(1)
  }

  #down = (event: PointerEvent) => {
    if (event.button !== 0 || event.defaultPrevented || this.#drawing) return
    this.#canvas.setPointerCapture(event.pointerId)
    this.#drawing = {
      pointer: event.pointerId,
      samples: new PointerSamples(this.hand.mouse),
      steady: new Steady(this.hand.steady),
    }
    this.post({ type: 'begin', seed: Math.floor(event.timeStamp) })
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
    if (rest.length > 0) this.post({ type: 'more', samples: rest })
    this.post({ type: 'end' })
  }

  /** Takes back the stroke that is being drawn. */
  dropStroke(): void {
    if (!this.#drawing) return
    this.#drawing = undefined
    this.post({ type: 'drop' })
  }

  #more(events: readonly PointerEvent[]): void {
    if (!this.#drawing) return
    const { left, top, width, height } = this.#canvas.getBoundingClientRect()
    const samples = this.#drawing.samples.take(events, (x, y) => ({
      x: ((x - left) * this.#canvas.width) / width,
      y: ((y - top) * this.#canvas.height) / height,
    }))
    this.post({ type: 'more', samples: this.#drawing.steady.add(samples) })
  }

  close(): void {
    this.#canvas.removeEventListener('pointerdown', this.#down)
    this.#canvas.removeEventListener('pointermove', this.#move)
    this.#canvas.removeEventListener('pointerup', this.#up)
    this.#canvas.removeEventListener('pointercancel', this.#up)
    this.#worker.terminate()
  }
}
