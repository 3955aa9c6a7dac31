import { setTimeout as sleep } from 'node:timers/promises'
import { afterAll, beforeAll, expect, it } from 'vitest'
import { startWholeServer, type WholeServer } from '../testing/whole-server.ts'
import { takeTips } from './take-tips.ts'

/** What changes many at once is killed at so many moments of it. */
const BRUSHES = 1000
const MOMENTS = 10

let server: WholeServer

beforeAll(async () => {
  server = await startWholeServer()
  await takeTips(server, BRUSHES)
})
afterAll(() => server.close())

/** Ends the server as by a power cut, and starts it. */
async function again(): Promise<void> {
  await server.end('SIGKILL')
  await server.start()
}

type Acts = { acts: { id: string }[] }
const countActs = async () => (await server.json<Acts>('/api/acts')).acts.length
const makersOf = async (ids: readonly string[]) => {
  const makers = new Set<string>()
  for (let from = 0; from < ids.length; from += 100) {
    const { brushes } = await server.json<{ brushes: { maker: string }[] }>(`/api/brushes?sort=name&from=${from}`)
    for (const { maker } of brushes) makers.add(maker)
  }
  return [...makers]
}

it('a change of a thousand brushes that is killed at any moment is done whole, with its act, or not at all', async () => {
  const { ids } = await server.json<{ ids: string[] }>('/api/brushes/ids')
  expect(ids.length).toBeGreaterThanOrEqual(BRUSHES)
  const change = (maker: string) => server.post('/api/many', { ids, change: { kind: 'maker', maker } })
  await change('Maker 0')
  const began = performance.now()
  await change('Maker 1')
  const takes = performance.now() - began
  let [was, done] = ['Maker 1', 0]
  for (let n = 0; n < MOMENTS; n++) {
    const acts = await countActs()
    const maker = `Maker ${n + 2}`
    const asked = change(maker).catch(() => undefined)
    await sleep((takes * (n + 0.5)) / MOMENTS)
    await again()
    await asked
    const found = await makersOf(ids)
    expect(found).toHaveLength(1)
    const isDone = found[0] === maker
    expect(found[0]).toBe(isDone ? maker : was)
    expect((await countActs()) - acts).toBe(isDone ? 1 : 0)
    if (isDone) {
      was = maker
      done++
    }
  }
  console.log(`${takes.toFixed(0)} ms; of ${MOMENTS} that were killed ${done} were done`)
  // the newest act is taken back as if nothing had been
  const [newest] = (await server.json<Acts>('/api/acts')).acts
  await server.post(`/api/acts/${newest?.id}/undo`)
  expect(await makersOf(ids)).toHaveLength(1)
}, 600_000)
