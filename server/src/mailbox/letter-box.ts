import { randomUUID } from 'node:crypto'
import { mkdirSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs'
import { rename, rm } from 'node:fs/promises'
import { join } from 'node:path'
import PostalMime, { type Email } from 'postal-mime'
import { SMTPServer } from 'smtp-server'

/** A letter is no longer. */
export const LETTER_MAX_BYTES = 1024 * 1024
/** The newest are kept, the others go. */
const KEPT = 2000
/** How long a sender may say nothing. */
const SILENT_MS = 30_000

/**
 * Addresses that behave like those out there which do not simply take mail: common practice for trying a sender, the replies
 * as RFC 5321, 4.2.3, has them.
 */
const DIFFICULT: readonly { at: RegExp; code: number; reply: string; times: number }[] = [
  { at: /@gone\.example$/i, code: 550, reply: 'No such mailbox here', times: Number.POSITIVE_INFINITY },
  { at: /@busy\.example$/i, code: 451, reply: 'Try again later', times: 1 },
]

export type Letter = { id: string; at: Date; to: string; email: Email }

/** A mailbox for everybody: a receiver of SMTP that keeps what comes as files, whoever it is for. */
export class LetterBox {
  readonly #folder: string
  readonly #refusals = new Map<string, number>()
  readonly #server: SMTPServer

  constructor(folder: string) {
    this.#folder = folder
    mkdirSync(folder, { recursive: true })
    this.#server = new SMTPServer({
      authOptional: true,
      disabledCommands: ['AUTH', 'STARTTLS'],
      size: LETTER_MAX_BYTES,
      socketTimeout: SILENT_MS,
      closeTimeout: 1000,
      maxClients: 50,
      logger: false,
      onRcptTo: ({ address }, _session, answer) => answer(this.#difficulty(address)),
      onData: (stream, session, answer) => {
        const parts: Buffer[] = []
        stream.on('data', (part: Buffer) => {
          if (!stream.sizeExceeded) parts.push(part)
        })
        stream.on('error', () => undefined)
        stream.on('end', () => {
          if (stream.sizeExceeded) return answer(refusal(552, 'This letter is too large'))
          const to = session.envelope.rcptTo.map(({ address }) => address).join(', ')
          this.#keep(Buffer.concat(parts), to).then(
            (id) => answer(null, `Taken as ${id}`),
            () => answer(refusal(452, 'There is no room')),
          )
        })
      },
    })
    this.#server.on('error', () => undefined)
  }

  /** @returns The port that it listens on, of this machine alone. */
  listen(port = 0): Promise<number> {
    return new Promise((done, fail) => {
      this.#server.once('error', fail)
      const listening = this.#server.listen(port, '127.0.0.1', () => {
        const address = listening.address()
        done(typeof address === 'object' && address ? address.port : port)
      })
    })
  }

  close(): Promise<void> {
    return new Promise((done) => this.#server.close(() => done()))
  }

  /** What lies there, newest first. */
  ids(): string[] {
    return readdirSync(this.#folder)
      .filter((name) => name.endsWith('.eml'))
      .map((name) => name.slice(0, -'.eml'.length))
      .sort()
      .reverse()
  }

  async read(id: string): Promise<Letter | undefined> {
    if (!/^[\w-]{1,80}$/.test(id)) return undefined
    const path = join(this.#folder, `${id}.eml`)
    try {
      const bytes = readFileSync(path)
      const email = await PostalMime.parse(bytes, { maxNestingDepth: 10, maxHeadersSize: 65_536 })
      return { id, at: statSync(path).mtime, to: (email.to ?? []).map(({ address }) => address).join(', '), email }
    } catch {
      return undefined
    }
  }

  /** Written beside first: a letter is there whole, or not at all. */
  async #keep(bytes: Uint8Array, to: string): Promise<string> {
    const id = `${String(Date.now()).padStart(15, '0')}-${randomUUID()}`
    const path = join(this.#folder, `${id}.eml`)
    writeFileSync(`${path}.part`, Buffer.concat([Buffer.from(`X-Envelope-To: ${to}\r\n`), bytes]))
    await rename(`${path}.part`, path)
    for (const old of this.ids().slice(KEPT)) await rm(join(this.#folder, `${old}.eml`), { force: true })
    return id
  }

  #difficulty(address: string): Error | null {
    const found = DIFFICULT.find(({ at }) => at.test(address))
    const refused = this.#refusals.get(address) ?? 0
    if (!found || refused >= found.times) return null
    this.#refusals.set(address, refused + 1)
    return refusal(found.code, found.reply)
  }
}

const refusal = (responseCode: number, message: string) => Object.assign(new Error(message), { responseCode })
