import type { StripJoin } from '@satchel/core/grain/strip-join'
import { Port } from '../port.ts'
import { type HandSettings, PointerStrokes } from './pointer-strokes.ts'
import type {
  Findings,
  Look,
  PaintedPixels,
  PicturePart,
  PictureParts,
  PreviewWish,
  StrokeQuestions,
  StrokeTold,
} from './protocol.ts'
import { WantedPicture } from './wanted-picture.ts'

export type StrokeCanvasEvents = {
  /** The first whole picture is there: until then the canvas has nothing to show. */
  onFirstPicture?(): void
  onProblem(message: string): void
  onFindings?(findings: Findings): void
}

/** A canvas that a stroke worker paints: pointer strokes go in, pixels come out; React never sees them. */
export class StrokeCanvas {
  readonly #port: Port<StrokeQuestions, StrokeTold>
  readonly #onProblem: (message: string) => void
  readonly #canvas: HTMLCanvasElement
  readonly #context: CanvasRenderingContext2D
  readonly #picture = new WantedPicture()
  #size = { width: 0, height: 0 }
  #onFirstPicture: (() => void) | undefined
  readonly #strokes: PointerStrokes

  constructor(canvas: HTMLCanvasElement, { onProblem, onFindings, onFirstPicture }: StrokeCanvasEvents) {
    this.#onProblem = onProblem
    this.#onFirstPicture = onFirstPicture
    this.#canvas = canvas
    const context = canvas.getContext('2d', { alpha: false })
    if (!context) throw new Error('this browser gives no 2D canvas')
    this.#context = context
    this.#port = new Port(new Worker(new URL('./stroke-worker.ts', import.meta.url), { type: 'module' }), (told) => {
      if (told.type === 'pixels') this.#put(told)
      else if (told.type === 'findings') onFindings?.(told)
      else onProblem(told.message)
    })
    this.#strokes = new PointerStrokes(canvas, {
      size: () => this.#size,
      begin: (seed) => this.#do(this.#port.ask('begin', { seed })),
      more: (samples) => this.#do(this.#port.ask('more', { samples })),
      end: () => this.#do(this.#port.ask('end', undefined)),
      drop: () => this.#do(this.#port.ask('drop', undefined)),
    })
  }

  set hand(hand: HandSettings) {
    this.#strokes.hand = hand
  }

  /** What the worker does without an answer; what goes wrong in it is said. */
  #do(asked: Promise<void>): void {
    asked.catch((problem: Error) => this.#onProblem(problem.message))
  }

  /** Takes away all that was drawn by hand. */
  clear(): void {
    this.#do(this.#port.ask('clear', undefined))
  }

  /** The bounds of a strip with the least break. @throws {Error} With the worker's sentence. */
  findJoin(): Promise<StripJoin | undefined> {
    return this.#port.ask('findJoin', undefined)
  }

  /** Notes that a part of the picture is about to change, though it is not there yet. */
  want(part: PicturePart, text: string): void {
    this.#picture.want(part, text)
    this.#canvas.dataset.wanted = this.#picture.wanted
  }

  /** Tells the worker what to paint with from now on. @param text Changes whenever what is told does. */
  tell<Part extends PicturePart>(
    name: Part,
    text: string,
    part: PictureParts[Part],
    buffers: Transferable[] = [],
  ): void {
    this.#picture.post(name, text)
    this.#canvas.dataset.wanted = this.#picture.wanted
    const wish = { part, shows: this.#picture.posted } as Parameters<StrokeQuestions[Part]>[0]
    this.#do(this.#port.ask(name, wish, buffers))
  }

  tellLook(look: Look): void {
    this.tell('look', JSON.stringify(look), look)
  }

  /** One long stroke of another recipe, not put on the canvas. @throws {Error} With the worker's sentence. */
  async preview(wish: PreviewWish): Promise<ImageData | undefined> {
    const pixels = await this.#port.ask('preview', wish)
    return pixels && new ImageData(pixels, wish.width, wish.height)
  }

  /**
   * Sets the size to paint at, px. The canvas keeps its picture, stretched, until one of that size is there: to change a
   * canvas's own size empties it.
   */
  resize(width: number, height: number): void {
    if (width < 1 || height < 1 || (this.#size.width === width && this.#size.height === height)) return
    this.#size = { width, height }
    this.#canvas.style.width = `${width}px`
    this.#canvas.style.height = `${height}px`
    this.tell('size', `${width} ${height}`, { width, height })
  }

  #put({ data, width, height, x, y, shows, ms }: PaintedPixels): void {
    const canvas = this.#canvas
    const isWhole = shows !== undefined
    if (isWhole && (canvas.width !== width || canvas.height !== height)) {
      canvas.width = width
      canvas.height = height
    }
    this.#context.putImageData(new ImageData(data, width, height), x, y)
    // What tests and the bench look at: how often, how fast, and of what the picture was painted.
    canvas.dataset.painted = String(Number(canvas.dataset.painted ?? 0) + 1)
    if (isWhole) {
      canvas.dataset.ms = ms.toFixed(1)
      canvas.dataset.shown = shows
      this.#onFirstPicture?.()
      this.#onFirstPicture = undefined
    } else canvas.dataset.partMs = ms.toFixed(1)
  }

  /** Takes back the stroke that is being drawn. */
  dropStroke(): void {
    this.#strokes.drop()
  }

  close(): void {
    this.#strokes.close()
    this.#port.close()
  }
}
