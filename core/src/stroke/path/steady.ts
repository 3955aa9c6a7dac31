import { SAMPLE_STRIDE, type Samples } from './samples.ts'

/** At full steadiness a stroke covers this share of the way to the hand with each sample. */
const SLOWEST = 0.06

/** Steadies a hand: the stroke follows it, the more slowly the steadier. */
export class Steady {
  readonly #share: number
  #at: Float64Array | undefined
  #hand: Float64Array | undefined

  /** @param amount 0 leaves the hand as it is, 1 is the steadiest. */
  constructor(amount: number) {
    this.#share = 1 - (1 - SLOWEST) * Math.min(1, Math.max(0, amount))
  }

  /** Takes what the hand did. @returns The steadied samples, as many. */
  add(samples: Samples): Samples {
    const out = new Float64Array(samples.length)
    for (let i = 0; i + SAMPLE_STRIDE <= samples.length; i += SAMPLE_STRIDE) {
      this.#hand = samples.slice(i, i + SAMPLE_STRIDE)
      this.#at = this.#at ? this.#towards(this.#at, this.#hand) : this.#hand
      out.set(this.#at, i)
    }
    return out
  }

  /** The way from where the stroke has come to where the hand stopped. */
  finish(): Samples {
    return this.#share === 1 || !this.#hand ? new Float64Array(0) : this.#hand
  }

  /** Place and pressure lag behind; time goes on as it does. */
  #towards(at: Float64Array, hand: Float64Array): Float64Array {
    const next = at.map((value, k) => value + (hand[k] - value) * this.#share)
    next[SAMPLE_STRIDE - 1] = hand[SAMPLE_STRIDE - 1]
    return next
  }
}
