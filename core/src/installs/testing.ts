import { sha256 as hashSha256 } from '@noble/hashes/sha2.js'
import { bytesToHex } from '@noble/hashes/utils.js'
import * as fc from 'fast-check'
import type { PlacedFile } from './places.ts'
import { carryOut, type Hand, keptFor, type Place, type Plan, pathsToRead, planFiles } from './places.ts'

/** The hash of a short text, as files of tests are. */
export const sha = (bytes: string): string => bytesToHex(hashSha256(new TextEncoder().encode(bytes)))

/** Whatever carries plans out, as the law below tries it. */
export type Placing = {
  /** What the person does there themselves; undefined deletes. */
  person(path: string, bytes: string | undefined): Promise<void> | void
  all(): Promise<Record<string, string>> | Record<string, string>
  /** Has bytes that an install will bring be known. @returns Their hash. */
  bring(bytes: string): string
  /** @param options.stopAt After so many steps it breaks off, the last one half done. */
  change(
    install: string,
    files: readonly PlacedFile[],
    options?: { repairs?: boolean; stopAt?: number | undefined },
  ): Promise<unknown>
  /** How many places are remembered, and how many covered files kept. */
  remembered(): Promise<number> | number
}

/** What a test throws where a change is to be broken off. */
export class Stopped extends Error {}

const PATHS = ['a.png', 'a 2.png', 'Shore/b', 'Shore/b.tune']
const INSTALLS = ['A', 'B', 'C', 'D']
/** Bytes that several installs bring, and a person has from the beginning, too. */
const SHARED = 'shared'

const stopAt = fc.option(fc.nat(12), { nil: undefined })
const install = fc.constantFrom(...INSTALLS)
const somePaths = fc.subarray(PATHS, { minLength: 1 })
type Operation =
  | { does: 'put'; install: string; paths: string[]; shared: boolean; stopAt: number | undefined }
  | { does: 'repair' | 'out'; install: string; stopAt: number | undefined }
  | { does: 'edit' | 'delete'; path: string }
const put = fc.record({ does: fc.constant('put' as const), install, paths: somePaths, shared: fc.boolean(), stopAt })
const other = fc.record({ does: fc.constantFrom('repair' as const, 'out' as const), install, stopAt })
const own = fc.record({
  does: fc.constantFrom('edit' as const, 'delete' as const),
  path: fc.constantFrom(...PATHS),
})
const operation: fc.Arbitrary<Operation> = fc.oneof(
  { weight: 4, arbitrary: put },
  { weight: 2, arbitrary: other },
  { weight: 3, arbitrary: own },
)

const check = (isSo: boolean, what: string) => {
  if (!isSo) throw new Error(what)
}

/**
 * The law of placing: after any sequence of puts, updates, repairs and take-outs of up to four installs whose files overlap,
 * with a person's own changes between, and a stop after any step, once all are out the folder holds the person's files byte
 * for byte and nothing of ours, and nothing is remembered.
 * @throws If it does not hold, with the shortest sequence.
 */
export const keepsTheLaw = (begin: (files: Record<string, string>) => Promise<Placing>, numRuns: number) =>
  fc.assert(
    fc.asyncProperty(
      fc.dictionary(fc.constantFrom(...PATHS), fc.constantFrom('first', SHARED), { maxKeys: 3 }),
      fc.array(operation, { maxLength: 14 }),
      tryLaw(begin),
    ),
    { numRuns },
  )

const tryLaw =
  (begin: (files: Record<string, string>) => Promise<Placing>) =>
  async (begins: Record<string, string>, operations: readonly Operation[]): Promise<void> => {
    let n = 0
    const begun = Object.fromEntries(
      Object.entries(begins).map(([at, bytes]) => [at, bytes === SHARED ? SHARED : `theirs ${at}`]),
    )
    const folder = await begin(begun)
    /** What the person has at each path that they did not write over or take away themselves, the newest last. */
    const theirs = new Map<string, string[]>(Object.entries(begun).map(([at, bytes]) => [at, [bytes]]))
    const ever = new Set(Object.values(begun))
    const held = new Map<string, PlacedFile[]>()
    // a stop may leave theirs uncovered that was to be covered: it is then taken for both
    const isStopped = operations.some((each) => 'stopAt' in each && each.stopAt !== undefined)
    for (const operation of operations) {
      if ('path' in operation) {
        const { path: at } = operation
        const seen = (await folder.all())[at]
        for (const [where, all] of theirs)
          theirs.set(
            where,
            all.filter((bytes) => bytes !== seen),
          )
        const bytes = operation.does === 'edit' ? `mine ${++n}` : undefined
        await folder.person(at, bytes)
        if (bytes === undefined) continue
        ever.add(bytes)
        theirs.set(at, [...(theirs.get(at) ?? []), bytes])
        continue
      }
      const before = held.get(operation.install) ?? []
      const files =
        operation.does === 'put'
          ? operation.paths.map((path) => {
              const bytes = operation.shared ? SHARED : `${operation.install} ${++n}`
              return { path, sha256: folder.bring(bytes) }
            })
          : operation.does === 'repair'
            ? before
            : []
      await folder.change(operation.install, files, {
        repairs: operation.does === 'repair',
        stopAt: operation.stopAt,
      })
      // what was given back beside another file of theirs lies there from now on
      for (const [where, bytes] of Object.entries(await folder.all()))
        for (const [at, all] of theirs)
          if (at !== where && bytes !== SHARED && all.includes(bytes)) {
            theirs.set(
              at,
              all.filter((each) => each !== bytes),
            )
            theirs.set(where, [...(theirs.get(where) ?? []), bytes])
          }
      // what was stopped is still held, until it is taken out whole
      held.set(operation.install, files.length > 0 || operation.stopAt === undefined ? files : before)
    }
    for (const each of INSTALLS) await folder.change(each, [])
    const all = await folder.all()
    const left = Object.values(all)
    for (const [at, bytes] of theirs) {
      for (const each of bytes) check(each === SHARED || left.includes(each), `"${each}" of "${at}" is lost`)
      const last = bytes.at(-1)
      if (last !== undefined && !bytes.includes(SHARED) && !isStopped)
        check(all[at] === last, `"${at}" holds "${all[at]}", not "${last}"`)
    }
    // where a stop left theirs uncovered and they wrote over it, what was kept of it may come back beside
    for (const bytes of left) check(bytes === SHARED || ever.has(bytes), `"${bytes}" is none of theirs`)
    const shared = (files: Record<string, string>) => Object.values(files).filter((bytes) => bytes === SHARED).length
    check(shared(all) <= shared(begun), 'bytes that both have are there more often than before')
    const different = new Set(left.filter((bytes) => bytes !== SHARED)).size
    check(different + shared(all) === left.length, 'something is there twice')
    check((await folder.remembered()) === 0, 'something is still remembered')
  }

/** A folder as a test has it, with what would be kept beside it. */
export class FolderInMemory implements Placing {
  readonly #places = new Map<string, Place>()
  readonly #kept = new Map<string, string>()
  readonly #files = new Map<string, string>()
  /** Bytes by their hash: what installs bring. */
  readonly #brought = new Map<string, string>()

  constructor(files: Record<string, string>) {
    for (const [path, bytes] of Object.entries(files)) this.person(path, bytes)
  }

  at = (path: string) => this.#files.get(path)
  all = () => Object.fromEntries(this.#files)
  remembered = () => this.#places.size + this.#kept.size

  bring(bytes: string): string {
    this.#brought.set(sha(bytes), bytes)
    return sha(bytes)
  }

  person(path: string, bytes: string | undefined): void {
    if (bytes === undefined) this.#files.delete(path)
    else this.#files.set(path, bytes)
  }

  async change(
    install: string,
    files: readonly PlacedFile[],
    { repairs = false, stopAt }: { repairs?: boolean; stopAt?: number | undefined } = {},
  ): Promise<Plan> {
    const names = [...this.#files.keys()]
    const there = new Map(
      [...pathsToRead(this.#places, files)].flatMap((path): [string, string][] => {
        const bytes = this.#files.get(path)
        return bytes === undefined ? [] : [[path, sha(bytes)]]
      }),
    )
    const plan = planFiles({ there, names, places: this.#places }, install, files, { repairs })
    let steps = 0
    const step = (half?: () => void) => {
      if (stopAt === undefined || steps++ < stopAt) return
      half?.()
      throw new Stopped()
    }
    try {
      await carryOut(plan, this.#handThat(step))
    } catch (error) {
      if (!(error instanceof Stopped)) throw error
    }
    const wanted = keptFor(this.#places)
    for (const sha256 of [...this.#kept.keys()]) if (!wanted.has(sha256)) this.#kept.delete(sha256)
    return plan
  }

  #handThat(step: (half?: () => void) => void): Hand {
    const shaAt = (path: string) => {
      const bytes = this.#files.get(path)
      return bytes === undefined ? undefined : sha(bytes)
    }
    return {
      keep: ({ path, sha256 }) => {
        step()
        check(shaAt(path) === sha256, `${path} is not what was to be kept`)
        this.#kept.set(sha256, this.#files.get(path) ?? '')
      },
      note: (changes) => {
        step()
        for (const [path, place] of changes)
          if (place) this.#places.set(path, place)
          else this.#places.delete(path)
      },
      write: ({ path, sha256, over }) => {
        step(() => {
          if (!this.#files.has(path)) this.#files.set(path, '')
        })
        check(shaAt(path) === over, `${path} is not what was planned over`)
        const bytes = this.#kept.get(sha256) ?? this.#brought.get(sha256)
        if (bytes === undefined) throw new Error(`nothing was kept for ${path}`)
        this.#files.set(path, bytes)
      },
      remove: ({ path, over }) => {
        step()
        check(shaAt(path) === over, `${path} is not what was to go`)
        this.#files.delete(path)
      },
    }
  }
}
