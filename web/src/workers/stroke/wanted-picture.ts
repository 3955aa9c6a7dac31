import type { PicturePart } from './protocol.ts'

/**
 * Tells whether the picture that is shown is the one that is wanted by now. Each part is known by a text that
 * changes whenever the part does: it is wanted as soon as the page knows of it, and posted once the worker has been told.
 */
export class WantedPicture {
  readonly #wanted = new Map<PicturePart, string>()
  readonly #posted = new Map<PicturePart, string>()

  want(part: PicturePart, text: string): void {
    this.#wanted.set(part, text)
  }

  post(part: PicturePart, text: string): void {
    this.#wanted.set(part, text)
    this.#posted.set(part, text)
  }

  get wanted(): string {
    return hashOf(this.#wanted)
  }

  /** What a picture painted from all that was posted so far shows. */
  get posted(): string {
    return hashOf(this.#posted)
  }
}

/** FNV-1a, 32 bits: enough to tell one state of a page from the next. @see draft-eastlake-fnv */
function hashOf(parts: ReadonlyMap<PicturePart, string>): string {
  let hash = 0x811c9dc5
  for (const char of JSON.stringify([...parts].sort())) {
    hash = Math.imul(hash ^ (char.codePointAt(0) ?? 0), 0x01000193) >>> 0
  }
  return hash.toString(16)
}
