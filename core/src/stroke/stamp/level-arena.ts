import type { Level } from '../levels.ts'

const ALIGN_BYTES = 16

/** Copies levels into a part of the kernel's memory as they are read; when it is full, it starts anew. */
export class LevelArena {
  readonly #room: Uint8Array
  readonly #offsets = new Map<Level, number>()
  #used = 0

  /** @param room As large as the largest level at least. */
  constructor(room: Uint8Array) {
    this.#room = room
  }

  /** Where a level lies, in bytes from the start of the memory; until the next call. */
  offsetOf(level: Level): number {
    const found = this.#offsets.get(level)
    if (found !== undefined) return found
    if (this.#used + level.data.length > this.#room.length) {
      this.#offsets.clear()
      this.#used = 0
    }
    this.#room.set(level.data, this.#used)
    const offset = this.#room.byteOffset + this.#used
    this.#offsets.set(level, offset)
    this.#used = Math.ceil((this.#used + level.data.length) / ALIGN_BYTES) * ALIGN_BYTES
    return offset
  }
}
