import { SAMPLE, SAMPLE_STRIDE, type Samples } from './samples.ts'

/** A point of a smooth path: a sample, with its distance from the start in px. */
export type PathPoint = { at: Float64Array; distancePx: number }

export type PathMark = { count: number; before: Float64Array | undefined; current: Float64Array | undefined }

/** Between points of the smooth path, px. */
const STEP_PX = 2

/**
 * Smooths a hand's path as it comes: the samples are the control points of quadratic curves from one middle to the
 * next, so that neighbouring curves meet in position and direction. Both ends are kept.
 * @see A uniform quadratic B-spline, written as Bézier pieces (common practice, no source).
 */
export class Centreline {
  readonly points: PathPoint[] = []
  #before: Float64Array | undefined
  #current: Float64Array | undefined

  add(samples: Samples): void {
    for (let i = 0; i + SAMPLE_STRIDE <= samples.length; i += SAMPLE_STRIDE) {
      const sample = samples.slice(i, i + SAMPLE_STRIDE)
      if (sample.every(Number.isFinite)) this.#addSample(sample)
    }
  }

  /** Ends the path at its last sample. */
  finish(): void {
    if (this.#before && this.#current) this.#addLine(middle(this.#before, this.#current), this.#current)
    this.#before = undefined
    this.#current = undefined
  }

  /** The path's state, for `goBack`. */
  mark(): PathMark {
    return { count: this.points.length, before: this.#before, current: this.#current }
  }

  /** Forgets what came after a mark. */
  goBack({ count, before, current }: PathMark): void {
    this.points.length = count
    this.#before = before
    this.#current = current
  }

  #addSample(sample: Float64Array): void {
    const [before, current] = [this.#before, this.#current]
    if (current && distance(current, sample) === 0) return
    if (!current) this.points.push({ at: sample, distancePx: 0 })
    else if (!before) this.#addLine(current, middle(current, sample))
    else this.#addCurve(middle(before, current), current, middle(current, sample))
    this.#before = current
    this.#current = sample
  }

  #addLine(from: Float64Array, to: Float64Array): void {
    this.#addCurve(from, middle(from, to), to)
  }

  #addCurve(from: Float64Array, control: Float64Array, to: Float64Array): void {
    const steps = Math.max(1, Math.ceil((distance(from, control) + distance(control, to)) / STEP_PX))
    for (let k = 1; k <= steps; k++) {
      const t = k / steps
      const at = new Float64Array(SAMPLE_STRIDE)
      for (let c = 0; c < SAMPLE_STRIDE; c++) {
        at[c] = (1 - t) * (1 - t) * from[c] + 2 * t * (1 - t) * control[c] + t * t * to[c]
      }
      const last = this.points[this.points.length - 1]
      const length = distance(last.at, at)
      if (length > 0) this.points.push({ at, distancePx: last.distancePx + length })
    }
  }
}

function distance(a: Float64Array, b: Float64Array): number {
  const dx = b[SAMPLE.x] - a[SAMPLE.x]
  const dy = b[SAMPLE.y] - a[SAMPLE.y]
  return Math.sqrt(dx * dx + dy * dy)
}

const middle = (a: Float64Array, b: Float64Array) => a.map((value, i) => (value + b[i]) / 2)
