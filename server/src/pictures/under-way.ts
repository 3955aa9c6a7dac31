/** Work that is under way, so that who closes can wait for it: whoever had asked for it may have gone before. */
export class UnderWay {
  readonly #all = new Set<Promise<unknown>>()

  add<Result>(work: Promise<Result>): Promise<Result> {
    this.#all.add(work)
    const forget = () => this.#all.delete(work)
    // that it failed is told to those who wait for it
    work.then(forget, forget)
    return work
  }

  /** Comes back once nothing is under way any more, whether it came to something or not. */
  async ended(): Promise<void> {
    while (this.#all.size > 0) await Promise.allSettled(this.#all)
  }
}
