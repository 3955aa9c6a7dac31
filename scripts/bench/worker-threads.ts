import { availableParallelism } from 'node:os'
import { join } from 'node:path'
import { defaultRecipe } from '../../core/src/brush/recipe.ts'
import { BUILT_IN } from '../../core/src/destinations/built-in.ts'
import { encodePng } from '../../node/src/png.ts'
import { createWorkerPool } from '../../server/src/workers/pool.ts'
import type { BenchOptions } from './options.ts'
import { compare } from './rounds.ts'
import { atMost, type Row } from './rows.ts'
import { tipPixels } from './tip-pixels.ts'

/** What the server's threads do for the ledger and the lists, on all of them against one at a time. */
export async function threadRows({ root }: BenchOptions): Promise<Row[]> {
  const pool = createWorkerPool(join(root, 'server/dist/worker.mjs'))
  const files = Array.from({ length: 48 }, (_, n) => encodePng(tipPixels(n % 12 === 0 ? 2048 : 512, n + 1)))
  const read = (bytes: Uint8Array) => pool.run('readTip', { bytes })
  const reading = await compare(
    () => Promise.all(files.map(read)),
    () => oneByOne(files, read),
    5,
  )
  const recipe = { ...defaultRecipe({ sizePx: 60 }), path: { ...defaultRecipe().path, spacingPct: 8 } }
  const render = (png: Uint8Array) =>
    pool.run('renderStroke', { frames: [png], recipe, width: 840, height: 104, what: 'list' })
  const small = files.filter((_, n) => n % 12 !== 0)
  const rendering = await compare(
    () => Promise.all(small.map(render)),
    () => oneByOne(small, render),
    5,
  )
  const to = Object.values(BUILT_IN).map((destination) => ({ destination, choices: {} }))
  const send = (png: Uint8Array, n: number) => {
    const brush = { name: `Tip ${n}`, set: 'Tips', maker: '', licence: '', frames: [png], grain: undefined }
    return pool.run('measureFits', { brush: { ...brush, recipe: defaultRecipe({ sizePx: 40 }) }, to })
  }
  const few = small.slice(0, 12)
  const fitting = await compare(
    () => Promise.all(few.map(send)),
    async () => {
      for (const [n, png] of few.entries()) await send(png, n)
    },
    3,
  )
  await pool.close()
  const rate = (time: number, count: number) => `${(count / (time / 1000)).toFixed(1)} a second`
  const threads = `${availableParallelism()} threads against one at a time: time`
  return [
    atMost(
      `reading tips for the ledger (512² and some 2048²), ${threads}`,
      rate(reading.ours, files.length),
      rate(reading.reference, files.length),
      reading.ratio,
      0.7,
    ),
    atMost(
      `strokes of a list from 512² tips, ${threads} (1.8 times as fast wanted)`,
      rate(rendering.ours, small.length),
      rate(rendering.reference, small.length),
      rendering.ratio,
      0.56,
    ),
    atMost(
      `brushes sent to a destination and back, measured, ${threads} (1.8 times as fast wanted)`,
      rate(fitting.ours, few.length * to.length),
      rate(fitting.reference, few.length * to.length),
      fitting.ratio,
      0.56,
    ),
  ]
}

async function oneByOne(files: readonly Uint8Array[], work: (bytes: Uint8Array) => Promise<unknown>): Promise<void> {
  for (const bytes of files) await work(bytes)
}
