/** The chunks of a request's body; nothing where it has none. */
export async function* bodyOf(request: Request): AsyncGenerator<Uint8Array> {
  if (request.body) for await (const chunk of request.body) yield chunk
}

/** A request's body in memory; undefined as soon as more has come than is taken. */
export async function readAtMost(request: Request, maxBytes: number): Promise<Uint8Array | undefined> {
  const chunks: Uint8Array[] = []
  let size = 0
  for await (const chunk of bodyOf(request)) {
    size += chunk.length
    if (size > maxBytes) return undefined
    chunks.push(chunk)
  }
  return new Uint8Array(Buffer.concat(chunks))
}
