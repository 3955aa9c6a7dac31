import { createReadStream, rmSync, writeFileSync } from 'node:fs'
import { createServer, type Server } from 'node:http'
import { join } from 'node:path'
import { pipeline } from 'node:stream/promises'
import { sendFile } from '../../server/src/hand-out/send-file.ts'
import { compare } from './rounds.ts'
import { atLeast, type Row } from './rows.ts'

export async function handOutRows(folder: string): Promise<Row[]> {
  const path = join(folder, 'large.bin')
  const sizeBytes = 300 * 1024 * 1024
  writeFileSync(path, Buffer.alloc(sizeBytes, 7))
  let peak = 0
  const watch = setInterval(() => {
    peak = Math.max(peak, process.memoryUsage().rss)
  }, 20)
  const start = (
    answer: (...args: Parameters<Parameters<typeof createServer>[1] & object>) => void,
  ): Promise<{ url: string; server: Server }> =>
    new Promise((done) => {
      const server = createServer(answer)
      server.listen(0, '127.0.0.1', () => {
        const address = server.address()
        done({ server, url: `http://127.0.0.1:${typeof address === 'object' ? address?.port : ''}/` })
      })
    })
  const ours = await start(
    (request, response) =>
      void sendFile(request, response, {
        path,
        sizeBytes,
        etag: '"x"',
        headers: { 'content-type': 'application/zip' },
      }),
  )
  const bare = await start((_request, response) => void pipeline(createReadStream(path), response))
  const before = process.memoryUsage().rss
  const result = await compare(
    () => download(ours.url),
    () => download(bare.url),
    5,
  )
  clearInterval(watch)
  ours.server.close()
  bare.server.close()
  rmSync(path)
  const rate = (time: number) => `${Math.round(300 / (time / 1000))} MiB/s`
  const grownMib = Math.max(0, peak - before) / 1024 / 1024
  return [
    atLeast(
      'a 300 MB hand-out against a bare Node file stream (rate)',
      rate(result.ours),
      rate(result.reference),
      result.reference / result.ours,
      0.8,
    ),
    {
      what: 'memory while it streams: growth at most',
      ours: `${Math.round(grownMib)} MiB`,
      reference: '300 MiB file',
      ratio: grownMib / 300,
      wanted: '≤ 0.4',
      met: grownMib / 300 <= 0.4,
    },
  ]
}

async function download(url: string): Promise<number> {
  const response = await fetch(url)
  let bytes = 0
  if (response.body) for await (const chunk of response.body) bytes += chunk.length
  return bytes
}
