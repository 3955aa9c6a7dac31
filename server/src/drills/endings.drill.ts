import { readdirSync, readFileSync, rmSync, truncateSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { setTimeout as sleep } from 'node:timers/promises'
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest'
import { HOSTILE_FILES } from '../testing/hostile-files.ts'
import { until } from '../testing/test-server.ts'
import { blotPng, zipOf } from '../testing/tips.ts'
import { startWholeServer, type WholeServer } from '../testing/whole-server.ts'

/** What is promised for SIGTERM (docs/reliability.md), and what a process takes to begin and end besides. */
const DRAIN_MS = 40_000
const PATIENCE_MS = 240_000

let server: WholeServer
beforeAll(async () => {
  server = await startWholeServer()
})
beforeEach(async () => {
  if (!server.isAlive()) await server.start()
})
afterAll(() => server.close())

type Jobs = { jobs: { id: string; state: string; error: string | null }[] }
const openJobs = async () =>
  (await server.json<Jobs>('/api/jobs')).jobs.filter(({ state }) => state === 'queued' || state === 'running')
const put = (id: string, name: string, body: Uint8Array) =>
  server.request(`/api/gathers/${id}/files?path=${name}`, { method: 'PUT', body: new Uint8Array(body) })
const faults = () =>
  server.lines.filter(({ level, msg }) => Number(level) >= 50 || String(msg).includes('nobody heard'))
/** Processes that worked for a server which is gone: they belong to the system's first one by now. */
const leftBehind = () =>
  readdirSync('/proc').filter((pid) => {
    if (!/^\d+$/.test(pid)) return false
    try {
      const isOurs = readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes('dist/worker.mjs')
      return isOurs && /^PPid:\s+1$/m.test(readFileSync(`/proc/${pid}/status`, 'utf8'))
    } catch {
      return false // it has ended while they were listed
    }
  })

describe('a server', () => {
  it.each(['SIGTERM', 'SIGKILL'] as const)(
    'ends by %s within its time whatever runs, and leaves no process behind',
    async (signal) => {
      const { id } = await server.post<{ id: string }>('/api/gathers')
      for (const [i, file] of [HOSTILE_FILES.png[0], HOSTILE_FILES.jpeg[4], HOSTILE_FILES.openraster[5]].entries())
        if (file) await put(id, `x${i}.bin`, await file.make())
      await until(async () => (await openJobs()).some(({ state }) => state === 'running'))
      await sleep(500)
      const tookMs = await server.end(signal)
      console.log(`${signal}: ended after ${Math.round(tookMs)} ms`)
      expect(tookMs).toBeLessThan(DRAIN_MS)
      await until(async () => leftBehind().length === 0, 20_000)
      await server.start()
      await until(async () => (await openJobs()).length === 0, PATIENCE_MS)
      const ledger = await server.json<{ files: { read: number; total: number } }>(`/api/gathers/${id}`)
      expect(ledger.files.read).toBe(ledger.files.total)
      await server.post(`/api/gathers/${id}/cancel`)
      expect(faults()).toEqual([])
    },
  )

  it('goes on when its cache is gone, cut, or emptied under it', async () => {
    const { id } = await server.post<{ id: string }>('/api/gathers')
    await put(
      id,
      'tips.zip',
      zipOf(Object.fromEntries(Array.from({ length: 12 }, (_, i) => [`c${i}.png`, blotPng(700 + i)]))),
    )
    await until(async () => (await openJobs()).length === 0, PATIENCE_MS)
    await server.post(`/api/gathers/${id}/take`)
    const { ids } = await server.json<{ ids: string[] }>('/api/brushes/ids')
    const picture = async () => {
      for (const brush of ids) {
        const answer = await server.request(`/api/brushes/${brush}/stroke.png?size=line`)
        expect(answer.status).toBe(200)
        expect(
          Buffer.from(await answer.arrayBuffer())
            .subarray(1, 4)
            .toString(),
        ).toBe('PNG')
      }
    }
    await picture()
    const files = (folder: string) =>
      readdirSync(join(server.cacheFolder, folder)).map((name) => join(server.cacheFolder, folder, name))
    const harms: ((path: string) => void)[] = [
      (path) => truncateSync(path, 10),
      (path) => truncateSync(path, 0),
      (path) => writeFileSync(path, 'something else'),
      (path) => rmSync(path),
    ]
    for (const harm of harms) {
      for (const path of [...files('blobs'), ...files('renders')]) harm(path)
      await picture()
    }
    rmSync(server.cacheFolder, { recursive: true })
    await picture()
    expect(faults()).toEqual([])
  })

  it.each([
    ['an hour ahead', 3_600_000],
    ['an hour behind', -3_600_000],
    ['a year ahead', 365 * 86_400_000],
    ['a year behind', -365 * 86_400_000],
  ])(
    'works with a clock that is %s: jobs are taken, none is thought lost, sign-ins end or hold',
    async (_what, byMs) => {
      await server.end('SIGTERM')
      const shift = join(tmpdir(), `satchel-clock-${byMs}.mjs`)
      writeFileSync(
        shift,
        `const real = Date.now.bind(Date)
       const Real = Date
       globalThis.Date = class extends Real { constructor(...a) { if (a.length) super(...a); else super(real() + ${byMs}) } static now() { return real() + ${byMs} } }`,
      )
      await server.start({ NODE_OPTIONS: `--import ${shift}` })
      try {
        const before = server.lines.length
        expect([200, 401]).toContain((await server.request('/api/brushes')).status)
        await server.signIn()
        const { id } = await server.post<{ id: string }>('/api/gathers')
        await put(
          id,
          'a.zip',
          zipOf(Object.fromEntries(Array.from({ length: 40 }, (_, i) => [`k${i}.png`, blotPng(900 + i, 160)]))),
        )
        await until(async () => (await openJobs()).length === 0, PATIENCE_MS)
        const ledger = await server.json<{ tally: { take: number } }>(`/api/gathers/${id}`)
        expect(ledger.tally.take).toBe(40)
        expect(server.lines.slice(before).filter(({ msg }) => msg === 'the server of a job is gone')).toEqual([])
        await server.post(`/api/gathers/${id}/cancel`)
        expect(faults()).toEqual([])
      } finally {
        await server.end('SIGTERM')
        rmSync(shift)
        await server.start()
        await server.signIn()
      }
    },
  )
})
