/** Content that is not what it claims to be: which format, where in its bytes if it has some, and what was expected there. */
export class FormatError extends Error {
  override readonly name = 'FormatError'
  constructor(
    readonly format: string,
    readonly offset: number | undefined,
    readonly expected: string,
    options?: ErrorOptions,
  ) {
    super(`Not a readable ${format}: ${offset === undefined ? '' : `at byte ${offset} `}expected ${expected}`, options)
  }
}

/** Something sound in itself but larger than the product takes: which limit, what was found, what is allowed. */
export class LimitError extends Error {
  override readonly name = 'LimitError'
  constructor(
    readonly limit: string,
    readonly found: number,
    readonly allowed: number,
  ) {
    super(`Too large: ${limit} is ${found.toLocaleString('en')}, at most ${allowed.toLocaleString('en')} is taken`)
  }
}
