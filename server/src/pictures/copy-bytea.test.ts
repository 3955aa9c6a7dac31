import { randomBytes } from 'node:crypto'
import { Readable } from 'node:stream'
import fc from 'fast-check'
import { expect, it } from 'vitest'
import { CopyBytea } from './copy-bytea.ts'

/** A binary COPY of one bytea column, by PostgreSQL's published description of the format. */
function copyOf(fields: readonly Uint8Array[]): Buffer {
  const head = Buffer.concat([Buffer.from('PGCOPY\n\u00ff\r\n\0', 'latin1'), Buffer.alloc(8)])
  const tuples = fields.flatMap((field) => {
    const lead = Buffer.alloc(6)
    lead.writeInt16BE(1, 0)
    lead.writeInt32BE(field.length, 2)
    return [lead, Buffer.from(field)]
  })
  return Buffer.concat([head, ...tuples, Buffer.from([0xff, 0xff])])
}

it('takes the bytes out of a binary COPY, however the stream is cut', async () => {
  await fc.assert(
    fc.asyncProperty(
      fc.array(fc.nat(40), { maxLength: 5 }),
      fc.integer({ min: 1, max: 30 }),
      async (lengths, chunk) => {
        const fields = lengths.map((length) => new Uint8Array(randomBytes(length)))
        const wire = copyOf(fields)
        const pieces = Array.from({ length: Math.ceil(wire.length / chunk) }, (_, i) =>
          wire.subarray(i * chunk, (i + 1) * chunk),
        )
        const out: Buffer[] = []
        for await (const part of Readable.from(pieces).pipe(new CopyBytea())) out.push(part)
        expect(Buffer.concat(out).equals(Buffer.concat(fields.map((field) => Buffer.from(field))))).toBe(true)
      },
    ),
    { numRuns: 60 },
  )
})
