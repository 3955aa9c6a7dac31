import { UPLOAD_PIECE_BYTES } from '@satchel/core/limits'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { addUploads, dropUploads, filesOf, sendAgain, uploadState } from './upload.ts'

type Call = { path: string; init: RequestInit; answer: (response: Response) => void; fail: (error: Error) => void }
let calls: Call[] = []

beforeEach(() => {
  vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout'] })
  calls = []
  dropUploads()
  vi.stubGlobal(
    'fetch',
    (path: string, init: RequestInit) =>
      new Promise<Response>((answer, fail) => calls.push({ path, init, answer, fail })),
  )
})
afterEach(() => {
  vi.unstubAllGlobals()
  vi.useRealTimers()
})

const files = (...paths: string[]) => paths.map((path) => ({ path, file: new File(['x'], path) }))
/** Lets what was answered be heard; no time passes. */
const settle = () => vi.advanceTimersByTimeAsync(0)
/** Until it is asked again. */
const called = (count: number) => vi.waitFor(() => expect(calls.length).toBe(count))
const json = (body: object, status = 200) => new Response(JSON.stringify(body), { status })
const ok = () => json({})

describe('files on their way', () => {
  it('go up three at a time, each to its own path, and are counted', async () => {
    addUploads('g', files('a/one.png', 'a/two & three.png', 'b.png', 'c.png', 'd.png'))
    expect(calls.map(({ path }) => path)).toEqual([
      '/api/gathers/g/files?path=a%2Fone.png',
      '/api/gathers/g/files?path=a%2Ftwo%20%26%20three.png',
      '/api/gathers/g/files?path=b.png',
    ])
    expect(uploadState()).toMatchObject({ files: 5, done: 0, bytes: 5, sentBytes: 0, busy: true })
    calls[1]?.answer(ok())
    await settle()
    expect(calls.length).toBe(4)
    for (let i = 0; i < 5; i++) {
      calls[i]?.answer(ok())
      await settle()
    }
    expect(uploadState()).toEqual({ files: 5, done: 5, bytes: 5, sentBytes: 5, failed: [], busy: false, trouble: '' })
  })

  it('that the server refuses are named with its own sentence, and the others go on', async () => {
    addUploads('g', files('bad.png', 'good.png'))
    calls[0]?.answer(new Response('{"title":"It is damaged."}', { status: 422 }))
    calls[1]?.answer(ok())
    await settle()
    const { failed, done, busy } = uploadState()
    expect(failed.map(({ path, error }) => [path, error])).toEqual([['bad.png', 'It is damaged.']])
    expect([done, busy]).toEqual([1, false])
  })

  it('that the server could not take just then go on by themselves, and what it refused does not', async () => {
    addUploads('g', files('cut off.png', 'bad.png', 'late.png'))
    calls[0]?.fail(new TypeError('network'))
    calls[1]?.answer(json({ title: 'It is damaged.' }, 422))
    calls[2]?.answer(json({ title: 'The database does not answer.' }, 503))
    await settle()
    expect(uploadState()).toMatchObject({ busy: true, trouble: 'The database does not answer.' })
    await vi.advanceTimersByTimeAsync(1100)
    await called(5)
    expect(calls.slice(3).map(({ path }) => path)).toEqual([
      '/api/gathers/g/files?path=cut%20off.png',
      '/api/gathers/g/files?path=late.png',
    ])
    calls[3]?.answer(ok())
    calls[4]?.answer(ok())
    await settle()
    expect(uploadState()).toMatchObject({ files: 2, done: 2, busy: false, trouble: '' })
    expect(uploadState().failed.map(({ path, mayPass }) => [path, mayPass])).toEqual([['bad.png', false]])
  })

  it('that find no server for long say so, and are sent again when asked', async () => {
    addUploads('g', files('a.png'))
    for (let tries = 1; !uploadState().failed[0]; tries++) {
      await called(tries)
      expect(tries).toBeLessThan(20)
      calls.at(-1)?.fail(new TypeError('network'))
      await settle()
      if (!uploadState().failed[0]) expect(uploadState().trouble).toBe('The server does not answer just now.')
      await vi.advanceTimersByTimeAsync(20_000)
    }
    expect(uploadState().failed[0]?.error).toMatch(/^The server does not answer/)
    const before = calls.length
    sendAgain()
    await called(before + 1)
    expect(uploadState()).toMatchObject({ failed: [], files: 1, busy: true })
    calls.at(-1)?.answer(ok())
    await settle()
    expect(uploadState()).toMatchObject({ files: 1, done: 1, busy: false })
  })

  it('that are large go in pieces, on from what the server has, and ask it how far they are after a failure', async () => {
    const size = 2 * UPLOAD_PIECE_BYTES + 3
    const file = new File([new Uint8Array(size)], 'big.zip', { lastModified: 77 })
    addUploads('g', [{ path: 'A/big.zip', file }])
    const sent = (n: number) => {
      const { path, init } = calls[n] as Call
      return [init.method, path, init.body instanceof Blob ? init.body.size : init.body]
    }
    await called(1)
    const told = JSON.stringify({ path: 'A/big.zip', sizeBytes: size, modifiedMs: 77 })
    expect(sent(0)).toEqual(['POST', '/api/gathers/g/uploads', told])
    calls[0]?.answer(json({ id: 'u', receivedBytes: 5 }, 201))
    await called(2)
    expect(sent(1)).toEqual(['PATCH', '/api/gathers/g/uploads/u?at=5', UPLOAD_PIECE_BYTES])
    expect(uploadState().sentBytes).toBe(5)
    calls[1]?.fail(new TypeError('network')) // the piece had come, its answer was lost
    await vi.advanceTimersByTimeAsync(1100)
    await called(3)
    expect(sent(2).slice(0, 2)).toEqual(['GET', '/api/gathers/g/uploads/u'])
    calls[2]?.answer(json({ receivedBytes: 5 + UPLOAD_PIECE_BYTES, isWhole: false }))
    await called(4)
    expect(sent(3)).toEqual(['PATCH', `/api/gathers/g/uploads/u?at=${5 + UPLOAD_PIECE_BYTES}`, UPLOAD_PIECE_BYTES - 2])
    calls[3]?.answer(json({ receivedBytes: size, isWhole: true }))
    await settle()
    expect(uploadState()).toMatchObject({ files: 1, done: 1, sentBytes: size, bytes: size, busy: false })
    expect(calls.length).toBe(4)
  })

  it('are forgotten when dropped; what comes back later changes nothing', async () => {
    addUploads('g', files('a.png', 'b.png', 'c.png', 'd.png', 'e.png'))
    dropUploads()
    calls[0]?.answer(ok())
    calls[1]?.answer(new Response('{}', { status: 500 }))
    await settle()
    expect(calls.length).toBe(3)
    expect(uploadState()).toEqual({ files: 0, done: 0, bytes: 0, sentBytes: 0, failed: [], busy: false, trouble: '' })
    addUploads('h', files('new.png'))
    expect(uploadState()).toMatchObject({ files: 1, done: 0, busy: true })
  })

  it('of a chosen folder keep the folder’s path, single ones their name', async () => {
    const inFolder = Object.assign(new File(['x'], 'reed.png'), { webkitRelativePath: 'Marsh/reed.png' })
    const single = Object.assign(new File(['x'], 'reed.png'), { webkitRelativePath: '' })
    const event = { type: 'change', target: { files: [inFolder, single] } } as unknown as Event
    expect((await filesOf(event)).map(({ path }) => path)).toEqual(['Marsh/reed.png', 'reed.png'])
  })
})
