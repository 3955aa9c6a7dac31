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

/** An address that takes every letter, and sends it back a moment later: its server learns only then that there is nobody. */
const RETURNS_LATER = /@late\.example$/i

export type Letter = { id: string; at: Date; to: string; email: Email }

/** A mailbox for everybody: a receiver of SMTP that keeps what comes as files, whoever it is for. */
export class LetterBox {
  readonly #folder: string
  readonly #returnTo: () => string | undefined
  readonly #refusals = new Map<string, number>()
  readonly #server: SMTPServer

  /** @param returnTo Where letters are handed to that come back; without it they do not. */
  constructor(folder: string, returnTo: () => string | undefined = () => undefined) {
    this.#folder = folder
    this.#returnTo = returnTo
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
          const { mailFrom, rcptTo } = session.envelope
          const to = rcptTo.map(({ address }) => address).join(', ')
          this.#keep(Buffer.concat(parts), to).then(
            (id) => {
              answer(null, `Taken as ${id}`)
              for (const { address } of rcptTo)
                if (mailFrom && RETURNS_LATER.test(address)) void this.#sendBack(mailFrom.address, address)
            },
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

  /** Hands a report to whoever the letter came from, as a mail server does that finds out too late. */
  async #sendBack(from: string, address: string): Promise<void> {
    const returnTo = this.#returnTo()
    if (!returnTo) return
    const where = `${returnTo}?${new URLSearchParams({ to: from })}`
    const headers = { 'content-type': 'message/rfc822' }
    // whoever does not listen is not told again
    await fetch(where, { method: 'POST', headers, body: reportOf(from, address) }).catch(() => undefined)
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

/** A report that a letter could not be delivered, as RFC 3464 has it. */
const reportOf = (from: string, address: string) =>
  [
    'From: Mail Delivery <postmaster@late.example>',
    `To: ${from}`,
    'Subject: Not delivered',
    'MIME-Version: 1.0',
    'Content-Type: multipart/report; report-type=delivery-status; boundary="returned"',
    '',
    '--returned',
    'Content-Type: text/plain; charset=utf-8',
    '',
    `Your letter to ${address} could not be delivered.`,
    '--returned',
    'Content-Type: message/delivery-status',
    '',
    'Reporting-MTA: dns; late.example',
    '',
    `Final-Recipient: rfc822; ${address}`,
    'Action: failed',
    'Status: 5.1.1',
    'Diagnostic-Code: smtp; 550 There is nobody of this name any more',
    '',
    '--returned--',
    '',
  ].join('\r\n')
