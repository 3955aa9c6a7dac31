import { request } from 'node:http'
import type { AddressInfo } from 'node:net'
import { expect, it } from 'vitest'
import { listen } from './server.ts'

/** A server that answers with how many bytes came. */
const counting = {
  fetch: async (asked: Request) => new Response(String((await asked.arrayBuffer()).byteLength)),
}

/** Sends a body piece by piece. @returns What was answered, or the code of the failure. */
function send(port: number, path: string, pieces: (string | (() => Promise<unknown>))[]): Promise<string> {
  return new Promise((done) => {
    const upload = request({ port, path, method: 'PUT', headers: { 'transfer-encoding': 'chunked' } })
    upload.once('response', (response) => {
      let text = ''
      response.on('data', (data) => {
        text += data
      })
      response.once('end', () => done(text))
    })
    upload.once('error', (error: NodeJS.ErrnoException) => done(error.code ?? error.message))
    void (async () => {
      for (const piece of pieces) {
        if (typeof piece === 'string') upload.write(piece)
        else await piece()
      }
      upload.end()
    })()
  })
}
const pause = (ms: number) => () => new Promise((done) => setTimeout(done, ms))

it('keeps a connection open for longer than clients and proxies do', async () => {
  const server = await listen(counting, { host: '127.0.0.1', port: 0 })
  const { port } = server.address() as AddressInfo
  const answer = await fetch(`http://127.0.0.1:${port}/`, { method: 'PUT', body: 'a' })
  // a minute is common practice among both
  const [, seconds] = /^timeout=(\d+)$/.exec(answer.headers.get('keep-alive') ?? '') ?? []
  expect(Number(seconds)).toBeGreaterThan(60)
  await answer.text()
  if ('closeAllConnections' in server) server.closeAllConnections()
  await new Promise((done) => server.close(done))
})

it('ends what has stopped coming and lets what is slow go on; only uploads may take for ever', async () => {
  const server = await listen(counting, { host: '127.0.0.1', port: 0, patience: { stallMs: 8000, bodyMs: 2000 } })
  const { port } = server.address() as AddressInfo
  const upload = '/api/gathers/g/files?path=a'
  const slow = ['a', ...Array.from({ length: 8 }, (_, n) => [pause(800), String(n)]).flat()]
  const never = () => new Promise(() => undefined)
  expect(
    await Promise.all([send(port, upload, slow), send(port, '/api/sets', slow), send(port, upload, ['a', never])]),
  ).toEqual(['9', 'ECONNRESET', 'ECONNRESET'])
  await new Promise((done) => server.close(done))
})
