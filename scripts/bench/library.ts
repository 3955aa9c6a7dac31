import { join } from 'node:path'
import type { FileSha, PixelSha } from '@satchel/core/hashes'
import pg from 'pg'
import pino from 'pino'
import { defaultRecipe } from '../../core/src/brush/recipe.ts'
import { listBrushes } from '../../server/src/db/list-brushes.ts'
import { createWorkspace } from '../../server/src/db/members.ts'
import { insertBrushes } from '../../server/src/db/save-brush.ts'
import { assembleServer } from '../../server/src/server.ts'
import type { BenchOptions } from './options.ts'
import { median, percentile } from './rounds.ts'
import { atMost, ms, type Row } from './rows.ts'

export async function libraryRows({ databaseUrl, folder, root }: BenchOptions): Promise<Row[]> {
  const parts = await assembleServer({
    databaseUrl,
    cacheFolder: join(folder, 'cache'),
    migrationsFolder: join(root, 'server/drizzle'),
    workerFile: join(root, 'server/dist/worker.mjs'),
    origin: 'http://127.0.0.1:1',
    secret: 'bench-secret-0123456789abcdef0123456789',
    log: pino({ level: 'silent' }),
  })
  const { db, auth, pool } = parts.deps
  try {
    const { user } = await auth.api.signUpEmail({
      body: { name: 'Bench', email: 'bench@test.example', password: 'bench-bench-bench' },
    })
    const workspaceId = await createWorkspace(db, 'Bench', user.id)
    const words = ['kelp', 'down', 'rope', 'sand', 'ink', 'foam', 'reed', 'shell', 'moss', 'rain']
    const frames = [
      { blobSha: 'b'.repeat(64) as FileSha, pixelSha: 'a'.repeat(64) as PixelSha, width: 256, height: 256 },
    ]
    await insertBrushes(
      db,
      workspaceId,
      Array.from({ length: 10_000 }, (_, n) => ({
        name: `${words[n % 10]} ${words[(n * 7) % 9]} ${n}`,
        maker: `Maker ${n % 40}`,
        licence: '',
        tags: [words[(n * 3) % 10] ?? ''],
        recipe: defaultRecipe({ sizePx: 8 + (n % 200) }),
        frames,
        pixelKey: String(n),
        nearBits: null,
        nearSignature: null,
      })),
    )
    await pool.query('vacuum analyze') // what the database does by itself within a minute
    const client = new pg.Client({ connectionString: databaseUrl })
    await client.connect()
    // as one types: a word that a tenth of the library has, two words, a whole name, a maker
    const queries = words.flatMap((word, n) => [
      `${word} ${words[(n * 7) % 9]}`,
      `${word} ${words[(n * 7) % 9]} ${n + 4230}`,
      `maker ${n + 10} ${word}`,
      word,
    ])
    const times = { one: [] as number[], search: [] as number[], page: [] as number[] }
    const timed = async (into: number[], work: () => Promise<unknown>) => {
      const start = performance.now()
      await work()
      into.push(performance.now() - start)
    }
    for (let n = 0; n < 330; n++) {
      const warm = n < 30
      await timed(warm ? [] : times.one, () => pool.query('select 1'))
      await timed(warm ? [] : times.search, () =>
        listBrushes(pool, workspaceId, { q: queries[n % queries.length] ?? '' }, { sort: 'name', from: 0, limit: 100 }),
      )
      await timed(warm ? [] : times.page, () =>
        listBrushes(pool, workspaceId, {}, { sort: 'name', from: (n * 3701) % 9900, limit: 100 }),
      )
    }
    await client.end()
    const base = median(times.one)
    const row = (what: string, values: number[]) =>
      atMost(what, ms(percentile(values, 0.95)), ms(base), percentile(values, 0.95) / base, 6)
    return [
      row('search in 10,000 brushes, p95 against the median of `select 1`', times.search),
      row('a page of 100 of 10,000 brushes, anywhere, likewise', times.page),
    ]
  } finally {
    await parts.close()
  }
}
