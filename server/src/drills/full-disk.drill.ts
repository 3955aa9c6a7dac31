import { setTimeout as sleep } from 'node:timers/promises'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { until } from '../testing/test-server.ts'
import { canMountDisks, startWholeServer, type WholeServer } from '../testing/whole-server.ts'
import { startWork, WORK_KINDS } from './work.ts'

const DISK_MB = 1024
const FULL_MS = 2000
const PATIENCE_MS = 240_000
/** So much is left: none, where the database ends itself; or enough for its log, where single writes fail. */
const SPARE_BYTES = [0, 256 * 1024]
/** So long after a job was begun. */
const MOMENTS_MS = [0, 40, 120]

const can = canMountDisks()
if (!can)
  console.log('No disk can be mounted here (only the administrator may): the drill of full disks is passed over.')

let server: WholeServer
let all: Awaited<ReturnType<typeof startWork>>
beforeAll(async () => {
  if (!can) return
  server = await startWholeServer({ diskMb: DISK_MB })
  all = await startWork(server)
})
afterAll(() => server?.close())

/** Faults of ours; that a disk is full is said, and is none. */
const faults = () =>
  server.lines.filter(({ level, msg }) => Number(level) >= 60 || String(msg).includes('nobody heard'))

describe.skipIf(!can).each(WORK_KINDS)(
  'the disk of the server and its database fills while %s is under way',
  (kind) => {
    it.each(SPARE_BYTES.flatMap((spareBytes) => MOMENTS_MS.map((ms) => [spareBytes, ms] as const)))(
      'to all but %i bytes after %i ms: the server lives, and the work comes to its end once there is room',
      async (spareBytes, ms) => {
        await all.work[kind].begin()
        await sleep(ms)
        server.disk.fill(spareBytes)
        await sleep(FULL_MS)
        expect((await server.request('/healthz')).status).toBe(200)
        expect([200, 503, 507]).toContain((await server.request('/api/brushes')).status)
        server.disk.free()
        if (!server.database.isUp()) await server.database.start()
        await until(async () => (await server.request('/readyz')).ok, PATIENCE_MS)
        const said = await all.askAgain()
        console.log(`${kind}, ${spareBytes} bytes, ${ms} ms: ${said.join(' | ') || 'went on by itself'}`)
        expect(server.isAlive()).toBe(true)
        await all.work[kind].holds()
        expect(faults()).toEqual([])
      },
    )
  },
)
