import type { GatherFile } from '../db/gathers.ts'
import type { Deps } from '../deps.ts'
import type { JobContext } from '../queue/queue.ts'

/** Where a line stands in the ledger, and the set it would go to. */
export type LineHead = { folder: string; path: string; setName: string }

/** Files on their way for each thread: one is read while what came of another is stored. */
export const READ_AHEAD = 2

const TELL_MS = 300

/** How far reading is, in pictures: a loose file counts one, an archive all that is in it. */
export class ReadingProgress {
  #total = 0
  #done = 0
  #toldAt = 0
  readonly #tell: (done: number, total: number) => void

  constructor(tell: (done: number, total: number) => void) {
    this.#tell = tell
  }

  /** Whether it is time again to tell of new lines: not more often than a page can follow. */
  isDue(now: number): boolean {
    if (now - this.#toldAt < TELL_MS) return false
    this.#toldAt = now
    return true
  }

  /** Some that were not known of before. */
  expect(count: number): void {
    this.#total += count
    this.#report()
  }

  finish(count = 1): void {
    this.#done += count
    this.#report()
  }

  #report(): void {
    this.#tell(Math.min(this.#done, this.#total), this.#total)
  }
}

/** One file being read. */
export type Reader = {
  deps: Deps
  file: GatherFile
  context: JobContext<'gather-read'>
  progress: ReadingProgress
  /** A folder for what has to be unpacked before it is read. */
  scratch: string
  /** What all archives in the file unpack to, so far. */
  unpackedBytes: number
  /** The next line's number within the file. */
  ordinal: number
}
