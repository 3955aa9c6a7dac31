import { setTimeout as pause } from 'node:timers/promises'
import { drawnTips } from './drawn-tips.ts'
import { fillLibrary } from './filling.ts'
import type { BenchOptions } from './options.ts'
import { median } from './rounds.ts'
import { atLeast, atMost, ms, type Row } from './rows.ts'
import { type Served, serve } from './served.ts'

const [BRUSHES, SIDE_PX] = [200, 512]
const [HAND_OUTS, DELIVERIES] = [2000, 100_000]
const TIMES = 9
const FIGURES_MS = 500

/** What people fetch, as much of it as there is: counted, and a part sent beside the whole file that it is taken from. */
export async function peopleRows(options: BenchOptions): Promise<Row[]> {
  const served = await serve(options, 'people')
  try {
    const { setIds } = await fillLibrary(served, { brushes: BRUSHES, perSet: 50, tip: drawnTips(SIDE_PX) })
    const { json, post } = served
    const { id } = await post('/api/packs', { title: 'Shore', licence: 'CC0-1.0' })
    await post(`/api/packs/${id}/sets`, { setIds }, 'PUT')
    const release = await post(`/api/packs/${id}/releases`, { version: '1.0.0', notes: '' })
    while ((await json(`/api/packs/${id}`)).releases[0].state !== 'ready') await pause(200)
    const { link } = await post(`/api/packs/${id}/hand-outs`, { releaseId: release.id, name: 'Ida' })
    const rate = await copyRate(served, { token: link.split('/').at(-1), releaseId: release.id })
    return [...rate, await figuresRow(served, id, release.id)]
  } finally {
    await served.close()
  }
}

/** Bytes a second of somebody's copy, and of all open files of it, sewn of stretches, against those of a file as it lies there. */
async function copyRate(
  { ask, database }: Served,
  { token, releaseId }: { token: string; releaseId: string },
): Promise<Row[]> {
  const rates: { part: number[]; whole: number[]; bare: number[] } = { part: [], whole: [], bare: [] }
  const one = async (query: string) => {
    // the first asking lays it out and leads to where it lies; what is timed is the sending, from its head on
    const granted = await ask(`/api/h/${token}/download${query}`)
    await granted.arrayBuffer()
    const answer = await ask(new URL(granted.url).pathname)
    const start = performance.now()
    const { byteLength } = await answer.arrayBuffer()
    return byteLength / (performance.now() - start)
  }
  const noted = await database.query('select contents_sha from release where id = $1', [releaseId])
  const note = (sha: string | null) =>
    database.query('update release set contents_sha = $1 where id = $2', [sha, releaseId])
  for (let n = 0; n < TIMES; n++) {
    rates.whole.push(await one(''))
    rates.part.push(await one('?as=open'))
    // where nobody noted what lies in it, it goes as it is
    await note(null)
    rates.bare.push(await one(''))
    await note(noted.rows[0].contents_sha)
  }
  const [part, whole, bare] = [median(rates.part), median(rates.whole), median(rates.bare)]
  const text = (rate: number) => `${Math.round(rate / 1048.576)} MiB/s`
  return [
    atLeast('somebody’s copy, beside the file as released', text(whole), text(bare), whole / bare, 0.8),
    atLeast('a part of it, beside the file as released', text(part), text(bare), part / bare, 0.8),
  ]
}

async function figuresRow({ database, json }: Served, packId: string, releaseId: string): Promise<Row> {
  await database.query(
    `insert into hand_out (workspace_id, release_id, name, token_hash, created_at)
     select r.workspace_id, r.id, 'Person ' || n, 'bench ' || n, now() - interval '400 days' * random()
     from release r, generate_series(1, ${HAND_OUTS}) n where r.id = $1`,
    [releaseId],
  )
  await database.query(
    `insert into delivery (workspace_id, hand_out_id, release_id, app, state, at)
     select h.workspace_id, h.id, h.release_id, (array['Dunlin', 'Plover', null])[1 + (n % 3)], 'sent',
       h.created_at + interval '1 day' * (n % 60)
     from (select *, row_number() over () as place from hand_out where name like 'Person %') h
     join generate_series(1, ${DELIVERIES}) n on n % ${HAND_OUTS} = h.place % ${HAND_OUTS}`,
  )
  await database.query('analyze')
  const took: number[] = []
  for (let n = 0; n < TIMES; n++) {
    const start = performance.now()
    const { downloads } = await json(`/api/packs/${packId}/figures?zone=Europe/Oslo`)
    took.push(performance.now() - start)
    const counted = downloads.reduce((sum: number, { count }: { count: number }) => sum + count, 0)
    if (counted < DELIVERIES) throw new Error(`${counted} of ${DELIVERIES} downloads were counted`)
  }
  const all = median(took)
  return atMost(`the figures of ${DELIVERIES} downloads`, ms(all), ms(FIGURES_MS), all / FIGURES_MS, 1)
}
