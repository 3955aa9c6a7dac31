import {
  createWriteStream,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  truncateSync,
  utimesSync,
  writeFileSync,
} from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { Writable } from 'node:stream'
import { afterAll, beforeAll, beforeEach, describe, expect, inject, it } from 'vitest'
import { startTestServer, type TestServer } from '../testing/test-server.ts'
import { BlobStore } from './blob-store.ts'
import { RenderCache } from './render-cache.ts'

let server: TestServer
let folder: string
let workspaceId: string
let sha: Awaited<ReturnType<BlobStore['put']>>['sha256']
const bytes = Uint8Array.from({ length: 300_000 }, (_, i) => (i * 2_654_435_761) >>> 24)
beforeAll(async () => {
  server = await startTestServer(inject('databaseUrl'))
  ;({ workspaceId } = await server.owner())
  const { db, blobs } = server.parts.deps
  sha = (await blobs.put(db, workspaceId, bytes, 'image/png')).sha256
})
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'blob-cache-'))
})
afterAll(() => server.close())

const store = () => new BlobStore(server.parts.deps.pool, folder)
/** The same length and the same time, as a disk that loses what it wrote leaves a file. */
function changeInPlace(path: string): void {
  const when = new Date(Date.now() - 3_600_000)
  writeFileSync(
    path,
    Uint8Array.from(bytes, (byte, i) => (i === 777 ? byte ^ 1 : byte)),
  )
  utimesSync(path, when, when)
}
const HARMS: [string, (path: string) => void][] = [
  ['emptied', (path) => truncateSync(path, 0)],
  ['cut', (path) => truncateSync(path, 1000)],
  ['longer', (path) => writeFileSync(path, Buffer.concat([bytes, bytes]))],
  ['gone', (path) => rmSync(path)],
  ['changed', changeInPlace],
  ['another file', (path) => writeFileSync(path, new Uint8Array(bytes.length))],
]

describe('a file of the cache', () => {
  it.each(HARMS)('that is %s while the server runs is fetched anew', async (_what, harm) => {
    const blobs = store()
    const path = await blobs.path(workspaceId, sha)
    harm(path)
    expect(Buffer.from(await blobs.read(workspaceId, sha)).equals(bytes)).toBe(true)
    expect(readFileSync(path).equals(bytes)).toBe(true)
  })

  it.each(HARMS)('that was %s before the server started is fetched anew', async (_what, harm) => {
    harm(await store().path(workspaceId, sha))
    const blobs = store()
    const all = await Promise.all(Array.from({ length: 8 }, () => blobs.read(workspaceId, sha)))
    for (const read of all) expect(Buffer.from(read).equals(bytes)).toBe(true)
    expect(readdirSync(folder)).toEqual([sha])
  })

  it('that is on its way is waited for by who closes, also for nobody any more', async () => {
    const goOn: (() => void)[] = []
    const held = new Promise<void>((done) => {
      goOn.push(done)
    })
    const slow = (path: string) => {
      const file = createWriteStream(path)
      return new Writable({
        write: (chunk, _, done) => void held.then(() => file.write(chunk, done)),
        final: (done) => void file.end(done),
      })
    }
    const blobs = new BlobStore(server.parts.deps.pool, folder, { write: slow })
    await blobs.settled()
    const asked = blobs.path(workspaceId, sha)
    let isSettled = false
    const settled = blobs.settled().then(() => {
      isSettled = true
    })
    // an answer of the database, which comes after all that only waits for itself
    await server.parts.deps.pool.query('select 1')
    expect(isSettled).toBe(false)
    goOn[0]?.()
    await settled
    expect(readdirSync(folder)).toEqual([sha])
    expect(await asked).toBe(join(folder, sha))
  })

  it('that is sound is not fetched again', async () => {
    await store().path(workspaceId, sha)
    const unreachable = { connect: () => Promise.reject(new Error('the database is away')) }
    const blobs = new BlobStore(unreachable as never, folder)
    for (let n = 0; n < 3; n++) expect((await blobs.read(workspaceId, sha)).length).toBe(bytes.length)
  })
})

describe('a kept picture', () => {
  it.each([
    ['cut', (path: string) => truncateSync(path, 40)],
    ['emptied', (path: string) => truncateSync(path, 0)],
    ['changed', (path: string) => writeFileSync(path, Buffer.from(readFileSync(path)).fill(9, 40))],
  ])('that was %s is rendered anew', async (_what, harm) => {
    const renders = new RenderCache(folder)
    const key = renders.key('a stroke')
    let made = 0
    const make = async () => {
      made++
      return bytes
    }
    expect(await renders.get(key, make)).toEqual(bytes)
    expect(await renders.get(key, make)).toEqual(bytes)
    expect(made).toBe(1)
    const [file = ''] = readdirSync(folder)
    harm(join(folder, file))
    expect(await renders.peek(key)).toBeUndefined()
    expect(await renders.get(key, make)).toEqual(bytes)
    expect(made).toBe(2)
  })

  it('is made once for all who wait, goes on when one of them leaves, and ends when all have', async () => {
    const { askAs, whoAsks } = await import('../asking.ts')
    const renders = new RenderCache(folder)
    let finish: (picture: Uint8Array) => void = () => undefined
    let ended = 0
    const make = () =>
      new Promise<Uint8Array>((done, fail) => {
        finish = done
        whoAsks().signal?.addEventListener('abort', () => {
          ended++
          fail(new Error('ended'))
        })
      })
    const [one, two] = [new AbortController(), new AbortController()]
    const get = (who: AbortController) => askAs({ signal: who.signal }, () => renders.get('a'.repeat(64), make))
    const first = get(one).catch((error) => error)
    const second = get(two)
    await expect.poll(() => finish.length).toBe(1)
    one.abort(new Error('left'))
    expect(await first).toMatchObject({ message: 'left' })
    expect(ended).toBe(0)
    finish(bytes)
    expect(await second).toEqual(bytes)
    const third = askAs({ signal: one.signal }, () => renders.get('b'.repeat(64), make))
    await expect(third).rejects.toThrow('left')
    const four = new AbortController()
    const fourth = get(four).catch((error) => error)
    rmSync(folder, { recursive: true })
    four.abort(new Error('left too'))
    expect(await fourth).toBeTruthy()
  })
})
