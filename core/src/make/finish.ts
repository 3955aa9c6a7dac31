/** Runs a generator to its end and gives its result. */
export function finish<Result>(work: Generator<unknown, Result>): Result {
  for (;;) {
    const { done, value } = work.next()
    if (done) return value
  }
}
