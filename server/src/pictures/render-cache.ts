import { createHash, randomUUID } from 'node:crypto'
import { mkdir, open, readFile, rename, rm } from 'node:fs/promises'
import { join } from 'node:path'
import { askAs, whoAsks } from '../asking.ts'
import { UnderWay } from './under-way.ts'

/** A file begins with the hash of what follows: what was changed or cut is seen, and rendered anew. */
const HASH_BYTES = 32
const hashOf = (bytes: Uint8Array) => createHash('sha256').update(bytes).digest()

/** A picture on its way: it goes on as long as anybody waits for it. */
type Making = { picture: Promise<Uint8Array>; waiting: number; abort: AbortController }

/** Rendered pictures on this server's disk, named by what they were rendered from. May be thrown away at any time. */
export class RenderCache {
  readonly #folder: string
  readonly #making = new Map<string, Making>()
  readonly #underWay = new UnderWay()

  constructor(folder: string) {
    this.#folder = folder
  }

  /** The name of a rendering: equal inputs have equal names. It serves as ETag. */
  key(input: unknown): string {
    return createHash('sha256').update(JSON.stringify(input)).digest('hex')
  }

  /** The picture of that name where it was made before. */
  peek(key: string): Promise<Uint8Array | undefined> {
    return readSound(this.#pathOf(key))
  }

  /** The picture of that name, made once. */
  async get(key: string, make: () => Promise<Uint8Array>): Promise<Uint8Array> {
    const path = this.#pathOf(key)
    return (await readSound(path)) ?? this.#wait(key, path, make)
  }

  /** Waits for pictures that are being made, also for nobody any more. */
  settled(): Promise<void> {
    return this.#underWay.ended()
  }

  #pathOf(key: string): string {
    return join(this.#folder, `${key}.png`)
  }

  /** Waits for a picture with all others that do; whoever leaves does not end it for them. */
  async #wait(key: string, path: string, make: () => Promise<Uint8Array>): Promise<Uint8Array> {
    const { signal } = whoAsks()
    signal?.throwIfAborted()
    const making = this.#making.get(key) ?? this.#begin(key, path, make)
    making.waiting++
    let leave: (() => void) | undefined
    try {
      const left = new Promise<never>((_, fail) => {
        leave = () => fail(signal?.reason)
        signal?.addEventListener('abort', leave, { once: true })
      })
      return await Promise.race([making.picture, left])
    } finally {
      if (leave) signal?.removeEventListener('abort', leave)
      making.waiting--
      if (making.waiting === 0) {
        making.abort.abort()
        // whoever comes now begins anew, and does not meet what is just being ended
        if (this.#making.get(key) === making) this.#making.delete(key)
      }
    }
  }

  #begin(key: string, path: string, make: () => Promise<Uint8Array>): Making {
    const abort = new AbortController()
    const picture = this.#underWay.add(askAs({ signal: abort.signal }, () => this.#make(path, make)))
    const making = { picture, waiting: 0, abort }
    this.#making.set(key, making)
    const forget = () => this.#making.get(key) === making && this.#making.delete(key)
    // that it failed is told to those who wait
    picture.then(forget, forget)
    return making
  }

  async #make(path: string, make: () => Promise<Uint8Array>): Promise<Uint8Array> {
    const bytes = await make()
    await mkdir(this.#folder, { recursive: true })
    const partial = `${path}.${randomUUID()}.partial`
    try {
      const file = await open(partial, 'wx')
      try {
        await file.writev([hashOf(bytes), bytes])
        await file.sync()
      } finally {
        await file.close()
      }
      await rename(partial, path)
    } finally {
      await rm(partial, { force: true })
    }
    return bytes
  }
}

/** A cached picture; undefined where there is none, or another one than was written. */
async function readSound(path: string): Promise<Uint8Array | undefined> {
  try {
    const file = await readFile(path)
    const picture = file.subarray(HASH_BYTES)
    return file.length > HASH_BYTES && hashOf(picture).equals(file.subarray(0, HASH_BYTES))
      ? new Uint8Array(picture)
      : undefined
  } catch (error) {
    if (error instanceof Error && 'code' in error && error.code === 'ENOENT') return undefined
    throw error
  }
}
