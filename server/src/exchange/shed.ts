import { createHash } from 'node:crypto'
import { existsSync, mkdirSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { LISTING_MAX_BYTES } from '@satchel/core/exchange/protocol'
import { FileShaText } from '@satchel/core/hashes'
import { packKey } from '@satchel/core/newer/origin'
import { isOlder, isVersion } from '@satchel/core/releases/version'
import * as v from 'valibot'
import type { ListedPack } from '../workers/list-pack.ts'
import { Item, type ShedItem } from './item.ts'
import { toItemPage } from './listing.ts'

const State = v.object({ name: v.string(), items: v.array(Item) })
type State = v.InferOutput<typeof State>

/** Why something is not taken, in a sentence, and the status of that. */
export class NotTaken extends Error {
  constructor(
    readonly status: 403 | 404 | 409 | 410 | 413 | 422,
    message: string,
  ) {
    super(message)
  }
}

const ITEMS_MAX = 2_000
const SLUG_MAX = 40

type ListPack = (input: { bytes: Uint8Array }) => Promise<ListedPack | { refused: string }>

/** What an exchange holds: its items in one file that is there whole or as it was, packs and pictures beside it by their hashes. */
export class Shed {
  readonly #folder: string
  readonly #file: string
  readonly #list: ListPack
  #state: State

  /** @param list Reads what is published: strangers send it, so it is done where it can be given up. */
  constructor(folder: string, name: string, list: ListPack) {
    this.#folder = folder
    this.#list = list
    this.#file = join(folder, 'exchange.json')
    for (const each of ['packs', 'pictures']) mkdirSync(join(folder, each), { recursive: true })
    this.#state = { name, items: [] }
    if (existsSync(this.#file)) {
      const read = v.safeParse(State, readJson(this.#file))
      if (!read.success)
        throw new Error(`What the exchange holds cannot be read (${this.#file}); move it away to begin a new one.`)
      this.#state = read.output
    }
  }

  get name(): string {
    return this.#state.name
  }

  /** What can be had, what was changed last first. */
  get items(): readonly ShedItem[] {
    return this.#state.items.filter(({ withdrawnAt }) => withdrawnAt === null)
  }

  find(id: string): ShedItem | undefined {
    return this.#state.items.find((item) => item.id === id)
  }

  readPack(sha256: string): Uint8Array {
    return readFileSync(join(this.#folder, 'packs', sha256))
  }

  readPicture(name: string): Uint8Array | undefined {
    const file = join(this.#folder, 'pictures', name)
    return existsSync(file) ? readFileSync(file) : undefined
  }

  /** Takes a release that its maker sends. The first one of an item says whose it is. @throws {NotTaken} With a sentence. */
  async publish(
    bytes: Uint8Array,
    { about, tags, notes, at = new Date() }: { about: string; tags: string[]; notes: string; at?: Date },
  ): Promise<ShedItem> {
    const pack = await this.#list({ bytes })
    if ('refused' in pack) throw new NotTaken(422, pack.refused)
    const { title, maker, licence, release: version } = pack.manifest
    if (!isVersion(version)) throw new NotTaken(422, 'The pack says of no release that it is; publish a release.')
    const id = idOf(pack)
    const before = this.find(id)
    if (before && before.signer !== pack.signer)
      throw new NotTaken(403, `"${title}" is here by another key; only who published it first can publish it again.`)
    if (!before && this.#state.items.length >= ITEMS_MAX) throw new NotTaken(409, 'The exchange is full.')
    const sha256 = v.parse(FileShaText, createHash('sha256').update(bytes).digest('hex'))
    const newest = before?.releases[0]
    // the same once more: an answer was lost
    if (before && newest?.sha256 === sha256 && before.withdrawnAt === null) return before
    if (newest && before.withdrawnAt === null && !isOlder(newest.version, version))
      throw new NotTaken(409, `"${title}" ${newest.version} is here already; publish a newer one.`)
    const strokes = new Map(pack.brushes.map(({ stroke }) => [strokeName(stroke), stroke]))
    const brushes = pack.manifest.brushes.map((brush, i) => toListed(pack, brush, i))
    const date = at.toISOString()
    const release = { version, date, notes, sha256, sizeBytes: bytes.length, signer: pack.signer }
    const others = (before?.releases ?? []).filter((each) => each.version !== version)
    const item: ShedItem = {
      ...{ id, title, maker, licence, about, tags, signer: pack.signer, pem: pack.pem, brushes, withdrawnAt: null },
      ...{ published: before?.published ?? date, releases: [release, ...others] },
    }
    const said = Buffer.byteLength(JSON.stringify(toItemPage(item)))
    if (said > LISTING_MAX_BYTES)
      throw new NotTaken(413, `All that is listed of "${title}" takes ${inMib(said)} MiB, and an exchange lists ${inMib(LISTING_MAX_BYTES)} MiB at most; publish a smaller pack.`) // biome-ignore format: one sentence
    writeFileSync(join(this.#folder, 'packs', sha256), bytes)
    for (const [name, png] of [...pack.pictures, ...strokes])
      writeFileSync(join(this.#folder, 'pictures', `${name}.png`), png)
    this.#keep({ items: [item, ...this.#state.items.filter((each) => each.id !== id)] })
    return item
  }

  /** Lets an item go: nothing of it can be had any more; its name stays its maker's. */
  withdraw(id: string, at: string): void {
    const items = this.#state.items.map((item) => (item.id === id ? { ...item, withdrawnAt: at, brushes: [] } : item))
    const before = this.find(id)
    this.#keep({ items })
    const still = new Set(items.flatMap(({ withdrawnAt, releases }) => (withdrawnAt ? [] : releases.map(({ sha256 }) => sha256)))) // biome-ignore format: one set
    for (const { sha256 } of before?.releases ?? [])
      if (!still.has(sha256)) rmSync(join(this.#folder, 'packs', sha256), { force: true })
    const shown = new Set(items.flatMap(({ brushes }) => brushes.flatMap(picturesOf)))
    for (const { brush, grain, stroke } of before?.brushes ?? [])
      for (const name of picturesOf({ brush, grain, stroke }))
        if (!shown.has(name)) rmSync(join(this.#folder, 'pictures', `${name}.png`), { force: true })
  }

  #keep(changes: Partial<State>): void {
    const next = { ...this.#state, ...changes }
    writeFileSync(`${this.#file}.new`, JSON.stringify(next))
    renameSync(`${this.#file}.new`, this.#file)
    this.#state = next
  }
}

const inMib = (bytes: number) => (bytes / 1024 ** 2).toFixed(1)
const strokeName = (png: Uint8Array) => `stroke-${createHash('sha256').update(png).digest('hex')}`

function toListed({ brushes }: ListedPack, brush: ListedPack['manifest']['brushes'][number], i: number) {
  const shown = brushes[i]
  if (!shown) throw new Error(`the pack lists no brush ${i}`)
  const grain = brush.recipe.ground.grain?.sha256 ?? null
  return { brush, grain, stroke: strokeName(shown.stroke), mark: Buffer.from(shown.mark).toString('base64url') }
}

const picturesOf = ({ brush, grain, stroke }: Pick<ShedItem['brushes'][number], 'brush' | 'grain' | 'stroke'>) => [
  ...brush.frames,
  ...(grain ? [grain] : []),
  stroke,
]

function readJson(file: string): unknown {
  try {
    return JSON.parse(readFileSync(file, 'utf8'))
  } catch {
    return undefined
  }
}

/** What an item is called in addresses: its title, and something of what all releases of its pack are known by. */
export function idOf({ manifest }: Pick<ListedPack, 'manifest'>): string {
  const slug = manifest.title
    .normalize('NFKD')
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .slice(0, SLUG_MAX)
    .replace(/^-|-$/g, '')
  const tail = createHash('sha256').update(packKey(manifest)).digest('hex').slice(0, 12)
  return slug ? `${slug}-${tail}` : tail
}
