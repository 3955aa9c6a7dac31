import type { IncomingMessage } from 'node:http'

/** How long a request may come without a byte, and how long one may take that is no upload. */
export type Patience = { stallMs: number; bodyMs: number }
export const PATIENCE: Patience = { stallMs: 60_000, bodyMs: 300_000 }

/** What may take as long as its bytes go on coming. */
const UPLOAD = /^\/api\/(gathers\/[^/]+\/(files|uploads)|library)/

type Watched = { since: number; bytes: number; movedAt: number }

/**
 * Ends requests whose bytes have stopped coming, so that nobody holds a connection by sending nothing. Node's own bound
 * counts the whole request, which a large upload over a slow line cannot keep.
 */
export class StallWatch {
  readonly #patience: Patience
  readonly #watched = new Map<IncomingMessage, Watched>()
  readonly #timer: NodeJS.Timeout

  constructor(patience: Patience) {
    this.#patience = patience
    this.#timer = setInterval(() => this.#look(), patience.stallMs / 4).unref()
  }

  add(request: IncomingMessage): void {
    const now = Date.now()
    this.#watched.set(request, { since: now, bytes: request.socket.bytesRead, movedAt: now })
    request.once('close', () => this.#watched.delete(request))
  }

  #look(): void {
    const now = Date.now()
    for (const [request, watched] of this.#watched) {
      if (request.complete) {
        this.#watched.delete(request)
        continue
      }
      const { bytesRead } = request.socket
      if (bytesRead !== watched.bytes) Object.assign(watched, { bytes: bytesRead, movedAt: now })
      const isLong = now - watched.since > this.#patience.bodyMs && !UPLOAD.test(request.url ?? '')
      if (isLong || now - watched.movedAt > this.#patience.stallMs) request.destroy()
    }
  }

  close(): void {
    clearInterval(this.#timer)
  }
}
