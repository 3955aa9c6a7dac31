import { openAsBlob } from 'node:fs'
import type { GenericSchema, InferOutput } from 'valibot'
import * as v from 'valibot'
import { FileProblem, toFileProblem, UsageError } from '../problems.ts'

/** How long the answer to a question may take, and to a file. */
const ANSWER_MS = 60_000
const FILE_MS = 30 * 60_000
/** No answer is longer: a page of a list has 200 lines. */
const ANSWER_MAX_CHARS = 32 * 1024 * 1024

const Refused = v.object({ title: v.string() })

/** What a workspace said against something, or that it said nothing, in one sentence. */
export class WorkspaceProblem extends FileProblem {
  /** What it answered with; none where it did not answer. */
  readonly status: number | undefined

  constructor(where: string, reason: string, options: ErrorOptions & { status?: number } = {}) {
    super(where, reason, options)
    this.status = options.status
  }

  /** Whether it may be over by itself: no answer, a server that begins or ends, too much at once. */
  get mayPass(): boolean {
    return this.status === undefined || this.status >= 500 || this.status === 429
  }
}

/** Where a workspace is, and by what one comes. The token is none of the options: those are seen by whoever lists programs. */
export type Where = { at?: string | undefined }

/** A running workspace, reached by a token. */
export class Workspace {
  readonly #at: URL
  readonly #token: string

  /** @throws {UsageError} Where it is not said where, or by what. */
  constructor({ at }: Where, env: NodeJS.ProcessEnv = process.env) {
    const address = at ?? env.SATCHEL_AT
    const token = env.SATCHEL_TOKEN?.trim()
    if (!address)
      throw new UsageError('Say where the workspace is: --at, or SATCHEL_AT, an address like https://satchel.example.')
    if (!URL.canParse(address) || !/^https?:$/.test(new URL(address).protocol))
      throw new UsageError(`"${address}" is no address of a workspace; it is like https://satchel.example.`)
    if (!token)
      throw new UsageError('Set SATCHEL_TOKEN to a token of the workspace; one is made on its page of members.')
    this.#at = new URL(address)
    this.#token = token
  }

  get shown(): string {
    return this.#at.origin
  }

  get<Schema extends GenericSchema>(path: string, schema: Schema): Promise<InferOutput<Schema>> {
    return this.#ask('GET', path, schema, {})
  }

  post<Schema extends GenericSchema>(path: string, schema: Schema, body: object = {}): Promise<InferOutput<Schema>> {
    const headers = { 'content-type': 'application/json' }
    return this.#ask('POST', path, schema, { headers, body: JSON.stringify(body) })
  }

  /** Sends a file as it lies on the disk; it is not read into memory. */
  async sendFile<Schema extends GenericSchema>(
    path: string,
    file: string,
    schema: Schema,
  ): Promise<InferOutput<Schema>> {
    const body = await openAsBlob(file).catch((error: unknown) => {
      throw toFileProblem(file, error)
    })
    return this.#ask('PUT', path, schema, { body, signal: AbortSignal.timeout(FILE_MS) })
  }

  async #ask<Schema extends GenericSchema>(
    method: string,
    path: string,
    schema: Schema,
    init: RequestInit,
  ): Promise<InferOutput<Schema>> {
    let response: Response
    let text: string
    try {
      response = await fetch(new URL(path, this.#at), {
        // where an address leads on to another one, the token is not taken along
        ...{ method, redirect: 'error', signal: AbortSignal.timeout(ANSWER_MS) },
        ...init,
        headers: { ...init.headers, authorization: `Bearer ${this.#token}` },
      })
      text = await readText(response)
    } catch (error) {
      throw new WorkspaceProblem(
        this.shown,
        'it does not answer, or not as a workspace does; check the address, and whether it runs.',
        {
          cause: error,
        },
      )
    }
    const answer = toJson(text)
    if (!response.ok) {
      const said = v.safeParse(Refused, answer)
      throw new WorkspaceProblem(
        this.shown,
        said.success ? said.output.title : `it answered ${response.status}; try again.`,
        { status: response.status },
      )
    }
    const result = v.safeParse(schema, answer)
    if (!result.success)
      throw new WorkspaceProblem(
        this.shown,
        'it answers in another way than this program knows; take the program that comes with it.',
        { status: response.status },
      )
    return result.output
  }
}

async function readText(response: Response): Promise<string> {
  const decoder = new TextDecoder()
  let text = ''
  for await (const piece of response.body ?? []) {
    text += decoder.decode(piece, { stream: true })
    if (text.length > ANSWER_MAX_CHARS) throw new Error('too long an answer')
  }
  return text + decoder.decode()
}

function toJson(text: string): unknown {
  try {
    return JSON.parse(text)
  } catch {
    return undefined
  }
}
