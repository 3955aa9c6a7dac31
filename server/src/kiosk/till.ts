import { randomUUID } from 'node:crypto'
import { existsSync, mkdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { Webhook } from 'standardwebhooks'
import * as v from 'valibot'

const text = v.pipe(v.string(), v.maxLength(2000))
const Product = v.object({ code: text, title: text, price: text })
const Order = v.object({
  id: text, product: text, name: text, email: text, at: text, refundedAt: v.nullable(text),
}) // biome-ignore format: two lines
const Told = v.object({
  id: text,
  body: v.string(),
  /** What the other side said last, and when it is tried again; never where it took it or was given up. */
  said: text,
  tries: v.number(),
  nextAt: v.nullable(v.number()),
  isTaken: v.boolean(),
})
const State = v.object({
  name: text,
  /** Who is told of sales, and the secret that signs it. */
  tells: v.nullable(v.object({ address: text, secret: text })),
  products: v.array(Product),
  orders: v.array(Order),
  events: v.array(Told),
})
export type State = v.InferOutput<typeof State>
export type Order = State['orders'][number]

/** How long is waited after each try that was not taken, seconds. */
const WAITS_S = [2, 5, 30, 120, 600, 3600, 7200] as const
const LOOK_MS = 1000
const ANSWER_MS = 10_000
/** Orders and events that are kept: the newest. */
const KEPT = 2000

function readJson(file: string): unknown {
  try {
    return JSON.parse(readFileSync(file, 'utf8'))
  } catch {
    return undefined
  }
}

/** A shop's book, kept as one file that is there whole or as it was; and the messenger that tells of each sale until it is heard. */
export class Till {
  readonly #file: string
  readonly #timer: NodeJS.Timeout
  #isTelling = false
  #state: State

  constructor(folder: string, first: Partial<State> = {}) {
    mkdirSync(folder, { recursive: true })
    this.#file = join(folder, 'shop.json')
    this.#state = { name: 'Corner Kiosk', tells: null, products: [], orders: [], events: [], ...first }
    if (existsSync(this.#file)) {
      const read = v.safeParse(State, readJson(this.#file))
      // a book that cannot be read is not written over
      if (!read.success)
        throw new Error(`The shop's book ${this.#file} cannot be read; move it away to begin a new one.`)
      this.#state = read.output
      // where the other side is, is said anew with each start
      if (first.tells) this.#state.tells = first.tells
    } else this.#keep()
    this.#timer = setInterval(() => void this.tell(), LOOK_MS)
  }

  get state(): State {
    return this.#state
  }

  close(): void {
    clearInterval(this.#timer)
  }

  set(changes: Partial<Pick<State, 'name' | 'tells'>>): void {
    this.#state = { ...this.#state, ...changes }
    this.#keep()
  }

  addProduct(product: State['products'][number]): void {
    const others = this.#state.products.filter(({ code }) => code !== product.code)
    this.#state = { ...this.#state, products: [...others, product] }
    this.#keep()
  }

  dropProduct(code: string): void {
    this.#state = { ...this.#state, products: this.#state.products.filter((each) => each.code !== code) }
    this.#keep()
  }

  /** Sells something. @returns Nothing where there is no such product. */
  sell(product: string, name: string, email: string): Order | undefined {
    if (!this.#state.products.some(({ code }) => code === product)) return undefined
    const at = new Date().toISOString()
    const order = { id: `K-${randomUUID().slice(0, 8)}`, product, name, email, at, refundedAt: null }
    this.#state = { ...this.#state, orders: [order, ...this.#state.orders].slice(0, KEPT) }
    this.#say('purchase.paid', at, { order: order.id, product, buyer: { name, email } })
    return order
  }

  /** Gives the money back, once. */
  refund(id: string): void {
    const at = new Date().toISOString()
    const order = this.#state.orders.find((each) => each.id === id)
    if (!order || order.refundedAt !== null) return
    order.refundedAt = at
    this.#say('purchase.refunded', at, { order: id })
  }

  /** Tells something once more: the other side has to see that it knows it. */
  again(id: string): void {
    const event = this.#state.events.find((each) => each.id === id)
    if (!event) return
    Object.assign(event, { nextAt: Date.now(), tries: 0 })
    this.#keep()
    void this.tell()
  }

  #say(type: string, timestamp: string, data: object): void {
    const event = { id: `msg_${randomUUID()}`, body: JSON.stringify({ type, timestamp, data }) }
    const told = { ...event, said: '', tries: 0, nextAt: Date.now(), isTaken: false }
    this.#state = { ...this.#state, events: [told, ...this.#state.events].slice(0, KEPT) }
    this.#keep()
    void this.tell()
  }

  /** Tells what is due, the oldest first. */
  async tell(): Promise<void> {
    const { tells } = this.#state
    if (this.#isTelling || !tells) return
    this.#isTelling = true
    try {
      const due = this.#state.events.filter(({ nextAt }) => nextAt !== null && nextAt <= Date.now()).reverse()
      for (const event of due) await this.#tellOne(event, tells)
    } finally {
      this.#isTelling = false
    }
  }

  async #tellOne(event: State['events'][number], { address, secret }: NonNullable<State['tells']>): Promise<void> {
    const at = new Date()
    let said: string
    let isTaken = false
    try {
      const answer = await fetch(address, {
        method: 'POST',
        headers: {
          'content-type': 'application/json',
          'webhook-id': event.id,
          'webhook-timestamp': String(Math.floor(at.getTime() / 1000)),
          'webhook-signature': new Webhook(secret).sign(event.id, at, event.body),
        },
        body: event.body,
        redirect: 'error',
        signal: AbortSignal.timeout(ANSWER_MS),
      })
      isTaken = answer.ok
      said = `${answer.status} ${(await answer.text()).slice(0, 300)}`
    } catch (error) {
      said = error instanceof Error ? error.message : String(error)
    }
    const wait = WAITS_S[event.tries]
    Object.assign(event, {
      ...{ said, isTaken: isTaken || event.isTaken, tries: event.tries + 1 },
      nextAt: isTaken || wait === undefined ? null : Date.now() + 1000 * wait,
    })
    this.#keep()
  }

  /** Written beside first: the book is whole, whatever breaks off. */
  #keep(): void {
    writeFileSync(`${this.#file}.part`, JSON.stringify(this.#state), { mode: 0o600 })
    renameSync(`${this.#file}.part`, this.#file)
  }
}
