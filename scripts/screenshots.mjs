// Takes the README's pictures anew from the demo data. Run as `npm run screenshots`.
import { fork } from 'node:child_process'
import { chmodSync, mkdirSync, mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { dirname, join, resolve } from 'node:path'
import { fileURLToPath } from 'node:url'
import { chromium } from '@playwright/test'
import { buildIfNeeded } from './build-if-needed.mjs'
import { CHROMIUM } from './chromium.mjs'
import { freePort, startPostgres } from './postgres.mjs'

const root = resolve(dirname(fileURLToPath(import.meta.url)), '..')
const shots = join(root, 'docs/screenshots')
const VIEW = { width: 1280, height: 800 }

buildIfNeeded(root)
mkdirSync(shots, { recursive: true })
const folder = mkdtempSync(join(tmpdir(), 'satchel-shots-'))
chmodSync(folder, 0o755)
const postgres = await startPostgres(join(folder, 'postgres'))
const port = await freePort()
const url = `http://127.0.0.1:${port}`
const KIOSK = { id: '0d5a7c1e-3b52-4a4f-9a35-7f6d1c2b8e90', secret: `whsec_${Buffer.alloc(32, 7).toString('base64')}` }
const kiosk = fork(join(root, 'server/dist/kiosk.mjs'), {
  env: {
    ...process.env,
    SATCHEL_KIOSK_FOLDER: join(folder, 'kiosk'),
    SATCHEL_KIOSK_TELLS: `${url}/api/sales/${KIOSK.id}`,
    SATCHEL_KIOSK_SECRET: KIOSK.secret,
    SATCHEL_KIOSK_DEMO: '1',
  },
})
const { page: kioskPage } = await new Promise((done) => kiosk.once('message', done))
const server = fork(join(root, 'server/dist/main.mjs'), {
  env: {
    ...process.env,
    NODE_ENV: 'production',
    SATCHEL_DATABASE_URL: postgres.url,
    SATCHEL_CACHE: join(folder, 'cache'),
    SATCHEL_SECRET: 'screenshots-0123456789abcdef0123456789',
    SATCHEL_PORT: String(port),
    SATCHEL_DEMO: '1',
    SATCHEL_KIOSK: kioskPage,
    SATCHEL_KIOSK_ID: KIOSK.id,
    SATCHEL_KIOSK_SECRET: KIOSK.secret,
    SATCHEL_LOG: 'error',
  },
})
await new Promise((done) => server.once('message', done))
const browser = await chromium.launch(CHROMIUM)

async function openPage(colorScheme) {
  const page = await (await browser.newContext({ viewport: VIEW, colorScheme })).newPage()
  await page.goto(`${url}/sign-in`)
  await page.getByLabel('E-mail').fill('maren@tidewrack.example')
  await page.getByLabel('Password').fill('saltmarsh-demo')
  await page.getByRole('button', { name: 'Sign in' }).click()
  await page.waitForURL('**/sort')
  return page
}

async function shoot(page, name) {
  await page.waitForLoadState('networkidle')
  const shown = 'img:not([loading=lazy]), [style*=translateY] img'
  await page.waitForFunction(
    (images) => [...document.querySelectorAll(images)].every((image) => image.src && image.complete),
    shown,
  )
  await page.waitForTimeout(900)
  await page.screenshot({ path: join(shots, `${name}.png`) })
  console.log(`${name}.png`)
}

try {
  const page = await openPage('light')
  await livedIn(page)
  await page.goto(`${url}/sort`)
  const lines = page.locator('[role=listbox] [role=option]')
  await lines.nth(2).click()
  await lines.nth(5).click({ modifiers: ['Shift'] })
  await shoot(page, 'sort')
  await page.goto(`${url}/sort?q=ripple%20rub`)
  await lines.first().dblclick()
  await page.getByTestId('paint-area').and(page.locator('[data-shown]')).waitFor()
  await page.getByRole('button', { name: 'Kelp', exact: true }).click()
  await shoot(page, 'tune')
  await page.goto(`${url}/sort/grains`)
  await shoot(page, 'grains')
  await page.goto(`${url}/make`)
  await page.getByRole('link', { name: 'Kelp blade on blue', exact: true }).waitFor()
  await shoot(page, 'make')
  const openSource = async (name) => {
    await page.goto(`${url}/make`)
    await page.getByRole('link', { name, exact: true }).click()
    await page.getByTestId('tried').waitFor()
  }
  await openSource('Kelp blade on blue')
  await page.getByRole('button', { name: /^2 Grey/ }).click()
  const stage = await page.getByTestId('stage').boundingBox()
  await page.mouse.click(stage.x + stage.width * 0.33, stage.y + stage.height * 0.45)
  await page.getByText('1 touch').waitFor()
  await shoot(page, 'make-picture')
  const { brushes: animated } = await (await page.request.get(`${url}/api/brushes?limit=200`)).json()
  await page.goto(`${url}/make/frames/${animated.find(({ frames }) => frames > 3).id}`)
  await page
    .getByText(/belong together|^frame \d/)
    .first()
    .waitFor()
  await shoot(page, 'frames')
  await page.goto(`${url}/fit`)
  const measured = page.getByRole('button', { name: /in Sanderling: likeness/ })
  const isMeasured = () => ![...document.querySelectorAll('td')].some((cell) => cell.textContent === 'measuring')
  await measured.first().waitFor()
  await page.waitForFunction(isMeasured, undefined, { timeout: 180_000 })
  await shoot(page, 'fit')
  await page.getByRole('button', { name: /^Bladder wrack in Dunlin: likeness/ }).click()
  await page.getByRole('img', { name: 'The strokes where they differ' }).waitFor()
  await shoot(page, 'fit-cell')
  await page.getByRole('link', { name: 'Trace it' }).click()
  await page.getByLabel('Traced is').selectOption({ label: 'a level stroke' })
  await page.getByRole('columnheader', { name: 'as curves' }).waitFor()
  await page.getByText('a ribbon, stretched', { exact: true }).click()
  await shoot(page, 'trace')
  await page.goto(`${url}/hand-out`)
  await shoot(page, 'packs')
  await page.getByRole('link', { name: 'Shops' }).click()
  await page.getByText('Odd Culvert').waitFor()
  await shoot(page, 'shops')
  await page.goBack()
  await page.getByRole('link', { name: /Saltmarsh/ }).click()
  await page
    .getByRole('button', { name: /^Hand out 1/ })
    .first()
    .waitFor()
  await shoot(page, 'pack')
  await page.getByRole('link', { name: 'Open the check list' }).click()
  await page.getByRole('article').first().waitFor()
  await page.getByText('Looking at pixels').waitFor({ state: 'hidden' })
  await shoot(page, 'check-list')
  await page.goBack()
  await page.getByRole('link', { name: 'What changed since 1.1.0' }).click()
  // one of that name is in the pocket, too
  const changed = page.getByRole('region', { name: 'Changed' })
  await changed.getByRole('button', { name: /^Strand chalk/ }).click()
  await page.getByRole('img', { name: /where they differ$/ }).waitFor()
  await shoot(page, 'difference')
  await page.goBack()
  await page.getByRole('link', { name: 'Editions' }).click()
  await page.getByRole('link', { name: /evening class/ }).click()
  await page.getByRole('heading', { name: 'Lessons' }).waitFor()
  await shoot(page, 'class-kit')
  await page.goBack()
  await page.goBack()
  await page.getByRole('link', { name: /^People/ }).click()
  await page.getByRole('checkbox', { name: 'Choose Ebba Lowtide' }).check()
  await page.getByRole('checkbox', { name: 'Choose Fenn Merrow' }).check()
  await shoot(page, 'people')
  await page.getByRole('button', { name: 'More for Ebba Lowtide' }).click()
  await page.getByRole('menuitem', { name: 'Make a new link' }).click()
  const link = await page.getByTestId('hand-out-link').textContent()
  const person = await (await browser.newContext({ viewport: VIEW, colorScheme: 'light' })).newPage()
  await person.goto(link)
  await paintOn(person)
  await shoot(person, 'person')
  await gatherFromDownload(page, link)
  await shoot(page, 'gather')
  const dark = await openPage('dark')
  await dark.goto(`${url}/hand-out`)
  await dark.getByRole('link', { name: /Saltmarsh/ }).click()
  await dark.getByRole('link', { name: 'Figures' }).click()
  await dark.getByRole('region', { name: 'What was fetched', exact: true }).waitFor()
  await shoot(dark, 'figures')
} finally {
  await browser.close()
  kiosk.kill('SIGTERM')
  server.kill('SIGTERM')
  await new Promise((done) => server.once('exit', done))
  await postgres.stop()
  rmSync(folder, { recursive: true, force: true })
}

/** Tries three brushes on the sheet of the page. */
async function paintOn(page) {
  await page.getByRole('button', { name: 'Try the brushes' }).click()
  const sheet = page.getByTestId('try-pad')
  await sheet.and(page.locator('[data-ready]:not([data-ready=""])')).waitFor()
  const tried = ['Kelp edge', 'Rope, laid whole', 'Down soft']
  for (const [n, name] of tried.entries()) {
    await page.getByRole('group', { name: 'Brush' }).getByText(name, { exact: true }).click()
    await page.getByRole('button', { name: ['Kelp', 'Rope', 'Sea'][n], exact: true }).click()
    const id = await page.getByRole('radio', { name, exact: true }).getAttribute('value')
    await sheet.and(page.locator(`[data-ready="${id}"]`)).waitFor()
    await page.getByRole('heading', { name: 'Paint with them here' }).scrollIntoViewIfNeeded()
    const { x, y, width } = await sheet.boundingBox()
    const at = (step) => [x + 40 + (step * (width - 80)) / 30, y + 60 + n * 80 + Math.sin(step / 3) * 30]
    await page.mouse.move(...at(0))
    await page.mouse.down()
    for (let step = 1; step <= 30; step++) await page.mouse.move(...at(step))
    await page.mouse.up()
  }
  await page.getByRole('button', { name: 'Undo' }).and(page.locator(':enabled')).waitFor()
}

/** Waits until the demo's curator has done what is done behind the first visit; measuring all comes last. */
async function livedIn(page) {
  const isDone = async () => {
    const { jobs } = await (await page.request.get(`${url}/api/jobs`)).json()
    return jobs.some(({ title, state }) => title === 'Likeness of the whole library' && state === 'done')
  }
  while (!(await isDone())) await page.waitForTimeout(1000)
}

/** A ledger with something of everything: the demo's own download, a foreign file, and a damaged one. */
async function gatherFromDownload(page, link) {
  const zip = Buffer.from(await (await fetch(`${link.replace('/h/', '/api/h/')}/download`)).arrayBuffer())
  // strokes of the demo's own brushes, as if somebody had scanned them
  const { brushes } = await (await page.request.get(`${url}/api/brushes?tag=stamp&limit=8`)).json()
  const scans = await Promise.all(
    brushes.map(async ({ id, name }, n) => {
      const size = n === 1 ? 'gauge' : 'sketch'
      const picture = await page.request.get(`${url}/api/brushes/${id}/stroke.png?size=${size}`)
      return { name: `scan of ${name.toLowerCase()}.png`, mimeType: 'image/png', buffer: await picture.body() }
    }),
  )
  await page.goto(`${url}/gather`)
  await page.getByTestId('choose-files').setInputFiles([
    ...scans,
    { name: 'letter to the class.txt', mimeType: 'text/plain', buffer: Buffer.from('See you on the dyke.') },
    {
      name: 'half a shell.png',
      mimeType: 'image/png',
      buffer: Buffer.from('89504e470d0a1a0a0000000d49484452000001', 'hex'),
    },
    { name: 'from a colleague.zip', mimeType: 'application/zip', buffer: zip },
  ])
  await page
    .getByRole('button', { name: /^Take in \d+ brush/ })
    .and(page.locator(':enabled'))
    .waitFor({ timeout: 60_000 })
}
