const NEWLINE = 10
const RETURN = 13
const PLUS = 43
const MINUS = 45
const POINT = 46
const ZERO = 48
const LETTER_E = 101
const DIGITS_MAX = 17
/** Larger powers of ten are endless, or nothing, in any case. */
const POWER_MAX = 400

/**
 * Reads a text file of ASCII line by line, and the words and numbers of each, without making strings of them: files of a
 * hundred megabytes hold millions of lines.
 */
export class LineReader {
  readonly #bytes: Uint8Array
  #next = 0
  /** Where the line begins, and the place that is read next, and where the line ends (excluded). */
  from = 0
  at = 0
  end = 0

  constructor(bytes: Uint8Array) {
    this.#bytes = bytes
  }

  /** Goes to the next line. @returns Whether there is one. */
  nextLine(): boolean {
    const bytes = this.#bytes
    if (this.#next >= bytes.length) return false
    this.from = this.#next
    let to = this.from
    while (to < bytes.length && bytes[to] !== NEWLINE) to++
    this.#next = to + 1
    this.end = to > this.from && bytes[to - 1] === RETURN ? to - 1 : to
    this.at = this.from
    this.#skipBlanks()
    return true
  }

  /** Whether the line is the last one and has no end of its own: it may be cut off. */
  get isOpen(): boolean {
    return this.#next > this.#bytes.length
  }

  /** The byte that is read next. */
  get byte(): number {
    return this.#bytes[this.at]
  }

  get isOver(): boolean {
    return this.at >= this.end
  }

  /** Whether the next word is this one; then it is taken. */
  takes(word: string): boolean {
    const bytes = this.#bytes
    for (let k = 0; k < word.length; k++)
      if (this.at + k >= this.end || bytes[this.at + k] !== word.charCodeAt(k)) return false
    const after = this.at + word.length
    if (after < this.end && bytes[after] > 32) return false
    this.at = after
    this.#skipBlanks()
    return true
  }

  /** The next number; NaN where there is none. What follows it up to a blank is left out. */
  number(): number {
    const bytes = this.#bytes
    let at = this.at
    const isNegative = bytes[at] === MINUS
    if (isNegative || bytes[at] === PLUS) at++
    let value = 0
    let digits = 0
    let power = 0
    let isFraction = false
    for (; at < this.end; at++) {
      const byte = bytes[at]
      if (byte === POINT && !isFraction) {
        isFraction = true
        continue
      }
      if (!isDigit(byte)) break
      digits++
      // more digits than a double holds change nothing that a point of a surface could show
      if (digits <= DIGITS_MAX) value = value * 10 + byte - ZERO
      if (isFraction && digits <= DIGITS_MAX) power--
      else if (!isFraction && digits > DIGITS_MAX) power++
    }
    if (digits === 0) return Number.NaN
    if (at < this.end && (bytes[at] | 32) === LETTER_E) {
      at++
      const isDown = bytes[at] === MINUS
      if (isDown || bytes[at] === PLUS) at++
      if (at >= this.end || !isDigit(bytes[at])) return Number.NaN
      let stated = 0
      for (; at < this.end && isDigit(bytes[at]); at++) stated = Math.min(POWER_MAX, stated * 10 + bytes[at] - ZERO)
      power += isDown ? -stated : stated
    }
    this.at = at
    const size = power < 0 ? value / 10 ** -power : value * 10 ** power
    return isNegative ? -size : size
  }

  /** Goes on to the next word. */
  skipWord(): void {
    while (this.at < this.end && this.#bytes[this.at] > 32) this.at++
    this.#skipBlanks()
  }

  #skipBlanks(): void {
    while (this.at < this.end && this.#bytes[this.at] <= 32) this.at++
  }
}

const isDigit = (byte: number) => byte >= ZERO && byte <= ZERO + 9
