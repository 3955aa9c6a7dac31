import { setTimeout as pause } from 'node:timers/promises'
import { deflateSync } from 'node:zlib'
import { printAlike } from '../../core/src/alike/alike-print.ts'
import { writePng } from '../../core/src/formats/png/write.ts'
import { hashPixels } from '../../core/src/hashes.ts'
import { nodeHashBytes } from '../../node/src/hash.ts'
import { fillLibrary } from './filling.ts'
import type { BenchOptions } from './options.ts'
import { atMost, type Row } from './rows.ts'
import { type Served, serve } from './served.ts'

const BRUSHES = 100_000
/** Of ten brushes one repeats the pixels of another. */
const REPEATS = 10
const SIDE_PX = 40
const MINUTES = 30
const PAGE_MS = 1000
const ACT_SECONDS = 20

/** A library of 100,000: all marks compared, groups shown, 10,000 brushes kept once instead of twice in one act, and that taken back. */
export async function sameMarkRows(options: BenchOptions): Promise<Row[]> {
  const served = await serve(options, 'marks')
  try {
    const size = `${BRUSHES.toLocaleString('en')} brushes`
    await fillLibrary(served, { brushes: BRUSHES, perSet: 200, tip: blots() })
    const compare = await timed(() => compared(served))
    const first = await timed(() => served.json('/api/same-marks?kind=picture&limit=20'))
    const next = await timed(() => served.json('/api/same-marks?kind=picture&from=5000&limit=20'))
    const act = await timed(() => served.post('/api/same-marks/keep-one-of-all', { kind: 'picture' }))
    const undo = await timed(() => served.post(`/api/acts/${act.result.id}/undo`))
    const seconds = (value: number) => `${(value / 1000).toFixed(1)} s`
    const within = (what: string, took: number, most: number) =>
      atMost(what, seconds(took), seconds(most), took / most, 1)
    return [
      within(`all marks of ${size} compared with each other`, compare.ms, MINUTES * 60_000),
      within('groups of same marks, after a change', first.ms, PAGE_MS),
      within('the same, further down', next.ms, PAGE_MS / 5),
      within(`${act.result.changed} brushes gone, all their uses kept, one act`, act.ms, ACT_SECONDS * 1000),
      within('the same taken back', undo.ms, ACT_SECONDS * 1000),
    ]
  } finally {
    await served.close()
  }
}

async function compared({ post, json }: Served): Promise<void> {
  await post('/api/same-marks/compare')
  for (;;) {
    const { uncompared } = await json('/api/same-marks?limit=1')
    if (uncompared === 0) return
    await pause(2000)
  }
}

async function timed<Result>(work: () => Promise<Result>): Promise<{ ms: number; result: Result }> {
  const start = performance.now()
  const result = await work()
  return { ms: performance.now() - start, result }
}

/** Dark spots that lie in another way in each, every tenth as one before it. */
function blots() {
  return (n: number) => {
    let seed = n % REPEATS === 0 ? n + 1 : n
    const draw = () => {
      seed = (Math.imul(seed ^ (seed >>> 15), 0x2c1b3c6d) + 0x9e3779b9) >>> 0
      return ((seed ^ (seed >>> 13)) >>> 0) / 2 ** 32
    }
    const data = new Uint8Array(SIDE_PX ** 2).fill(255)
    for (let spot = 0; spot < 6; spot++) {
      const [cx, cy, r] = [draw() * SIDE_PX, draw() * SIDE_PX, (0.08 + 0.16 * draw()) * SIDE_PX]
      const grey = Math.floor(draw() * 150)
      for (let y = 0; y < SIDE_PX; y++)
        for (let x = 0; x < SIDE_PX; x++) if (Math.hypot(x - cx, y - cy) < r) data[y * SIDE_PX + x] = grey
    }
    const pixels = { width: SIDE_PX, height: SIDE_PX, channels: 1 as const, data }
    const png = writePng(pixels, { deflate: (bytes) => deflateSync(bytes, { level: 1 }) })
    return { png, sidePx: SIDE_PX, pixelSha: hashPixels(pixels, nodeHashBytes), alike: printAlike(pixels, 'dark') }
  }
}
