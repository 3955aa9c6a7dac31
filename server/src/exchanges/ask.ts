import { LISTING_MAX_BYTES, type Listing, type ListingKind } from '@satchel/core/exchange/protocol'
import { toOneLine } from '@satchel/core/formats/text'
import { whoAsks } from '../asking.ts'
import type { Deps } from '../deps.ts'
import { Problem } from '../errors.ts'

/** How long an exchange may take to answer, all of the answer included; and with a pack. */
const ANSWER_MS = 10_000
const PACK_MS = 10 * 60_000
/** What a picture may be. */
export const PICTURE_MAX_BYTES = 16 * 1024 ** 2
const SAID_MAX_CHARS = 300

/** How an exchange failed, in one sentence that names it. */
export class ExchangeProblem extends Problem {
  constructor(
    status: 404 | 502 | 504,
    sentence: string,
    /** What it answered with; none where it did not. */
    readonly answered?: number,
  ) {
    super(status, sentence)
  }
}

/** The addresses of exchanges that are reached from here: who runs the server says which, nobody else. */
export function findExchange(exchanges: readonly string[], host: string): string {
  const origin = exchanges.find((each) => new URL(each).host === host)
  if (!origin)
    throw new ExchangeProblem(404, 'No such exchange is reached from here; who runs this server says which are.')
  return origin
}

type Sent = { method: 'PUT' | 'POST'; body: Uint8Array; type: string }

/** An exchange: what it says is read elsewhere, within a time and a size; it leads nowhere else. */
export class Exchange {
  readonly #origin: string
  readonly #workers: Deps['workers']

  constructor(origin: string, { workers }: Pick<Deps, 'workers'>) {
    this.#origin = origin
    this.#workers = workers
  }

  get host(): string {
    return new URL(this.#origin).host
  }

  /** Asks for a listing. @throws {ExchangeProblem} Where it does not answer so. */
  async ask<Kind extends ListingKind>(path: string, kind: Kind, sent?: Sent): Promise<Listing<Kind>> {
    const bytes = await this.#bytes(path, LISTING_MAX_BYTES, sent ? PACK_MS : ANSWER_MS, sent)
    return this.#read(bytes, kind)
  }

  /** A picture, as it lies there: a PNG by its first bytes. */
  async picture(path: string): Promise<Uint8Array> {
    const bytes = await this.#bytes(path, PICTURE_MAX_BYTES, ANSWER_MS)
    if (!PNG.every((byte, i) => bytes[i] === byte)) throw this.#wrong('a picture of it is no PNG')
    return bytes
  }

  /** A pack, piece by piece. */
  async *pack(path: string): AsyncGenerator<Uint8Array> {
    const response = await this.#fetch(path, PACK_MS)
    try {
      for await (const piece of response.body ?? []) yield piece
    } catch (error) {
      throw this.#silent(error)
    }
  }

  async #bytes(path: string, most: number, ms: number, sent?: Sent): Promise<Uint8Array> {
    const response = await this.#fetch(path, ms, sent)
    return this.#whole(response, most)
  }

  async #whole(response: Response, most: number): Promise<Uint8Array> {
    const pieces: Uint8Array[] = []
    let size = 0
    try {
      for await (const piece of response.body ?? []) {
        size += piece.length
        if (size > most) break
        pieces.push(piece)
      }
    } catch (error) {
      throw this.#silent(error)
    }
    if (size > most) throw this.#wrong(`its answer is longer than ${most / 1024 ** 2} MiB`)
    return new Uint8Array(Buffer.concat(pieces))
  }

  async #fetch(path: string, ms: number, sent?: Sent): Promise<Response> {
    const { signal: until } = whoAsks()
    let response: Response
    try {
      response = await fetch(new URL(path, this.#origin), {
        redirect: 'error',
        // whoever asked for it may stop waiting, as a job does that is stopped
        signal: AbortSignal.any([AbortSignal.timeout(ms), ...(until ? [until] : [])]),
        headers: sent ? { 'content-type': sent.type } : {},
        ...(sent ? { method: sent.method, body: new Uint8Array(sent.body) } : {}),
      })
    } catch (error) {
      throw this.#silent(error)
    }
    if (response.ok) return response
    const said = await this.#refusal(response)
    throw new ExchangeProblem(
      response.status === 404 || response.status === 410 ? 404 : 502,
      said
        ? `The exchange ${this.host} says: ${said}`
        : `The exchange ${this.host} answered ${response.status}; try again later.`,
      response.status,
    )
  }

  async #refusal(response: Response): Promise<string | undefined> {
    try {
      const { title } = await this.#read(await this.#whole(response, LISTING_MAX_BYTES), 'refusal')
      return toOneLine(title, SAID_MAX_CHARS)
    } catch {
      return undefined
    }
  }

  async #read<Kind extends ListingKind>(bytes: Uint8Array, kind: Kind): Promise<Listing<Kind>> {
    const read = await this.#workers.run('readListing', { bytes, kind })
    if ('wrong' in read) throw this.#wrong(toOneLine(read.wrong, SAID_MAX_CHARS))
    return read.said as Listing<Kind>
  }

  #wrong(what: string): ExchangeProblem {
    return new ExchangeProblem(
      502,
      `The exchange ${this.host} answers in another way than exchanges do (${what}); nothing was taken.`,
    )
  }

  #silent(error: unknown): ExchangeProblem {
    if (error instanceof ExchangeProblem) return error
    return error instanceof Error && error.name === 'TimeoutError'
      ? new ExchangeProblem(504, `The exchange ${this.host} takes too long to answer; try again later.`)
      : new ExchangeProblem(502, `The exchange ${this.host} does not answer, or broke off; try again later.`)
  }
}

const PNG = [0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]
