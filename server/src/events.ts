import { EventEmitter } from 'node:events'
import pg from 'pg'
import type { Log } from './log.ts'

const CHANNEL = 'satchel_events'
const RETRY_MS = 1000

/** Something changed in a workspace: which kind of thing, and which one. */
export type SatchelEvent = {
  workspaceId: string
  topic:
    | 'job'
    | 'gather'
    | 'library'
    | 'packs'
    | 'parcels'
    | 'pockets'
    | 'sources'
    | 'fit'
    | 'marks'
    | 'looks'
    | 'members'
    | 'presence'
    | 'followed'
  id?: string
}

/** What moves lines of a library's lists. */
type ChangeTopic = 'library' | 'marks' | 'looks'
const isChange = (topic: SatchelEvent['topic']): topic is ChangeTopic =>
  topic === 'library' || topic === 'marks' || topic === 'looks'

/** Carries events between all servers of one database, by LISTEN and NOTIFY. */
export class EventBus {
  readonly #pool: pg.Pool
  readonly #url: string
  readonly #log: Log
  readonly #emitter = new EventEmitter().setMaxListeners(0)
  #client: pg.Client | undefined
  #isListening = false
  #retry: NodeJS.Timeout | undefined
  #closed = false

  constructor(pool: pg.Pool, url: string, log: Log) {
    this.#pool = pool
    this.#url = url
    this.#log = log
  }

  /** Listens, and goes on for ever: where the database is away, it is asked again until it is back. */
  async listen(): Promise<void> {
    const client = new pg.Client({ connectionString: this.#url, keepAlive: true })
    const lost = (error?: Error) => {
      client.removeAllListeners('end')
      void client.end().catch(() => undefined)
      this.#reconnect(error)
    }
    client.on('error', lost)
    client.once('end', lost)
    client.on('notification', ({ payload }) => {
      if (payload) this.#emit(JSON.parse(payload) as SatchelEvent)
    })
    this.#client = client
    try {
      await client.connect()
      await client.query(`listen ${CHANNEL}`)
      this.#isListening = true
    } catch (error) {
      lost(error as Error)
      throw error
    }
  }

  #reconnect(error?: Error): void {
    if (this.#closed || !this.#client) return
    this.#client = undefined
    this.#isListening = false
    this.#emitter.emit('change', undefined)
    this.#log.warn({ err: error }, 'no event connection, trying again')
    this.#retry = setTimeout(
      () =>
        this.listen().then(
          () => this.#emitter.emit('missed'),
          () => undefined, // tried again, and told, already
        ),
      RETRY_MS,
    )
  }

  get isListening(): boolean {
    return this.#isListening
  }

  #emit(event: SatchelEvent): void {
    this.#emitter.emit('event', event)
    this.#tellChange(event)
  }

  #tellChange({ topic, workspaceId }: SatchelEvent): void {
    if (isChange(topic)) this.#emitter.emit('change', workspaceId, topic)
  }

  /**
   * @param listener Called with the workspace whose library changed, or what is known of its marks or looks; without one
   *   when changes may have been missed.
   */
  onChange(listener: (workspaceId: string | undefined, topic?: ChangeTopic) => void): void {
    this.#emitter.on('change', listener)
  }

  async publish(event: SatchelEvent): Promise<void> {
    // This server's own next answer is right already, before the database passes the event on.
    this.#tellChange(event)
    await this.#pool.query('select pg_notify($1, $2)', [CHANNEL, JSON.stringify(event)])
  }

  /**
   * @param onMissed Called when events may have been lost on the way.
   * @returns How to stop listening.
   */
  subscribe(workspaceId: string, listener: (event: SatchelEvent) => void, onMissed: () => void): () => void {
    const filtered = (event: SatchelEvent) => {
      if (event.workspaceId === workspaceId) listener(event)
    }
    this.#emitter.on('event', filtered)
    this.#emitter.on('missed', onMissed)
    return () => {
      this.#emitter.off('event', filtered)
      this.#emitter.off('missed', onMissed)
    }
  }

  /** Tells this server's live streams that somebody has signed out; those of others look for themselves. */
  endSession(sessionId: string): void {
    this.#emitter.emit('session', sessionId)
  }

  /** @returns How to stop listening. */
  onSessionEnd(sessionId: string, listener: () => void): () => void {
    const filtered = (ended: string) => {
      if (ended === sessionId) listener()
    }
    this.#emitter.on('session', filtered)
    return () => this.#emitter.off('session', filtered)
  }

  async close(): Promise<void> {
    this.#closed = true
    clearTimeout(this.#retry)
    await this.#client?.end()
  }
}
