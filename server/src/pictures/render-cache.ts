import { createHash, randomUUID } from 'node:crypto'
import { mkdir, readFile, rename, writeFile } from 'node:fs/promises'
import { join } from 'node:path'

/** Rendered pictures on this server's disk, named by what they were rendered from. May be thrown away at any time. */
export class RenderCache {
  readonly #folder: string
  readonly #making = new Map<string, Promise<Uint8Array>>()

  constructor(folder: string) {
    this.#folder = folder
  }

  /** The name of a rendering: equal inputs have equal names. It serves as ETag. */
  key(input: unknown): string {
    return createHash('sha256').update(JSON.stringify(input)).digest('hex')
  }

  /** The picture of that name, made once. */
  async get(key: string, make: () => Promise<Uint8Array>): Promise<Uint8Array> {
    const path = join(this.#folder, `${key}.png`)
    try {
      return new Uint8Array(await readFile(path))
    } catch (error) {
      if (!(error instanceof Error && 'code' in error && error.code === 'ENOENT')) throw error
    }
    const running = this.#making.get(key)
    if (running) return running
    const making = this.#make(path, make).finally(() => this.#making.delete(key))
    this.#making.set(key, making)
    return making
  }

  async #make(path: string, make: () => Promise<Uint8Array>): Promise<Uint8Array> {
    const bytes = await make()
    await mkdir(this.#folder, { recursive: true })
    const partial = `${path}.${randomUUID()}.partial`
    await writeFile(partial, bytes)
    await rename(partial, path)
    return bytes
  }
}
