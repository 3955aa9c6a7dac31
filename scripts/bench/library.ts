import { join } from 'node:path'
import pino from 'pino'
import { STAND_INS } from '../../core/src/destinations/destination.ts'
import { listCells, pageFitBrushes } from '../../server/src/db/fit.ts'
import { countBrushes, listBrushes } from '../../server/src/db/list-brushes.ts'
import { createWorkspace } from '../../server/src/db/members.ts'
import { assembleServer } from '../../server/src/server.ts'
import type { BenchOptions } from './options.ts'
import { median, percentile } from './rounds.ts'
import { atMost, ms, type Row } from './rows.ts'
import { insertWorded, TYPED } from './worded.ts'

const PAGE = 100
const [SMALL, LARGE] = [10_000, 100_000]

type Bench = Awaited<ReturnType<typeof assembleServer>>
type Times = Record<'one' | 'search' | 'count' | 'page' | 'first', number[]>

export async function libraryRows({ databaseUrl, folder, root }: BenchOptions): Promise<Row[]> {
  const parts = await assembleServer({
    databaseUrl,
    cacheFolder: join(folder, 'cache'),
    migrationsFolder: join(root, 'server/drizzle'),
    workerFile: join(root, 'server/dist/worker.mjs'),
    origin: 'http://127.0.0.1:1',
    secret: 'bench-secret-0123456789abcdef0123456789',
    starters: false,
    log: pino({ level: 'silent' }),
  })
  try {
    const { user } = await parts.deps.auth.api.signUpEmail({
      body: { name: 'Bench', email: 'bench@test.example', password: 'bench-bench-bench' },
    })
    const workspaceId = await createWorkspace(parts.deps.db, 'Bench', user.id)
    await fill(parts, workspaceId, 0, SMALL)
    const small = await measure(parts, workspaceId, SMALL)
    await fill(parts, workspaceId, SMALL, LARGE)
    const large = await measure(parts, workspaceId, LARGE)
    const matrix = await matrixRows(parts, await createWorkspace(parts.deps.db, 'Matrix', user.id))
    return [...rowsOf('10,000', small, 6), ...rowsOf('100,000', large, 8), ...growth(small, large), ...matrix]
  } finally {
    await parts.close()
  }
}

async function fill({ deps }: Bench, workspaceId: string, from: number, to: number): Promise<void> {
  await insertWorded(deps.db, workspaceId, { from, to })
  await deps.pool.query('vacuum analyze') // what the database does by itself within a minute
}

async function measure({ deps }: Bench, workspaceId: string, size: number): Promise<Times> {
  const { pool } = deps
  const times: Times = { one: [], search: [], count: [], page: [], first: [] }
  const timed = async (into: number[], work: () => Promise<unknown>) => {
    const start = performance.now()
    await work()
    into.push(performance.now() - start)
  }
  const range = (from: number) => ({ sort: 'name' as const, from, limit: PAGE })
  for (let n = 0; n < 330; n++) {
    const keep = (into: number[]) => (n < 30 ? [] : into)
    const filter = { q: TYPED[n % TYPED.length] ?? '' }
    await timed(keep(times.one), () => pool.query('select 1'))
    await timed(keep(times.search), () => listBrushes(deps, workspaceId, filter, range(0)))
    await timed(keep(times.count), () => countBrushes(pool, workspaceId, filter))
    await timed(keep(times.page), () => listBrushes(deps, workspaceId, {}, range((n * 37_013) % (size - PAGE))))
    if (n % 30 === 0) {
      // what is kept of the list goes with every change
      deps.landmarks.drop(workspaceId)
      await timed(keep(times.first), () => listBrushes(deps, workspaceId, {}, range(size - PAGE)))
    }
  }
  return times
}

const MATRIX = { brushes: 1000, page: 60, block: 12 }

/** A matrix of 1,000 brushes by five destinations, all measured: its pages in any order, and the cells in view. */
async function matrixRows(parts: Bench, workspaceId: string): Promise<Row[]> {
  const { db, pool } = parts.deps
  await fill(parts, workspaceId, 0, MATRIX.brushes)
  const said = JSON.stringify({
    ssim: 1,
    deltaE: 0,
    kept: [],
    approximated: [],
    left: [],
    ways: [],
    tried: [],
    files: [],
    ignored: [],
  })
  await pool.query(
    `insert into fit_cell (workspace_id, brush_id, destination_id, key, score, left_count, result)
     select $1, b.id, d, md5(b.id::text || d), abs(hashtext(b.id::text || d)) % 101, 0, $2::jsonb
     from brush b, unnest($3::text[]) d where b.workspace_id = $1`,
    [workspaceId, said, STAND_INS],
  )
  await pool.query('vacuum analyze')
  const times = { one: [] as number[], page: [] as number[], cells: [] as number[] }
  const timed = async <Answer>(into: number[], work: () => Promise<Answer>): Promise<Answer> => {
    const start = performance.now()
    const answer = await work()
    into.push(performance.now() - start)
    return answer
  }
  for (let n = 0; n < 120; n++) {
    const by = STAND_INS[n % STAND_INS.length]
    const from = (n * 37) % (MATRIX.brushes - MATRIX.page)
    await timed(times.one, () => pool.query('select 1'))
    const { brushes } = await timed(times.page, () =>
      pageFitBrushes(
        db,
        workspaceId,
        { by, worst: n % 2 === 0, find: '', onlyLeft: false },
        { from, limit: MATRIX.page },
      ),
    )
    const ids = brushes.slice(0, MATRIX.block).map(({ id }) => id)
    await timed(times.cells, () => listCells(db, workspaceId, ids, STAND_INS))
  }
  const base = median(times.one)
  return [
    told('a page of 60 of a matrix of 1,000 x 5, by likeness, p95', p95(times.page), base),
    told('its cells in view, 12 x 5, p95', p95(times.cells), base),
  ]
}

const p95 = (values: number[]) => percentile(values, 0.95)

function rowsOf(size: string, { one, ...times }: Times, limit: number): Row[] {
  const base = median(one)
  const row = (what: string, time: number, most?: number) =>
    most === undefined ? told(what, time, base) : atMost(what, ms(time), ms(base), time / base, most)
  return [
    row(`search in ${size} brushes, p95 against the median of \`select 1\``, p95(times.search), limit),
    row(`a page of ${PAGE} of ${size} brushes, anywhere, likewise`, p95(times.page), limit),
    row('the first such page after a change of the library (told), median', median(times.first)),
    row('how many a search finds (told; asked for beside it), p95', p95(times.count)),
  ]
}

const told = (what: string, time: number, base: number): Row => ({
  what,
  ours: ms(time),
  reference: ms(base),
  ratio: time / base,
  wanted: 'none',
  met: true,
})

function growth(small: Times, large: Times): Row[] {
  const row = (what: string, of: (times: Times) => number[]) => {
    const [a, b] = [p95(of(large)), p95(of(small))]
    return atMost(`${what}: p95 at 100,000 brushes against 10,000`, ms(a), ms(b), a / b, 1.5)
  }
  return [row('search', ({ search }) => search), row('page', ({ page }) => page)]
}
