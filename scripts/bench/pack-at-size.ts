import { setTimeout as pause } from 'node:timers/promises'
import { drawnTips } from './drawn-tips.ts'
import { type Filled, fillLibrary } from './filling.ts'
import type { BenchOptions } from './options.ts'
import { median } from './rounds.ts'
import { atMost, ms, type Row } from './rows.ts'
import { type Served, serve } from './served.ts'

const BRUSHES = 1000
const PRINTED = 300
const SIDE_PX = 192
const TIMES = 5
const [AGAIN_MS, DIFFERENCE_MS, FIRST_LINES_MS] = [1000, 2000, 200]
const [PRINT_MS, PRINT_MIB] = [60_000, 600]

/** A pack as large as they get, on a whole server: looked at again, told from its release, and printed. */
export async function packRows(options: BenchOptions): Promise<Row[]> {
  const served = await serve(options, 'pack')
  try {
    const filled = await fillLibrary(served, { brushes: BRUSHES, perSet: 100, tip: drawnTips(SIDE_PX) })
    return [...(await packOf(served, filled)), ...(await printRows(served, filled))]
  } finally {
    await served.close()
  }
}

async function makePack({ post }: Served, setIds: readonly string[]): Promise<string> {
  const { id } = await post('/api/packs', { title: `Pack ${setIds.length}`, licence: 'CC0-1.0' })
  await post(`/api/packs/${id}/sets`, { setIds }, 'PUT')
  return id
}

async function packOf(served: Served, { setIds, brushIds }: Filled): Promise<Row[]> {
  const { json, post } = served
  const id = await makePack(served, setIds)
  const check = () => json(`/api/packs/${id}/check`)
  await post(`/api/packs/${id}/check`)
  for (;;) {
    const { measured, brushes, isAlikeKnown } = await check()
    if (measured === brushes && isAlikeKnown) break
    await pause(500)
  }
  const again: number[] = []
  for (let n = 0; n < TIMES; n++)
    again.push(
      await timed(async () => {
        await post(`/api/packs/${id}/check`)
        await settled(served)
        await check()
      }),
    )
  const asked: number[] = []
  for (let n = 0; n < TIMES; n++) asked.push(await timed(check))

  // two releases that differ in a third of their brushes; neither need be built for it
  const release = (version: string) => post(`/api/packs/${id}/releases`, { version, notes: '' })
  const first = await release('1.0.0')
  await stopJobs(served)
  for (const [n, brushId] of brushIds.entries()) {
    if (n % 3 !== 0) continue
    const { name, maker, licence, tags, recipe, version } = await json(`/api/brushes/${brushId}`)
    const changed = { ...recipe, mark: { ...recipe.mark, sizePx: recipe.mark.sizePx + 1 } }
    const facts = { maker, licence, tags, recipe: changed, from: version }
    await post(`/api/brushes/${brushId}`, { name: n % 2 ? name : `${name} b`, ...facts }, 'PUT')
  }
  const second = await release('2.0.0')
  await stopJobs(served)
  const differences = { first: [] as number[], whole: [] as number[] }
  const ask = async (to: string) => {
    const start = performance.now()
    const response = await served.ask(`/api/packs/${id}/difference?from=${first.id}&to=${to}`)
    differences.first.push(performance.now() - start)
    const body = await response.json()
    differences.whole.push(performance.now() - start)
    return body
  }
  for (let n = 0; n < TIMES; n++) await ask(second.id)
  const two = { ...differences }
  const next: number[] = []
  for (let n = 0; n < TIMES; n++) next.push(await timed(() => json(`/api/packs/${id}/difference?from=${first.id}`)))
  const limit = (what: string, took: number, most: number) => atMost(what, ms(took), ms(most), took / most, 1)
  return [
    limit(`the check list of a pack of ${BRUSHES} brushes, looked at again`, median(again), AGAIN_MS),
    limit('the same, only asked for', median(asked), AGAIN_MS),
    limit(`two releases of ${BRUSHES} brushes told apart, all of it`, median(two.whole), DIFFERENCE_MS),
    limit('the same, its first lines', median(two.first), FIRST_LINES_MS),
    limit('the same for the first time', two.whole[0] ?? 0, DIFFERENCE_MS),
    limit('the same against the pack as it is now', median(next), DIFFERENCE_MS),
  ]
}

async function printRows(served: Served, { setIds, brushIds }: Filled): Promise<Row[]> {
  const { json, post, nowMib } = served
  const id = await makePack(served, setIds.slice(0, PRINTED / (brushIds.length / setIds.length)))
  let peak = 0
  const watch = setInterval(() => {
    const [, ...workers] = nowMib()
    peak = Math.max(peak, ...workers)
  }, 100)
  const took = await timed(async () => {
    const parcel = await post('/api/parcels', { wanted: { kind: 'packSheet', packId: id, paper: 'a4' } })
    for (;;) {
      const { parcels } = await json('/api/parcels')
      const made = parcels.find((each: { id: string }) => each.id === parcel.id)
      if (made.lost) throw new Error(made.lost)
      if (made.fileName) return
      await pause(100)
    }
  })
  clearInterval(watch)
  return [
    atMost(`a sheet of ${PRINTED} brushes printed`, ms(took), ms(PRINT_MS), took / PRINT_MS, 1),
    atMost(
      'the same: memory of the largest process that prints',
      `${Math.round(peak)} MiB`,
      `${PRINT_MIB} MiB`,
      peak / PRINT_MIB,
      1,
    ),
  ]
}

async function timed(work: () => Promise<unknown>): Promise<number> {
  const start = performance.now()
  await work()
  return performance.now() - start
}

type Job = { id: string; state: string }
const isOpen = ({ state }: Job) => state === 'running' || state === 'queued'

async function settled({ json }: Served): Promise<void> {
  while ((await json('/api/jobs')).jobs.some(isOpen)) await pause(20)
}

async function stopJobs(served: Served): Promise<void> {
  for (const job of (await served.json('/api/jobs')).jobs.filter(isOpen)) await served.post(`/api/jobs/${job.id}/stop`)
  await settled(served)
}
