/** Numbers whose count is not known beforehand, in one typed array that doubles. */
export class Growing<Numbers extends Float32Array | Uint32Array> {
  #data: Numbers
  count = 0
  readonly #make: (length: number) => Numbers

  constructor(make: (length: number) => Numbers) {
    this.#make = make
    this.#data = make(3072)
  }

  push(a: number, b: number, c: number): void {
    if (this.count + 3 > this.#data.length) {
      const larger = this.#make(2 * this.#data.length)
      larger.set(this.#data)
      this.#data = larger
    }
    this.#data[this.count++] = a
    this.#data[this.count++] = b
    this.#data[this.count++] = c
  }

  /** What was pushed, without the room behind it. */
  done(): Numbers {
    return this.#data.slice(0, this.count) as Numbers
  }
}
