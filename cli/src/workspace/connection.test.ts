import { createServer, type IncomingMessage, type ServerResponse } from 'node:http'
import type { AddressInfo } from 'node:net'
import * as v from 'valibot'
import { afterEach, expect, it } from 'vitest'
import { Workspace } from './connection.ts'

const open: { close: () => void }[] = []
afterEach(() => {
  for (const server of open.splice(0)) server.close()
})

/** A server that answers as it is told, and keeps what it was asked. */
async function answering(answer: (request: IncomingMessage, response: ServerResponse) => void) {
  const asked: IncomingMessage[] = []
  const server = createServer((request, response) => {
    asked.push(request)
    answer(request, response)
  })
  await new Promise<void>((done) => server.listen(0, '127.0.0.1', done))
  open.push({
    close() {
      server.closeAllConnections()
      server.close()
    },
  })
  return { url: `http://127.0.0.1:${(server.address() as AddressInfo).port}`, asked }
}
const at = (url: string) => new Workspace({ at: url }, { SATCHEL_TOKEN: 'satchel_mine' })

it('says by what it comes, and reads what it knows of the answer', async () => {
  const { url, asked } = await answering((_request, response) => response.end('{"id":"a","more":1}'))
  expect(await at(url).post('/api/gathers', v.object({ id: v.string() }))).toEqual({ id: 'a' })
  expect(asked[0]?.headers.authorization).toBe('Bearer satchel_mine')
})

it('takes the token nowhere else, where an address leads on to another one', async () => {
  const other = await answering((_request, response) => response.end('{}'))
  const { url } = await answering((_request, response) => response.writeHead(302, { location: other.url }).end())
  await expect(at(url).get('/api/sets', v.unknown())).rejects.toThrow('does not answer, or not as a workspace does')
  expect(other.asked).toEqual([])
})

it('tells a refusal by its sentence, and what is no workspace by its own', async () => {
  const refusing = await answering((_request, response) =>
    response.writeHead(403).end('{"status":403,"title":"This token may look but not change things."}'),
  )
  await expect(at(refusing.url).get('/api/sets', v.unknown())).rejects.toThrow('This token may look')
  const page = await answering((_request, response) => response.end('<html></html>'))
  await expect(at(page.url).get('/api/sets', v.object({}))).rejects.toThrow('in another way than this program knows')
  const failing = await answering((_request, response) => response.writeHead(502).end('bad gateway'))
  await expect(at(failing.url).get('/api/sets', v.unknown())).rejects.toThrow('answered 502')
  const broken = await answering((request) => request.socket.destroy())
  await expect(at(broken.url).get('/api/sets', v.unknown())).rejects.toThrow('does not answer')
})

it('is not begun without a place or a token', () => {
  expect(() => new Workspace({}, {})).toThrow('Say where the workspace is')
  expect(() => new Workspace({ at: 'file:///etc' }, {})).toThrow('is no address')
  expect(() => new Workspace({ at: 'https://satchel.example' }, { SATCHEL_TOKEN: ' ' })).toThrow('Set SATCHEL_TOKEN')
})
