import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { addUploads, dropUploads, filesOf, sendAgain, uploadState } from './upload.ts'

type Call = { path: string; answer: (response: Response) => void; fail: (error: Error) => void }
let calls: Call[] = []

beforeEach(() => {
  calls = []
  dropUploads()
  vi.stubGlobal('fetch', (path: string) => new Promise<Response>((answer, fail) => calls.push({ path, answer, fail })))
})
afterEach(() => vi.unstubAllGlobals())

const files = (...paths: string[]) => paths.map((path) => ({ path, file: new File(['x'], path) }))
const settle = () => new Promise((done) => setTimeout(done))
const ok = () => new Response('{}', { status: 200 })

describe('files on their way', () => {
  it('go up three at a time, each to its own path, and are counted', async () => {
    addUploads('g', files('a/one.png', 'a/two & three.png', 'b.png', 'c.png', 'd.png'))
    expect(calls.map(({ path }) => path)).toEqual([
      '/api/gathers/g/files?path=a%2Fone.png',
      '/api/gathers/g/files?path=a%2Ftwo%20%26%20three.png',
      '/api/gathers/g/files?path=b.png',
    ])
    expect(uploadState()).toMatchObject({ total: 5, sent: 0, busy: true })
    calls[1]?.answer(ok())
    await settle()
    expect(calls.length).toBe(4)
    for (let i = 0; i < 5; i++) {
      calls[i]?.answer(ok())
      await settle()
    }
    expect(uploadState()).toEqual({ total: 5, sent: 5, failed: [], busy: false })
  })

  it('that the server refuses are named with its own sentence, and the others go on', async () => {
    addUploads('g', files('bad.png', 'good.png'))
    calls[0]?.answer(new Response('{"title":"It is damaged."}', { status: 422 }))
    calls[1]?.answer(ok())
    await settle()
    const { failed, sent, busy } = uploadState()
    expect(failed.map(({ path, error }) => [path, error])).toEqual([['bad.png', 'It is damaged.']])
    expect([sent, busy]).toEqual([2, false])
  })

  it('that the server could not take just then are sent again when asked, and those it refused are not', async () => {
    addUploads('g', files('cut off.png', 'bad.png', 'late.png'))
    calls[0]?.fail(new TypeError('network'))
    calls[1]?.answer(new Response('{"title":"It is damaged."}', { status: 422 }))
    calls[2]?.answer(new Response('{"title":"The database does not answer."}', { status: 503 }))
    await settle()
    sendAgain()
    expect(calls.slice(3).map(({ path }) => path)).toEqual([
      '/api/gathers/g/files?path=cut%20off.png',
      '/api/gathers/g/files?path=late.png',
    ])
    expect(uploadState().failed.map(({ path }) => path)).toEqual(['bad.png'])
    calls[3]?.answer(ok())
    calls[4]?.answer(ok())
    await settle()
    expect(uploadState()).toMatchObject({ total: 5, sent: 5, busy: false })
  })

  it('that find no server say so', async () => {
    addUploads('g', files('a.png'))
    calls[0]?.fail(new TypeError('network'))
    await settle()
    expect(uploadState().failed[0]?.error).toMatch(/^The server does not answer/)
  })

  it('are forgotten when dropped; what comes back later changes nothing', async () => {
    addUploads('g', files('a.png', 'b.png', 'c.png', 'd.png', 'e.png'))
    dropUploads()
    calls[0]?.answer(ok())
    calls[1]?.answer(new Response('{}', { status: 500 }))
    await settle()
    expect(calls.length).toBe(3)
    expect(uploadState()).toEqual({ total: 0, sent: 0, failed: [], busy: false })
    addUploads('h', files('new.png'))
    expect(uploadState()).toMatchObject({ total: 1, sent: 0, busy: true })
  })

  it('of a chosen folder keep the folder’s path, single ones their name', async () => {
    const inFolder = Object.assign(new File(['x'], 'reed.png'), { webkitRelativePath: 'Marsh/reed.png' })
    const single = Object.assign(new File(['x'], 'reed.png'), { webkitRelativePath: '' })
    const event = { type: 'change', target: { files: [inFolder, single] } } as unknown as Event
    expect((await filesOf(event)).map(({ path }) => path)).toEqual(['Marsh/reed.png', 'reed.png'])
  })
})
