import { join } from 'node:path'
import { chromium, type Page, type Request } from '@playwright/test'
import { openDatabase } from '../../server/src/db/database.ts'
import { BlobStore } from '../../server/src/pictures/blob-store.ts'
import { CHROMIUM } from '../chromium.mjs'
import { drawnTips } from './drawn-tips.ts'
import type { BenchOptions } from './options.ts'
import { median, percentile } from './rounds.ts'
import { atMost, ms, type Row } from './rows.ts'
import { type Served, serve } from './served.ts'
import { insertWorded, TYPED } from './worded.ts'

const SIZES = [10_000, 100_000]
const SIDE_PX = 64
const FIRST_LINE_MS = 150
const KEY_MS = 40
const NUMBERS = 50
/** Places of the list that are gone to, one after another. */
const PLACES = 300
/** How much larger a page may be that has seen so many. */
const MEMORY_TIMES = 2
const [LIST, LINE] = ['[role=listbox][aria-label=Brushes]', '[role=option] .font-medium']

/** How long after the last key the list begins with what was looked for, and what End costs, in the page itself. */
export async function findingRows(options: BenchOptions): Promise<Row[]> {
  const served = await serve(options, 'finding')
  const browser = await chromium.launch(CHROMIUM)
  try {
    const context = await browser.newContext({ viewport: { width: 1280, height: 800 } })
    const [name = '', value = ''] = served.cookie().split(/=(.*)/s)
    await context.addCookies([{ name, value, url: served.origin }])
    const page = await context.newPage()
    const rows: Row[] = []
    for (const [n, size] of SIZES.entries()) {
      await fill(served, SIZES[n - 1] ?? 0, size)
      await page.goto(`${served.origin}/sort`)
      await page.locator(LINE).first().waitFor()
      rows.push(...(await typingRows(served, page, size)), await endRow(page, size), await memoryRow(page, size))
    }
    return rows
  } finally {
    await browser.close()
    await served.close()
  }
}

/** The brushes share one picture, so that no painting of strokes runs beside. */
async function fill({ url, cacheFolder, database }: Served, from: number, to: number): Promise<void> {
  const { db, pool, close } = openDatabase(url)
  try {
    const { rows } = await pool.query<{ id: string }>('select id from workspace')
    const workspaceId = rows[0]?.id ?? ''
    const { png, pixelSha } = drawnTips(SIDE_PX)(0)
    const blobs = new BlobStore(pool, join(cacheFolder, 'blobs'))
    const { sha256: blobSha } = await blobs.put(db, workspaceId, png, 'image/png')
    await insertWorded(db, workspaceId, {
      from,
      to,
      frame: { blobSha, pixelSha, width: SIDE_PX, height: SIDE_PX },
    })
    await database.query('vacuum analyze')
  } finally {
    await close()
  }
}

/** Numbers that a name ends with, each of them once. */
const numbersBelow = (size: number) =>
  Array.from({ length: NUMBERS }, (_, n) => `${size / 10 + ((n * 7919) % (0.9 * size))}`)

/** Words are typed key by key; the time runs from the last key to the frame whose first line is the right one. */
async function typingRows({ json }: Served, page: Page, size: number): Promise<Row[]> {
  const box = page.getByRole('searchbox', { name: 'Find brushes' })
  const times: number[] = []
  for (const words of [...TYPED, ...numbersBelow(size)]) {
    await box.fill('')
    const { brushes } = await json(`/api/brushes?q=${encodeURIComponent(words)}&sort=name&limit=1`)
    const right: string | undefined = brushes[0]?.name
    // what is not there, and what was the first before the last key already, tells nothing
    if (right === undefined) continue
    await box.pressSequentially(words.slice(0, -1), { delay: KEY_MS })
    const { brushes: before } = await json(
      `/api/brushes?q=${encodeURIComponent(words.slice(0, -1).trim())}&sort=name&limit=1`,
    )
    if (before[0]?.name === right) continue
    await page.waitForFunction(isFirst, { line: `${LIST} ${LINE}`, name: before[0]?.name ?? null })
    const took = page.evaluate(untilFirst, { line: `${LIST} ${LINE}`, name: right })
    await box.press(words.slice(-1))
    times.push(await took)
  }
  const limit = (what: string, took: number) => atMost(what, ms(took), ms(FIRST_LINE_MS), took / FIRST_LINE_MS, 1)
  const of = size.toLocaleString('en')
  return [
    limit(`the first right line among ${of} brushes after the last key, in Chromium, median of ${times.length}`, median(times)), // biome-ignore format: one line
    limit('the same, p95', percentile(times, 0.95)),
  ]
}

/** In the page: whether the list begins with a name, or holds nothing. */
function isFirst({ line, name }: { line: string; name: string | null }): boolean {
  return (document.querySelector(line)?.textContent ?? null) === name
}

/** In the page: ms from the next key to the frame that shows a name first. */
function untilFirst({ line, name }: { line: string; name: string }): Promise<number> {
  return new Promise((done) => {
    document.addEventListener(
      'keydown',
      ({ timeStamp }) => {
        const look = () =>
          document.querySelector(line)?.textContent === name
            ? done(performance.now() - timeStamp)
            : requestAnimationFrame(look)
        requestAnimationFrame(look)
      },
      { once: true, capture: true },
    )
  })
}

/** What the key End asks for, beside what is in view already and may be asked for again at any time. */
async function endRow(page: Page, size: number): Promise<Row> {
  await page.goto(page.url().replace(/\?.*/, ''))
  await page.locator(LINE).first().waitFor()
  const asked: string[] = []
  const note = (request: Request) => {
    const url = new URL(request.url())
    if (url.pathname === '/api/brushes' && url.searchParams.get('from') !== '0') asked.push(url.search)
  }
  page.on('request', note)
  const last = page.locator(`${LIST} [role=option]`).last()
  const before = await last.getAttribute('id')
  await page.locator(LIST).press('End')
  await page.waitForFunction(
    ({ line, id }) => ![null, undefined, id].includes([...document.querySelectorAll(line)].at(-1)?.id),
    { line: `${LIST} [role=option]`, id: before },
  )
  page.off('request', note)
  return atMost(
    `requests for the list that End takes among ${size.toLocaleString('en')} brushes`,
    `${asked.length}`,
    '1',
    asked.length,
    1,
  )
}

/** What the page holds once it has been at many places of the list: what it has let go is collected before it is measured. */
async function memoryRow(page: Page, size: number): Promise<Row> {
  const devtools = await page.context().newCDPSession(page)
  const heapMib = async () => {
    await devtools.send('HeapProfiler.collectGarbage')
    const { usedSize } = await devtools.send('Runtime.getHeapUsage')
    return usedSize / 1024 ** 2
  }
  const before = await heapMib()
  for (let n = 0; n < PLACES; n++) {
    const share = ((n * 379) % PLACES) / PLACES
    await page.locator(LIST).evaluate((list, to) => list.scrollTo(0, list.scrollHeight * to), share)
    await page.waitForFunction(hasLinesInView, LIST)
  }
  const after = await heapMib()
  await devtools.detach()
  return atMost(
    `memory of the page after ${PLACES} places of a list of ${size.toLocaleString('en')} brushes, against before`,
    `${after.toFixed(1)} MiB`,
    `${before.toFixed(1)} MiB`,
    after / before,
    MEMORY_TIMES,
  )
}

/** In the page: whether lines have come for where the list stands. */
function hasLinesInView(list: string): boolean {
  const { top, bottom } = document.querySelector(list)?.getBoundingClientRect() ?? { top: 0, bottom: 0 }
  const inView = [...document.querySelectorAll(`${list} [role=option]`)].filter((line) => {
    const at = line.getBoundingClientRect()
    return at.bottom > top && at.top < bottom
  })
  return inView.length >= 5
}
