import { toByteSource } from '@satchel/core/formats/zip/layout'
import { listZip, readZipEntry } from '@satchel/core/formats/zip/read'
import { ZipWriter } from '@satchel/core/formats/zip/write'
import { expect, it } from 'vitest'
import { nodeZipCodecs } from '../workers/codec.ts'
import type { WorkerPool } from '../workers/pool.ts'
import { threadCodecs } from './thread-codecs.ts'

it('unpacks what is large in a thread, and what is damaged there is told as ever', async () => {
  const sizes = [1000, 3_000_000]
  const zip = new ZipWriter()
  const parts = sizes.flatMap((size) =>
    zip.add(
      `${size}.bin`,
      Uint8Array.from({ length: size }, (_, i) => i * i),
      'deflate',
    ),
  )
  const source = toByteSource(new Uint8Array(Buffer.concat([...parts, ...zip.finish()])))
  const inThreads: number[] = []
  const pool = (answer: (packed: Uint8Array, sizeBytes: number) => Uint8Array) =>
    ({
      run: async (_task: string, { packed, sizeBytes }: { packed: Uint8Array; sizeBytes: number }) => {
        inThreads.push(sizeBytes)
        return answer(packed, sizeBytes)
      },
    }) as unknown as WorkerPool
  const entries = await listZip(source)
  const codecs = threadCodecs(pool(nodeZipCodecs.inflateRaw))
  for (const [i, entry] of entries.entries())
    expect(await readZipEntry(source, entry, codecs)).toHaveLength(sizes[i] ?? 0)
  expect(inThreads).toEqual([3_000_000])
  const broken = threadCodecs(
    pool(() => {
      throw new Error('unexpected end')
    }),
  )
  const [, large] = entries
  if (!large) throw new Error('no large entry')
  await expect(readZipEntry(source, large, broken)).rejects.toThrow('"3000000.bin" to unpack')
})
