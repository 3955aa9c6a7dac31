import type { HttpBindings } from '@hono/node-server'
import { Problem } from '../errors.ts'

/** A request, and the connection that it comes on. */
type Asked = { req: { raw: Request }; env: Partial<HttpBindings> | undefined }

/**
 * The chunks of a request's body; nothing where it has none. What is not taken stays to be read: `readRest` does, before an
 * answer goes out.
 * @throws {Problem} 400 where its sender has left before all of it had come: the platform ends such a body like any other.
 */
export async function* bodyOf({ req, env }: Asked): AsyncGenerator<Uint8Array> {
  const { body } = req.raw
  if (body) for await (const chunk of body.values({ preventCancel: true })) yield chunk
  if (env?.incoming?.complete === false)
    throw new Problem(400, 'It broke off before all of it had come; send it again.')
}

/** A request's body in memory; undefined as soon as more has come than is taken. */
export async function readAtMost(asked: Asked, maxBytes: number): Promise<Uint8Array | undefined> {
  const chunks: Uint8Array[] = []
  let size = 0
  for await (const chunk of bodyOf(asked)) {
    size += chunk.length
    if (size > maxBytes) return undefined
    chunks.push(chunk)
  }
  return new Uint8Array(Buffer.concat(chunks))
}

/** How much of a body that nobody wants is read all the same, and how long for. */
const REST_MAX_BYTES = 8 * 1024 * 1024
const REST_MS = 2_000

/**
 * Reads what is left of a body that was answered before all of it had come: unread, it would be taken for the next request
 * on its connection.
 * @returns Whether all of it was read; otherwise the connection is of no use any more.
 */
export async function readRest(request: Request): Promise<boolean> {
  if (!request.body) return true
  if (request.body.locked) return false
  const reader = request.body.getReader()
  let timer: NodeJS.Timeout | undefined
  const late = new Promise<undefined>((done) => {
    timer = setTimeout(done, REST_MS, undefined)
  })
  try {
    for (let size = 0; size <= REST_MAX_BYTES; ) {
      const read = await Promise.race([reader.read(), late])
      if (!read) return false
      if (read.done) return true
      size += read.value.length
    }
    return false
  } catch {
    // its sender has left
    return false
  } finally {
    clearTimeout(timer)
    reader.releaseLock()
  }
}
