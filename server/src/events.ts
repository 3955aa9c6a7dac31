import { EventEmitter } from 'node:events'
import pg from 'pg'
import type { Logger } from 'pino'

const CHANNEL = 'satchel_events'
const RETRY_MS = 1000

/** Something changed in a workspace: which kind of thing, and which one. */
export type SatchelEvent = {
  workspaceId: string
  topic: 'job' | 'gather' | 'library' | 'packs' | 'pockets'
  id?: string
}

/** Carries events between all servers of one database, by LISTEN and NOTIFY. */
export class EventBus {
  readonly #pool: pg.Pool
  readonly #url: string
  readonly #log: Logger
  readonly #emitter = new EventEmitter().setMaxListeners(0)
  #client: pg.Client | undefined
  #closed = false

  constructor(pool: pg.Pool, url: string, log: Logger) {
    this.#pool = pool
    this.#url = url
    this.#log = log
  }

  async listen(): Promise<void> {
    const client = new pg.Client({ connectionString: this.#url })
    client.on('error', (error) => this.#reconnect(error))
    client.on('end', () => this.#reconnect())
    client.on('notification', ({ payload }) => {
      if (payload) this.#emit(JSON.parse(payload) as SatchelEvent)
    })
    await client.connect()
    await client.query(`listen ${CHANNEL}`)
    this.#client = client
  }

  get isListening(): boolean {
    return this.#client !== undefined
  }

  #emit(event: SatchelEvent): void {
    this.#emitter.emit('event', event)
    if (event.topic === 'library') this.#emitter.emit('change', event.workspaceId)
  }

  /** @param listener Called with the workspace whose library changed; without one when changes may have been missed. */
  onChange(listener: (workspaceId: string | undefined) => void): void {
    this.#emitter.on('change', listener)
  }

  #reconnect(error?: Error): void {
    if (this.#closed || !this.#client) return
    this.#client = undefined
    this.#emitter.emit('change', undefined)
    this.#log.warn({ err: error }, 'lost the event connection, trying again')
    setTimeout(
      () => this.listen().catch((cause: Error) => this.#log.error({ err: cause }, 'event connection')),
      RETRY_MS,
    )
  }

  async publish(event: SatchelEvent): Promise<void> {
    // This server's own next answer is right already, before the database passes the event on.
    if (event.topic === 'library') this.#emitter.emit('change', event.workspaceId)
    await this.#pool.query('select pg_notify($1, $2)', [CHANNEL, JSON.stringify(event)])
  }

  /** @returns How to stop listening. */
  subscribe(workspaceId: string, listener: (event: SatchelEvent) => void): () => void {
    const filtered = (event: SatchelEvent) => {
      if (event.workspaceId === workspaceId) listener(event)
    }
    this.#emitter.on('event', filtered)
    return () => this.#emitter.off('event', filtered)
  }

  async close(): Promise<void> {
    this.#closed = true
    await this.#client?.end()
  }
}
