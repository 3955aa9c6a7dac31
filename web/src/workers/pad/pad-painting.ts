import type { Recipe } from '@satchel/core/brush/recipe'
import { unite } from '@satchel/core/raster/rect'
import type { Rgb } from '@satchel/core/raster/srgb'
import { type Rect, type Surface, wholeOf } from '@satchel/core/raster/surface'
import { createStroke, waitsForEnd } from '@satchel/core/stroke/create-stroke'
import type { PreparedBrush, Stroke } from '@satchel/core/stroke/stroke'
import { createBackdrop } from '../stroke/backdrop-picture.ts'
import { cut, layOver, paste } from '../stroke/cut-paste.ts'
import { EndPreview } from '../stroke/end-preview.ts'

/** What may be kept to be taken back; the oldest goes first. */
const UNDO_MAX_BYTES = 128 * 1024 * 1024

/** A part of the picture, opaque RGBA. */
export type PadPart = { x: number; y: number; width: number; height: number; data: Uint8ClampedArray<ArrayBuffer> }
/** A stroke that was painted: what lay where it lies, and what lies there now. */
type Done = { area: Rect; before: Uint8ClampedArray; after: Uint8ClampedArray }
export type PadBrush = { prepared: PreparedBrush; recipe: Recipe; colour: Rgb; seed: number }

/** A sheet that is painted on with one brush after another; every stroke, and clearing it, can be taken back. */
export class PadPainting {
  readonly #paper: Surface
  readonly #base: Surface
  readonly #onPart: (part: PadPart) => void
  #done: Done[] = []
  #undone: Done[] = []
  #current: { painting: Stroke; samples: number[]; area: Rect | undefined; ending?: EndPreview } | undefined

  constructor(size: { width: number; height: number }, onPart: (part: PadPart) => void) {
    this.#paper = createBackdrop('paper', size.width, size.height)
    this.#base = createBackdrop('paper', size.width, size.height)
    this.#onPart = onPart
  }

  /** How many acts can be taken back, and done again. */
  get steps(): { back: number; again: number } {
    return { back: this.#done.length, again: this.#undone.length }
  }

  begin({ prepared, recipe, colour, seed }: PadBrush): void {
    this.drop()
    const under = this.#base
    const { width, height } = under
    const paint = () => createStroke({ width, height, brush: prepared, recipe, seed, colour, under })
    const [painting, samples] = [paint(), [] as number[]]
    this.#current = { painting, samples, area: undefined }
    if (waitsForEnd(recipe))
      this.#current.ending = new EndPreview({
        ...{ painting, paint, samples },
        onPainted: (stroke, area) => this.#show(stroke, area),
      })
  }

  more(samples: Float64Array): void {
    const current = this.#current
    if (!current) return
    current.samples.push(...samples)
    const area = current.painting.add(samples)
    current.area = unite(current.area, area)
    if (current.ending) current.ending.paintSoon(area)
    else if (area) this.#show(current.painting, area)
  }

  end(): void {
    const current = this.#current
    if (!current) return
    const shown = current.ending?.stop()
    const last = current.painting.finish()
    const area = unite(current.area, last)
    const changed = unite(last, shown)
    if (changed) this.#show(current.painting, changed)
    this.#current = undefined
    if (area) this.#act(area, () => current.painting.compositeOnto(this.#base))
    current.painting.close()
  }

  /** Takes back the stroke that is being drawn. */
  drop(): void {
    const current = this.#current
    if (!current) return
    const shown = unite(current.area, current.ending?.stop())
    current.painting.close()
    this.#current = undefined
    if (shown) this.#send(shown, cut(this.#base, shown))
  }

  /** An empty sheet. */
  clear(): void {
    this.drop()
    const whole = wholeOf(this.#base)
    this.#act(whole, () => this.#base.data.set(this.#paper.data))
    this.#send(whole, cut(this.#base, whole))
  }

  takeBack(): void {
    this.drop()
    const act = this.#done.pop()
    if (!act) return
    this.#undone.push(act)
    this.#put(act.area, act.before)
  }

  doAgain(): void {
    this.drop()
    const act = this.#undone.pop()
    if (!act) return
    this.#done.push(act)
    this.#put(act.area, act.after)
  }

  /** Sends all of the picture. */
  showAll(): void {
    const whole = wholeOf(this.#base)
    this.#send(whole, cut(this.#base, whole))
  }

  #act(area: Rect, change: () => void): void {
    const before = cut(this.#base, area)
    change()
    this.#done.push({ area, before, after: cut(this.#base, area) })
    this.#undone = []
    const bytesOf = ({ before: was, after }: Done) => was.length + after.length
    let bytes = this.#done.reduce((sum, act) => sum + bytesOf(act), 0)
    while (bytes > UNDO_MAX_BYTES && this.#done.length > 1) {
      const [oldest] = this.#done.splice(0, 1)
      if (oldest) bytes -= bytesOf(oldest)
    }
  }

  #put(area: Rect, data: Uint8ClampedArray): void {
    paste(this.#base, area, data)
    this.#send(area, cut(this.#base, area))
  }

  /** A part of a stroke on what lies under it. Its layer holds the whole stroke so far, so the sheet stays without it until it ends. */
  #show(painting: Stroke, area: Rect): void {
    const data = cut(this.#base, area)
    painting.compositeOnto({ ...area, width: area.right - area.left, height: area.bottom - area.top, data })
    this.#send(area, data)
  }

  #send(area: Rect, data: Uint8ClampedArray<ArrayBuffer>): void {
    const { left: x, top: y, right, bottom } = area
    const part = { width: right - x, height: bottom - y, data }
    // where it is rubbed out the paper shows
    layOver({ ...part, left: x, top: y }, this.#paper)
    this.#onPart({ x, y, ...part })
  }
}
