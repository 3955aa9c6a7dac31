import { readFileSync } from 'node:fs'
import { expect, type Page, test } from '@playwright/test'
import pg from 'pg'
import sharp from 'sharp'
import { openSatchel, type Satchel, signInToDemo } from './harness.ts'
import { tipPng } from './tips.ts'

let satchel: Satchel
test.beforeAll(async () => {
  satchel = await openSatchel({ demo: true })
})
test.afterAll(() => satchel.close())

test('a phone opens the link once and its photographs arrive in the ledger', async ({ page, browser }) => {
  await signInToDemo(page, satchel.url)
  await page.goto(`${satchel.url}/gather`)
  await page.getByRole('button', { name: 'From a phone' }).click()
  const dialog = page.getByRole('dialog', { name: 'From a phone' })
  await expect(dialog.getByRole('img', { name: 'The link as a code for a camera' })).toBeVisible()
  const link = await dialog.getByTestId('phone-link').inputValue()

  const pocket = await browser.newContext({ viewport: { width: 390, height: 800 } })
  const phone = await pocket.newPage()
  await phone.goto(link)
  await expect(phone.getByRole('heading', { name: 'Photographs for Tidewrack Studio' })).toBeVisible()
  await expect(dialog.getByText('A phone has opened the link.')).toBeVisible()
  const photograph = (n: number) => ({ name: `IMG ${n}.png`, mimeType: 'image/png', buffer: Buffer.from(tipPng(n)) })
  await phone.getByTestId('choose-photographs').setInputFiles([photograph(1), photograph(2)])
  await expect(phone.getByRole('list', { name: 'Photographs' }).getByText('arrived')).toHaveCount(2)
  await expect(dialog.getByTestId('phone-arrived')).toHaveText('2 photographs arrived.')
  expect(await phone.evaluate(() => document.documentElement.scrollWidth <= window.innerWidth)).toBe(true)
  // the same phone may load its page again; another one is told why not
  await phone.reload()
  await expect(phone.getByRole('button', { name: 'Take a photograph' })).toBeVisible()
  const other = await (await browser.newContext()).newPage()
  await other.goto(link)
  await expect(other.getByRole('alert')).toContainText('was opened before, in another place')

  // closing the dialog ends the link
  const ended = page.waitForResponse((response) => response.request().method() === 'DELETE' && response.ok())
  await dialog.getByRole('link', { name: 'Go to the ledger' }).click()
  await expect(page.getByTestId('ledger-summary')).toHaveText(/^2 to take/)
  await ended
  await phone.getByTestId('choose-photographs').setInputFiles([photograph(3)])
  await expect(phone.getByRole('alert')).toContainText('This link has ended')
  await pocket.close()
  await other.context().close()
})

test('a part is kept by lasso; words are written, and written anew; a pen draws an ornament', async ({ page }) => {
  await signInToDemo(page, satchel.url)
  await page.goto(`${satchel.url}/make`)
  await page.getByRole('link', { name: 'Shells from the tide line', exact: true }).click()
  const makes = page.getByRole('button', { name: /^Make \d+ tips/ })
  await expect(makes).toHaveText(/Make 8 tips/)
  await page
    .getByRole('list', { name: 'Steps' })
    .getByRole('button', { name: /^\d+ Crop/ })
    .click()
  await page.getByText('lasso', { exact: true }).click()
  await drawOn(page, 'lasso', [
    [0.02, 0.02],
    [0.48, 0.02],
    [0.48, 0.48],
    [0.02, 0.48],
  ])
  await expect(makes).toHaveText(/Make 2 tips/)
  await page.getByRole('button', { name: 'Take the lasso away' }).click()
  await expect(makes).toHaveText(/Make 8 tips/)
  // the same by keys, from the middle
  await page.getByTestId('lasso').focus()
  await page.keyboard.press('Space')
  for (const key of ['ArrowLeft', 'ArrowUp', 'ArrowRight']) for (let i = 0; i < 24; i++) await page.keyboard.press(key)
  await page.keyboard.press('Space')
  await expect(makes).toHaveText(/Make 2 tips/)

  await page.goto(`${satchel.url}/make`)
  await page.getByRole('button', { name: 'Write words' }).click()
  await page.getByLabel('What it says').fill('Tide')
  await page.getByRole('button', { name: 'Begin with these words' }).click()
  await expect(page.getByRole('heading', { level: 1, name: 'Tide' })).toBeVisible()
  const size = page.getByText(/^\d+ × \d+ px$/)
  await expect(size).toBeVisible()
  const before = await size.textContent()
  await page.getByRole('button', { name: 'Other words' }).click()
  await expect(page.getByLabel('What it says')).toHaveValue('Tide')
  await page.getByLabel('What it says').fill('Tidewrack')
  await page.getByRole('button', { name: 'Write it anew' }).click()
  await expect(size).not.toHaveText(before ?? '')

  await page.goto(`${satchel.url}/make?way=ornament`)
  await page.getByRole('button', { name: 'Draw by pen' }).click()
  await drawOn(page, 'pen-area', [
    [0.9, 0.1],
    [0.3, 0.5],
    [0.9, 0.9],
  ])
  const drawn = page.getByTestId('pen-area').locator('path')
  const byPointer = await drawn.count()
  await page.getByTestId('pen-area').focus()
  await page.keyboard.press('Space')
  for (let i = 0; i < 5; i++) await page.keyboard.press('ArrowLeft')
  await page.keyboard.press('Backspace')
  // the line that was begun is given up; only the cross is left beside what was drawn
  await expect(drawn).toHaveCount(byPointer + 2)
  await page.keyboard.press('Space')
  for (let i = 0; i < 5; i++) await page.keyboard.press('ArrowUp')
  await page.keyboard.press('Space')
  await expect(drawn).toHaveCount(byPointer + 6 + 2)
  await page.getByRole('button', { name: 'Begin with this drawing' }).click()
  const download = page.waitForEvent('download')
  await page.getByRole('button', { name: 'Save its outline as SVG' }).click()
  const svg = readFileSync(await (await download).path(), 'utf8')
  expect(svg.match(/M/g)?.length ?? 0).toBeGreaterThan(1)
})

/** Draws a line over an area, from place to place; places are shares of it. */
async function drawOn(page: Page, testId: string, places: readonly [number, number][]): Promise<void> {
  const box = await page.getByTestId(testId).boundingBox()
  if (!box) throw new Error(`${testId} is not seen`)
  for (const [i, [x, y]] of places.entries()) {
    await page.mouse.move(box.x + x * box.width, box.y + y * box.height, { steps: 6 })
    if (i === 0) await page.mouse.down()
  }
  await page.mouse.up()
}

test('a grain is made of a photograph, and what a mended one does to brushes is shown', async ({ page }) => {
  await signInToDemo(page, satchel.url)
  await page.goto(`${satchel.url}/sort/grains`)
  await page.getByRole('button', { name: 'From a photograph' }).click()
  const [width, height] = [413, 309]
  const grey = Uint8Array.from({ length: width * height }, (_, i) => {
    const [x, y] = [i % width, Math.floor(i / width)]
    return 140 + 60 * Math.sin((2 * Math.PI * x) / 23) * Math.cos((2 * Math.PI * y) / 31) - x / 10
  })
  const buffer = await sharp(grey, { raw: { width, height, channels: 1 } })
    .jpeg()
    .toBuffer()
  await page.getByTestId('choose-grain-photo').setInputFiles({ name: 'cloth.jpg', mimeType: 'image/jpeg', buffer })
  const dialog = page.getByRole('dialog', { name: 'A grain from a photograph' })
  await expect(dialog.getByText('cannot be seen')).toHaveCount(2)
  await dialog.getByRole('button', { name: 'Keep "cloth"' }).click()
  await expect(page.getByLabel('Name of cloth', { exact: true })).toBeVisible()

  const used = page.getByRole('article').filter({ hasText: /\d brush(es)? uses? it/ })
  await used
    .first()
    .getByRole('button', { name: /^Mend / })
    .click()
  const after = page.getByRole('region', { name: 'What it does to brushes' })
  await expect(after.getByRole('img', { name: /with the other grain$/ }).first()).toBeVisible()
})

test('a workbench of ten thousand sources shows those in view, and points are moved on the histogram', async ({
  page,
}) => {
  const database = new pg.Client({ connectionString: satchel.databaseUrl })
  await database.connect()
  await database.query(`
    insert into source (workspace_id, name, file, plan, updated_at)
    select workspace_id, 'Copy ' || n, file, plan, now() - n * interval '1 minute' - interval '1 day'
    from source, generate_series(1, 10000) n where name = 'Kelp blade on blue'`)
  await database.end()
  await signInToDemo(page, satchel.url)
  await page.goto(`${satchel.url}/make`)
  await expect(page.getByText(/^10,\d\d\d sources$/)).toBeVisible()
  await expect(page.getByRole('article').first()).toBeVisible()
  expect(await page.getByRole('article').count()).toBeLessThan(60)
  await page.keyboard.press('End')
  await expect(page.getByRole('link', { name: 'Copy 10000', exact: true })).toBeVisible()
  expect(await page.getByRole('article').count()).toBeLessThan(60)
  await page.getByRole('link', { name: 'Copy 10000', exact: true }).click()
  const white = page.getByRole('slider', { name: 'White point' })
  const before = Number(await white.getAttribute('aria-valuenow'))
  await white.press('ArrowLeft')
  await expect(white).toHaveAttribute('aria-valuenow', String(before - 1))
  const box = await white.boundingBox()
  if (!box) throw new Error('no white point')
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2)
  await page.mouse.down()
  await page.mouse.move(box.x + box.width / 2 - 20, box.y + box.height / 2, { steps: 4 })
  await page.mouse.up()
  await expect.poll(async () => Number(await white.getAttribute('aria-valuenow'))).toBeLessThan(before - 5)
})
