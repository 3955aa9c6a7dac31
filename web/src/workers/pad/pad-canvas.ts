import type { Rgb } from '@satchel/core/raster/srgb'
import { Port } from '../port.ts'
import { PointerStrokes } from '../stroke/pointer-strokes.ts'
import type { PadPart } from './pad-painting.ts'
import type { PadQuestions, PadTold } from './pad-protocol.ts'

export type PadSteps = { back: number; again: number }
type Events = { onSteps(steps: PadSteps): void; onProblem(message: string): void }
/** All that painting with a brush takes. */
export type FetchedBrush = Omit<Parameters<PadQuestions['bring']>[0], 'id'>
type Act = 'clear' | 'takeBack' | 'doAgain'

/** A canvas as a sheet to try brushes on: pointer strokes go to a worker, pixels come out. */
export class PadCanvas {
  readonly #port: Port<PadQuestions, PadTold>
  readonly #strokes: PointerStrokes
  readonly #context: CanvasRenderingContext2D
  readonly #onProblem: (message: string) => void
  readonly #brought = new Map<string, Promise<void>>()
  #turn = 0

  constructor(canvas: HTMLCanvasElement, { onSteps, onProblem }: Events) {
    const context = canvas.getContext('2d', { alpha: false })
    if (!context) throw new Error('this browser gives no 2D canvas')
    this.#context = context
    this.#onProblem = onProblem
    this.#port = new Port(new Worker(new URL('./pad-worker.ts', import.meta.url), { type: 'module' }), (told) => {
      if (told.type === 'steps') onSteps(told)
      else this.#put(told)
    })
    this.#strokes = new PointerStrokes(canvas, {
      size: () => canvas,
      begin: (seed) => this.#do(this.#port.ask('begin', { seed })),
      more: (samples) => this.#do(this.#port.ask('more', { samples })),
      end: () => this.#do(this.#port.ask('end', undefined)),
      drop: () => this.#do(this.#port.ask('drop', undefined)),
    })
    this.#do(this.#port.ask('sheet', { width: canvas.width, height: canvas.height }))
  }

  /**
   * Paints with a brush from now on.
   * @param fetchBrush Fetches it, where the worker has it not, or not any more.
   * @returns Whether it is held; another one that was asked for since goes before it, however long either takes to come.
   * @throws {Error} If it cannot be fetched or read.
   */
  async use(id: string, colour: Rgb, fetchBrush: () => Promise<FetchedBrush>): Promise<boolean> {
    const turn = ++this.#turn
    for (;;) {
      const coming = this.#brought.get(id) ?? this.#bring(id, fetchBrush)
      this.#brought.set(id, coming)
      try {
        await coming
      } catch (problem) {
        this.#brought.delete(id)
        if (turn === this.#turn) throw problem
      }
      if (turn !== this.#turn) return false
      if (await this.#port.ask('hold', { id, colour })) return true
      this.#brought.delete(id)
    }
  }

  async #bring(id: string, fetchBrush: () => Promise<FetchedBrush>): Promise<void> {
    const { recipe, frames, grain } = await fetchBrush()
    await this.#port.ask('bring', { id, recipe, frames, grain }, [...frames, ...(grain ? [grain] : [])])
  }

  act(what: Act): void {
    this.#do(this.#port.ask(what, undefined))
  }

  close(): void {
    this.#strokes.close()
    this.#port.close()
  }

  #do(asked: Promise<void>): void {
    asked.catch((problem: Error) => this.#onProblem(problem.message))
  }

  #put({ data, width, height, x, y }: PadPart): void {
    this.#context.putImageData(new ImageData(data, width, height), x, y)
    // what tests look at
    const { canvas } = this.#context
    canvas.dataset.painted = String(Number(canvas.dataset.painted ?? 0) + 1)
  }
}
