import { afterAll, beforeAll, expect, it } from 'vitest'
import { until } from '../testing/test-server.ts'
import { blotPng, zipOf } from '../testing/tips.ts'
import { startWholeServer, type WholeServer } from '../testing/whole-server.ts'

const TIPS = 200
const CELLS = 12
const DESTINATION = 'dunlin'
/** Within which a picture of what was opened is wanted, while a library is measured. */
const SHOWN_MS = 300

let server: WholeServer
beforeAll(async () => {
  server = await startWholeServer()
  const { id } = await server.post<{ id: string }>('/api/gathers')
  const tips = Array.from({ length: TIPS }, (_, n) => [`Shore/t${n}.png`, blotPng(n, 300)])
  await server.request(`/api/gathers/${id}/files?path=tips.zip`, {
    method: 'PUT',
    body: new Uint8Array(zipOf(Object.fromEntries(tips))),
  })
  await until(async () => !(await isBusy()), 240_000)
  await server.post(`/api/gathers/${id}/take`)
})
afterAll(() => server.close())

const isBusy = async () =>
  (await server.json<{ jobs: { state: string }[] }>('/api/jobs')).jobs.some(
    ({ state }) => state === 'queued' || state === 'running',
  )

it('shows the pictures of an opened cell at once, while the library is measured', async () => {
  const { ids } = await server.json<{ ids: string[] }>('/api/brushes/ids')
  await server.post('/api/fit/measure')
  const opened: number[] = []
  const shown: number[] = []
  // from the end: the job has not come there yet
  for (const brushId of ids.slice(-CELLS)) {
    const path = `/api/fit/cells/${brushId}/${DESTINATION}`
    const began = performance.now()
    const { key } = await server.post<{ key: string }>(path)
    opened.push(performance.now() - began)
    const asked = performance.now()
    await Promise.all(
      ['before', 'after', 'difference'].map(async (what) => {
        const picture = await server.request(`${path}/${what}?key=${key}`)
        expect([picture.status, (await picture.arrayBuffer()).byteLength > 100]).toEqual([200, true])
        shown.push(performance.now() - asked)
      }),
    )
  }
  expect(await isBusy()).toBe(true)
  for (const [what, times] of Object.entries({ opened, shown })) {
    times.sort((a, b) => a - b)
    const at = (share: number) => Math.round(times[Math.floor(share * (times.length - 1))] ?? 0)
    console.log(`${what}: median ${at(0.5)} ms, nine of ten within ${at(0.9)} ms, longest ${at(1)} ms`)
  }
  expect(shown[Math.floor(shown.length / 2)]).toBeLessThan(SHOWN_MS)
}, 300_000)
