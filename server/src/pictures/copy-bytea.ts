import { Transform, type TransformCallback } from 'node:stream'

// PostgreSQL's binary COPY: an 11-byte signature, 4 bytes of flags, the length of an extension; then tuples of a
// 16-bit field count (-1 ends) and each field as a 32-bit length (-1 is null) and its bytes.
// https://www.postgresql.org/docs/15/sql-copy.html, "Binary Format"
const HEADER_BYTES = 19
const TUPLE_HEAD_BYTES = 6

/** Passes on the bytes of the one bytea column of a binary COPY, without gathering them. */
export class CopyBytea extends Transform {
  #pending: Buffer = Buffer.alloc(0)
  #inHeader = true
  #left = 0
  #ended = false

  override _transform(chunk: Buffer, _encoding: BufferEncoding, done: TransformCallback): void {
    let data = this.#pending.length > 0 ? Buffer.concat([this.#pending, chunk]) : chunk
    this.#pending = Buffer.alloc(0)
    while (data.length > 0 && !this.#ended) {
      if (this.#left > 0) {
        const part = data.subarray(0, this.#left)
        this.push(part)
        this.#left -= part.length
        data = data.subarray(part.length)
        continue
      }
      const need = this.#inHeader ? HEADER_BYTES : this.#isEnd(data) ? 2 : TUPLE_HEAD_BYTES
      if (data.length < need) {
        this.#pending = data
        break
      }
      if (this.#inHeader) this.#inHeader = false
      else if (need === 2) this.#ended = true
      else this.#left = data.readInt32BE(2)
      data = data.subarray(need)
    }
    done()
  }

  #isEnd(data: Buffer): boolean {
    return data.length >= 2 && data.readInt16BE(0) === -1
  }
}
