import { createReadStream } from 'node:fs'
import type { Readable } from 'node:stream'
import { DeleteObjectsCommand, GetObjectCommand, HeadObjectCommand, S3Client } from '@aws-sdk/client-s3'
import { Upload } from '@aws-sdk/lib-storage'
import { StoreAway } from '../errors.ts'
import type { StoreAddress } from './store-address.ts'

const PART_BYTES = 16 * 1024 * 1024
/** Parts of one file that are on their way at once, each in memory. */
const PARTS_AT_ONCE = 2
const CONNECT_MS = 3_000
/** A connection on which nothing moves for so long is given up. */
const STILL_MS = 20_000
const TRIES = 3

/** Files in a store that speaks S3's protocol; every object is written once, under a name of its own. */
export class ObjectStore {
  readonly #client: S3Client
  readonly #bucket: string
  readonly #prefix: string

  readonly #stillMs: number

  /** @param options.stillMs How long a connection may stand still; shorter for tests. */
  constructor({ endpoint, bucket, prefix, keyId, secret, region }: StoreAddress, { stillMs = STILL_MS } = {}) {
    this.#stillMs = stillMs
    this.#client = new S3Client({
      endpoint,
      region,
      credentials: { accessKeyId: keyId, secretAccessKey: secret },
      // most stores answer under one host, and know no checksums but the one that signs a request
      forcePathStyle: true,
      requestChecksumCalculation: 'WHEN_REQUIRED',
      responseChecksumValidation: 'WHEN_REQUIRED',
      maxAttempts: TRIES,
      requestHandler: { connectionTimeout: CONNECT_MS, socketTimeout: stillMs },
    })
    this.#bucket = bucket
    this.#prefix = prefix
  }

  /** Writes a file of this disk. @throws {StoreAway} Where the store does not take it. */
  async put(name: string, path: string, signal?: AbortSignal): Promise<void> {
    const upload = new Upload({
      client: this.#client,
      params: { Bucket: this.#bucket, Key: this.#prefix + name, Body: createReadStream(path) },
      partSize: PART_BYTES,
      queueSize: PARTS_AT_ONCE,
    })
    const stop = () => void upload.abort()
    signal?.addEventListener('abort', stop, { once: true })
    try {
      await this.#ask(() => upload.done())
    } finally {
      signal?.removeEventListener('abort', stop)
    }
  }

  /** The bytes of an object; undefined where there is none of that name. @throws {StoreAway} Where the store fails. */
  async get(name: string): Promise<AsyncIterable<Uint8Array> | undefined> {
    try {
      const { Body } = await this.#client.send(new GetObjectCommand({ Bucket: this.#bucket, Key: this.#prefix + name }))
      return whileItMoves(Body as Readable, this.#stillMs)
    } catch (error) {
      if (isMissing(error)) return undefined
      throw away(error)
    }
  }

  /** Whether there is an object of that name. @throws {StoreAway} Where the store fails. */
  async has(name: string): Promise<boolean> {
    try {
      await this.#client.send(new HeadObjectCommand({ Bucket: this.#bucket, Key: this.#prefix + name }))
      return true
    } catch (error) {
      if (isMissing(error)) return false
      throw away(error)
    }
  }

  /** Deletes objects, a thousand at most; one that is not there is no failure. @returns Those that are gone. */
  async remove(names: readonly string[]): Promise<string[]> {
    if (names.length === 0) return []
    const Objects = names.map((name) => ({ Key: this.#prefix + name }))
    const { Errors } = await this.#ask(() =>
      this.#client.send(new DeleteObjectsCommand({ Bucket: this.#bucket, Delete: { Objects, Quiet: true } })),
    )
    const kept = new Set(Errors?.map(({ Key }) => Key))
    return names.filter((name) => !kept.has(this.#prefix + name))
  }

  close(): void {
    this.#client.destroy()
  }

  async #ask<Answer>(request: () => Promise<Answer>): Promise<Answer> {
    try {
      return await request()
    } catch (error) {
      throw away(error)
    }
  }
}

const isMissing = (error: unknown): boolean =>
  error instanceof Error && (error.name === 'NoSuchKey' || error.name === 'NotFound')

/** What the store said, without its address. */
const away = (error: unknown): StoreAway => new StoreAway(error instanceof Error ? error.name : 'it gave no answer')

/** The client watches a connection until its answer begins; from then on this does. */
async function* whileItMoves(body: Readable, stillMs: number): AsyncGenerator<Uint8Array> {
  let timer: NodeJS.Timeout | undefined
  const wait = () => {
    clearTimeout(timer)
    timer = setTimeout(() => body.destroy(new StoreAway('it stopped in the middle')), stillMs)
  }
  try {
    wait()
    for await (const chunk of body) {
      wait()
      yield chunk
    }
  } catch (error) {
    throw error instanceof StoreAway ? error : away(error)
  } finally {
    clearTimeout(timer)
    body.destroy()
  }
}
