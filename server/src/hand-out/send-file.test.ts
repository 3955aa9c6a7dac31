import { mkdtempSync, readdirSync, readlinkSync, rmSync, writeFileSync } from 'node:fs'
import { createServer, get } from 'node:http'
import type { AddressInfo } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { describe, expect, it } from 'vitest'
import { type Sent, sendFile, toByteRange } from './send-file.ts'

describe('ranges (RFC 9110, section 14.1.2 examples for 10,000 bytes)', () => {
  it.each([
    ['bytes=0-499', { first: 0, last: 499 }],
    ['bytes=500-999', { first: 500, last: 999 }],
    ['bytes=-500', { first: 9500, last: 9999 }],
    ['bytes=9500-', { first: 9500, last: 9999 }],
    ['bytes=9990-20000', { first: 9990, last: 9999 }],
    ['bytes=10000-', 'unsatisfiable'],
    ['bytes=-0', 'unsatisfiable'],
    ['bytes=0-0,-1', undefined],
    ['bytes=5-2', undefined],
    ['bytes=1x', undefined],
    ['bytes=1-2x', undefined],
    ['bytes=-', undefined],
    ['lines=1-2', undefined],
    [undefined, undefined],
  ])('reads %j', (header, wanted) => {
    expect(toByteRange(header, 10_000)).toEqual(wanted)
  })
})

/** Whether this process holds a file open. */
const isOpen = (path: string) =>
  readdirSync('/proc/self/fd').some((fd) => {
    try {
      return readlinkSync(`/proc/self/fd/${fd}`) === path
    } catch {
      return false // closed while they were listed
    }
  })

it.each(['before anything is sent', 'in the middle'])(
  'ends where the person is gone %s, and holds no file open',
  async (when) => {
    const folder = mkdtempSync(join(tmpdir(), 'send-'))
    const path = join(folder, 'large.zip')
    writeFileSync(path, Buffer.alloc(16 * 1024 * 1024, 7)) // more than a connection holds by itself
    const file = { path, sizeBytes: 16 * 1024 * 1024, etag: '"x"', headers: {} }
    let answer: (sent: Promise<Sent>) => void
    const answered = new Promise<Sent>((done) => {
      answer = done
    })
    const server = createServer((request, response) => {
      if (when === 'in the middle') answer(sendFile(request, response, file))
      else response.once('close', () => answer(sendFile(request, response, file)))
    }).listen(0, '127.0.0.1')
    await new Promise((done) => server.once('listening', done))
    const { port } = server.address() as AddressInfo
    const asked = get({ port, host: '127.0.0.1' }, (response) => response.once('data', () => asked.destroy()))
    asked.on('error', () => undefined)
    if (when === 'before anything is sent') server.once('request', () => asked.destroy())
    expect(await answered).toBe('broken')
    expect(isOpen(path)).toBe(false)
    await new Promise((done) => server.close(done))
    rmSync(folder, { recursive: true })
  },
)

it('breaks the connection where the file is shorter than was promised, so that nobody waits for the rest', async () => {
  const folder = mkdtempSync(join(tmpdir(), 'send-'))
  const path = join(folder, 'cut.zip')
  writeFileSync(path, Buffer.alloc(300_000, 7))
  let failed: Promise<unknown> = Promise.resolve()
  const server = createServer((request, response) => {
    failed = sendFile(request, response, { path, sizeBytes: 900_000, etag: '"x"', headers: {} }).catch((error) => error)
  }).listen(0, '127.0.0.1')
  await new Promise((done) => server.once('listening', done))
  const { port } = server.address() as AddressInfo
  const body = fetch(`http://127.0.0.1:${port}`).then((response) => response.arrayBuffer())
  await expect(body).rejects.toThrow()
  expect(String(await failed)).toContain('shorter')
  await new Promise((done) => server.close(done))
  rmSync(folder, { recursive: true })
})

it('sends stretches of a file and what stands between them, whole or any range of it', async () => {
  const folder = mkdtempSync(join(tmpdir(), 'stretches-'))
  const path = join(folder, 'whole.bin')
  const whole = Buffer.from(Array.from({ length: 5000 }, (_, i) => i % 251))
  writeFileSync(path, whole)
  const stretches = [
    { bytes: Buffer.from('head') },
    { at: 4000, length: 700 },
    { bytes: Buffer.from('') },
    { at: 10, length: 1 },
    { bytes: Buffer.from('tail of it') },
  ]
  const wanted = Buffer.concat(stretches.map((each) => each.bytes ?? whole.subarray(each.at, each.at + each.length)))
  const server = createServer((request, response) => {
    void sendFile(request, response, { path, stretches, sizeBytes: wanted.length, etag: '"s"', headers: {} })
  }).listen(0, '127.0.0.1')
  await new Promise((done) => server.once('listening', done))
  const { port } = server.address() as AddressInfo
  const ask = async (range?: string) => {
    const answer = await fetch(`http://127.0.0.1:${port}`, range ? { headers: { range } } : {})
    return Buffer.from(await answer.arrayBuffer())
  }
  expect(await ask()).toEqual(wanted)
  for (const [first, last] of [[0, 0], [3, 4], [0, 703], [704, 704], [700, 714], [4, 703], [705, 713]] as const) // biome-ignore format: a table
    expect(await ask(`bytes=${first}-${last}`), `${first}-${last}`).toEqual(wanted.subarray(first, last + 1))
  await new Promise((done) => server.close(done))
  rmSync(folder, { recursive: true })
})
