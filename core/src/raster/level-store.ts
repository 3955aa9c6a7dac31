/**
 * Beyond this a level of a picture has one sample a canvas pixel rather than two: exact on whole pixels only, and a
 * quarter as large.
 */
export const DENSE_BYTES_MAX = 4 << 20

type Sized = { data: Uint8Array }

/** What the levels of one brush may take together, in bytes; those not read for longest go first. */
const KEPT_BYTES_MAX = 48 << 20

/** Keeps levels by key within a budget: what was made for a size serves the next stroke of that size. */
export class LevelStore<Level extends Sized> {
  readonly #kept = new Map<string, Level>()
  #bytes = 0
  #ids = 0

  /** A number that no other frame of this store has, to begin its keys with. */
  newId(): number {
    return this.#ids++
  }

  keep(key: string, make: () => Level): Level {
    const found = this.#kept.get(key)
    if (found) {
      this.#kept.delete(key)
      this.#kept.set(key, found)
      return found
    }
    const made = make()
    this.#kept.set(key, made)
    this.#bytes += made.data.length
    for (const [oldest, level] of this.#kept) {
      if (this.#bytes <= KEPT_BYTES_MAX || level === made) break
      this.#kept.delete(oldest)
      this.#bytes -= level.data.length
    }
    return made
  }
}
