import { createHash } from 'node:crypto'
import type { PlacedFile } from './compare-folder.ts'
import { carryOut, EMPTY_SHA, type Hand, keptFor, type Place, type Plan, pathsToRead, planFiles } from './places.ts'

export const sha = (bytes: string): string => createHash('sha256').update(bytes).digest('hex')

class Stopped extends Error {}

/** A folder as a test has it, with what a page would keep beside it; every step may be the last. */
export class FolderInMemory {
  readonly places = new Map<string, Place>()
  readonly kept = new Map<string, string>()
  readonly #files = new Map<string, string>()
  /** Bytes by their hash: what installs bring. */
  readonly #brought = new Map<string, string>([[EMPTY_SHA, '']])

  constructor(files: Record<string, string>) {
    for (const [path, bytes] of Object.entries(files)) this.person(path, bytes)
  }

  at = (path: string) => this.#files.get(path)
  all = () => Object.fromEntries(this.#files)

  bring(bytes: string): string {
    this.#brought.set(sha(bytes), bytes)
    return sha(bytes)
  }

  /** What the person does there themselves. */
  person(path: string, bytes: string | undefined): void {
    if (bytes === undefined) this.#files.delete(path)
    else this.#files.set(path, bytes)
  }

  /** @param options.stopAt After so many steps it breaks off, the last one half done. */
  async change(
    install: string,
    files: readonly PlacedFile[],
    { repairs = false, stopAt }: { repairs?: boolean; stopAt?: number | undefined } = {},
  ): Promise<Plan> {
    for (const { sha256 } of files) if (!this.#brought.has(sha256)) this.#learn(sha256)
    const names = [...this.#files.keys()]
    const there = new Map(
      [...pathsToRead(this.places, files)].flatMap((path): [string, string][] => {
        const bytes = this.#files.get(path)
        return bytes === undefined ? [] : [[path, sha(bytes)]]
      }),
    )
    const plan = planFiles({ there, names, places: this.places }, install, files, { repairs })
    let steps = 0
    const step = (half?: () => void) => {
      if (stopAt === undefined || steps++ < stopAt) return
      half?.()
      throw new Stopped()
    }
    const hand: Hand = {
      keep: ({ path, sha256 }) => {
        step()
        const bytes = this.#files.get(path)
        if (bytes === undefined || sha(bytes) !== sha256) throw new Error(`${path} is not what was to be kept`)
        this.kept.set(sha256, bytes)
      },
      note: (changes) => {
        step()
        for (const [path, place] of changes)
          if (place) this.places.set(path, place)
          else this.places.delete(path)
      },
      write: ({ path, sha256, over }) => {
        step(() => {
          if (!this.#files.has(path)) this.#files.set(path, '')
        })
        const now = this.#files.get(path)
        if ((now === undefined ? undefined : sha(now)) !== over) throw new Error(`${path} is not what was planned over`)
        const bytes = this.kept.get(sha256) ?? this.#brought.get(sha256)
        if (bytes === undefined) throw new Error(`nothing was kept for ${path}`)
        this.#files.set(path, bytes)
      },
      remove: ({ path, over }) => {
        step()
        if (sha(this.#files.get(path) ?? '') !== over) throw new Error(`${path} is not what was to go`)
        this.#files.delete(path)
      },
    }
    try {
      await carryOut(plan, hand)
    } catch (error) {
      if (!(error instanceof Stopped)) throw error
    }
    const wanted = keptFor(this.places)
    for (const sha256 of [...this.kept.keys()]) if (!wanted.has(sha256)) this.kept.delete(sha256)
    return plan
  }

  /** The short bytes of tests whose hash a file names. */
  #learn(sha256: string): void {
    for (const bytes of ['a', 'a2', 'b', 'same']) if (sha(bytes) === sha256) this.#brought.set(sha256, bytes)
  }
}
