import type { SeenFile } from './look.ts'
import { type Listed, notLookedYet, settleSight, sight, type Watching } from './steady.ts'
import { COUNTED, type DayCounts, NOTHING_TOLD } from './told.ts'

/** How a folder is followed at the workspace just now. */
export type Following = {
  /** The day of the workspace, YYYY-MM-DD. */
  day: string
  /** Paths of files whose bytes are wanted. */
  wanted: readonly string[]
  /** Files that are being read. */
  reading: number
  /** What the day has brought so far. */
  today: DayCounts
}

/** What following a folder needs of where it lies, and of the workspace. */
export type Ports = {
  /** All files of the folder. */
  list(): Promise<readonly Listed[]>
  /** The SHA-256 of a file; undefined where it changed while it was read, or is gone. */
  hash(file: Listed): Promise<string | undefined>
  /** Tells how the folder is. */
  look(files: readonly SeenFile[]): Promise<Following & { before: DayCounts }>
  /** Sends a file. @returns Whether it still was what it was told as. */
  send(path: string, sha256: string): Promise<boolean>
  how(): Promise<Following>
  pause(ms: number): Promise<void>
}

/** What one look came to. */
export type Looked = {
  /** What it has brought; undefined where there was nothing to tell. */
  brought: DayCounts | undefined
  /** Whether something is being written, or was not there a moment ago: the next look will tell. */
  isMoving: boolean
}

/** A folder in which nothing happens says so often that it is still followed. */
export const SIGN_MS = 60_000
const READ_LOOK_MS = 300

/** Follows one folder, a look at a time; what a look was told of and could not finish, the next one does. */
export class FolderFollower {
  readonly #ports: Ports
  #watching: Watching = notLookedYet()
  #said: string | undefined
  #saidMs = Number.NEGATIVE_INFINITY

  constructor(ports: Ports) {
    this.#ports = ports
  }

  /** Looks at the folder once. @param nowMs A clock that only goes forward. */
  async look(nowMs: number): Promise<Looked> {
    const now = await this.#ports.list()
    const { toHash, waiting } = sight(this.#watching, now)
    const read = new Map<string, string>()
    for (const file of toHash) {
      const sha256 = await this.#ports.hash(file)
      if (sha256) read.set(file.path, sha256)
    }
    const { seen, watching } = settleSight(this.#watching, now, read)
    this.#watching = watching
    let isMoving = waiting.length > 0 || read.size < toHash.length
    const said = JSON.stringify(seen)
    if (said === this.#said && nowMs - this.#saidMs < SIGN_MS) return { brought: undefined, isMoving }
    const { before, ...first } = await this.#ports.look(seen)
    for (const path of first.wanted) {
      const sha256 = watching.hashed.get(path)?.sha256
      if (!sha256 || !(await this.#ports.send(path, sha256))) isMoving = true
    }
    const last = await this.#whenRead(first)
    // what could not be sent is told again
    if (last.wanted.length === 0) [this.#said, this.#saidMs] = [said, nowMs]
    return { brought: last.day === first.day ? minus(last.today, before) : last.today, isMoving }
  }

  async #whenRead(first: Following): Promise<Following> {
    if (first.wanted.length === 0 && first.reading === 0) return first
    for (;;) {
      const how = await this.#ports.how()
      if (how.reading === 0) return how
      await this.#ports.pause(READ_LOOK_MS)
    }
  }
}

const each = (count: (kind: keyof DayCounts) => number): DayCounts => ({
  ...NOTHING_TOLD,
  ...Object.fromEntries(COUNTED.map((kind) => [kind, count(kind)])),
})
const minus = (a: DayCounts, b: DayCounts) => each((kind) => Math.max(0, a[kind] - b[kind]))

/** What two looks have brought together. */
export const together = (a: DayCounts, b: DayCounts): DayCounts => each((kind) => a[kind] + b[kind])
