import { once } from 'node:events'
import { type FileHandle, open } from 'node:fs/promises'
import type { IncomingMessage, ServerResponse } from 'node:http'
import { lengthOf, type Stretch } from '@satchel/core/formats/zip/part'
import pLimit from 'p-limit'
import parseRanges from 'range-parser'

const CHUNK_BYTES = 256 * 1024
/** Chunks of all downloads that are handed on between two looks at other requests: these wait for no more than that. */
const turns = pLimit(1)

/** A part of a file: first and last byte, both included. */
type ByteRange = { first: number; last: number }

/** One range of bytes as a Range header must say it (RFC 9110, section 14.1.2); the parser is more lenient. */
const RANGE = /^(?:(\d{1,16})-(\d{0,16})|-\d{1,16})$/
/** A header longer than this asks for more ranges than anybody is given. */
const HEADER_MAX_CHARS = 200

/**
 * The part of a file that a Range header asks for.
 * @returns `undefined` to send the whole file (no header, another unit, none that is well formed, or several ranges, which
 * a server may ignore); `unsatisfiable` where nothing of the file lies in it.
 */
export function toByteRange(header: string | undefined, sizeBytes: number): ByteRange | undefined | 'unsatisfiable' {
  if (!header?.startsWith('bytes=') || header.length > HEADER_MAX_CHARS) return undefined
  const said = RANGE.exec(header.slice('bytes='.length).trim())
  if (!said) return undefined
  const ranges = parseRanges(sizeBytes, header)
  // a range whose end lies before its start is malformed, not out of reach
  if (ranges === -1) return said[2] && Number(said[2]) < Number(said[1]) ? undefined : 'unsatisfiable'
  if (ranges === -2 || ranges.length !== 1) return undefined
  const [range] = ranges
  return range && { first: range.start, last: range.end }
}

export type FileToSend = {
  path: string
  /** What is sent of that file, and what between; the whole of it where that is not said. */
  stretches?: readonly Stretch[]
  /** How long what is sent is. */
  sizeBytes: number
  etag: string
  headers: Record<string, string>
}

/** How sending went: to the file's last byte, no further than was asked for, or broken off before that. */
export type Sent = 'end' | 'part' | 'broken'

/**
 * Streams a file by Node's own response, which is several times faster than a web stream; answers Range, If-Range and
 * If-None-Match.
 */
export async function sendFile(request: IncomingMessage, response: ServerResponse, file: FileToSend): Promise<Sent> {
  const { etag, sizeBytes } = file
  for (const [name, value] of Object.entries(file.headers)) response.setHeader(name, value)
  response.setHeader('etag', etag)
  response.setHeader('accept-ranges', 'bytes')
  if (request.headers['if-none-match'] === etag) {
    response.writeHead(304).end()
    return 'part'
  }
  const ifRange = request.headers['if-range']
  const range = ifRange === undefined || ifRange === etag ? toByteRange(request.headers.range, sizeBytes) : undefined
  if (range === 'unsatisfiable') {
    response.writeHead(416, { 'content-range': `bytes */${sizeBytes}` }).end()
    return 'part'
  }
  const part: ByteRange = range ?? { first: 0, last: sizeBytes - 1 }
  response.statusCode = range ? 206 : 200
  response.setHeader('content-length', part.last - part.first + 1)
  if (range) response.setHeader('content-range', `bytes ${range.first}-${range.last}/${sizeBytes}`)
  const stretches = file.stretches ?? [{ at: 0, length: sizeBytes }]
  const isSent = await sendPart({ path: file.path, stretches }, part, response)
  if (!isSent) return 'broken'
  return part.last === sizeBytes - 1 ? 'end' : 'part'
}

/**
 * Sends a part of a file as fast as it is taken, in turns with other downloads; ends early where nobody takes it any more.
 * @returns Whether all of it was taken.
 */
async function sendPart(
  { path, stretches }: { path: string; stretches: readonly Stretch[] },
  { first, last }: ByteRange,
  response: ServerResponse,
): Promise<boolean> {
  // Who left while the file was fetched is not heard leaving any more.
  if (response.closed || response.destroyed) return false
  const gone = new AbortController()
  response.once('close', () => gone.abort())
  const file = await open(path)
  try {
    const reader = openStretches(file, stretches, first)
    for (let at = first; at <= last && !gone.signal.aborted; ) {
      const { filled, isTaken } = await turns(async () => {
        const chunk = Buffer.allocUnsafe(Math.min(CHUNK_BYTES, last - at + 1))
        const filled = await reader.fill(chunk)
        return { filled, isTaken: filled === 0 || response.write(chunk.subarray(0, filled)) }
      })
      if (filled === 0) throw new Error(`${path} is shorter than it was`)
      at += filled
      if (!isTaken) await once(response, 'drain', { signal: gone.signal })
    }
    if (gone.signal.aborted) return false
    const finished = once(response, 'finish', { signal: gone.signal })
    response.end()
    await finished
    return true
  } catch (error) {
    // The person closed the page in the middle; nothing is left to answer.
    if (gone.signal.aborted) return false
    // Its length was promised: who takes it must see that it ends too early, and not wait for the rest.
    response.destroy()
    throw error
  } finally {
    await file.close()
  }
}

/** Reads stretches one behind another, from a place of the whole on. */
function openStretches(file: FileHandle, stretches: readonly Stretch[], first: number) {
  let [which, within] = [0, first]
  for (let stretch = stretches[which]; stretch && within >= lengthOf(stretch); stretch = stretches[which]) {
    within -= lengthOf(stretch)
    which++
  }
  return {
    /** Fills a buffer as far as there is anything: many small stretches come in one piece. @returns How much there was. */
    async fill(buffer: Buffer): Promise<number> {
      let filled = 0
      while (filled < buffer.length) {
        const stretch = stretches[which]
        if (!stretch) break
        const length = Math.min(buffer.length - filled, lengthOf(stretch) - within)
        if ('bytes' in stretch) buffer.set(stretch.bytes.subarray(within, within + length), filled)
        else {
          const { bytesRead } = await file.read(buffer, filled, length, stretch.at + within)
          if (bytesRead < length) {
            // what was read counts; a file that is too short shows at the next time, which brings nothing
            within += bytesRead
            return filled + bytesRead
          }
        }
        filled += length
        within += length
        if (within < lengthOf(stretch)) continue
        within = 0
        which++
      }
      return filled
    },
  }
}
