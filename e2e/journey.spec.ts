import { execFileSync } from 'node:child_process'
import { mkdtempSync, readdirSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { expect, type Page, test } from '@playwright/test'
import { makeFirstOwner, openSatchel, type Satchel, settled } from './harness.ts'
import { packOfTips } from './tips.ts'

let satchel: Satchel
test.beforeAll(async () => {
  satchel = await openSatchel({ demo: false })
})
test.afterAll(() => satchel.close())

const line = (page: Page, name: string) =>
  page.getByRole('listbox', { name: 'Brushes' }).getByRole('option', { name: new RegExp(`^${name},`) })
const setLabel = (page: Page, name: string) => page.getByTestId(`set ${name}`)

test('from a folder of tips to a download in somebody else’s hands', async ({ page, browser }) => {
  await test.step('the first visit makes the owner', () => makeFirstOwner(page, satchel.url))

  await test.step('150 tips in nine folders are gathered; the page goes on answering', async () => {
    await page
      .getByTestId('choose-files')
      .setInputFiles({ name: 'old.zip', mimeType: 'application/zip', buffer: Buffer.from(packOfTips()) })
    await expect(page.getByRole('region', { name: 'Ledger' })).toBeVisible()
    // look elsewhere while it reads, and come back to the ledger as it was
    await page.getByRole('link', { name: /^Sort/ }).click()
    await expect(page.getByRole('heading', { name: 'An empty library' })).toBeVisible()
    await page
      .getByRole('link', { name: /^Gather/ })
      .first()
      .click()
    await expect(page.getByTestId('ledger-summary')).toHaveText('150 to take, 3 skipped, 0 refused', {
      timeout: 120_000,
    })
    await expect(page.getByRole('button', { name: 'Smaller copies of 5 heavy tips' })).toBeVisible()
    await page.getByRole('button', { name: 'Take in 150 brushes' }).click()
    await page.waitForURL('**/sort')
    await expect(page.getByText('150 brushes', { exact: true })).toBeVisible()
    await expect(
      page.getByRole('list', { name: 'Your sets' }).locator('[data-testid^="set "] button.font-title'),
    ).toHaveCount(9)
  })

  await test.step('20 brushes are dropped on a new set', async () => {
    await page.getByRole('button', { name: 'New set' }).click()
    await page.getByLabel('Name of the new set').fill('Class')
    await page.keyboard.press('Enter')
    await expect(setLabel(page, 'Class')).toContainText('0')
    await line(page, 'barbs 001').click()
    // shift and click twenty lines on: lines are 60 px, so scroll there
    await page.getByRole('listbox', { name: 'Brushes' }).hover()
    await page.mouse.wheel(0, 700)
    await page.locator('[role=option][aria-label^="bark 022"]').click({ modifiers: ['Shift'] })
    await expect(page.getByText('20 brushes chosen')).toBeVisible()
    const from = await page.locator('[role=option][aria-label^="bark 022"]').boundingBox()
    const to = await setLabel(page, 'Class').boundingBox()
    if (!from || !to) throw new Error('nothing to drag')
    await page.mouse.move(from.x + 200, from.y + 30)
    await page.mouse.down()
    await page.mouse.move(from.x + 150, from.y + 10, { steps: 4 })
    await page.mouse.move(to.x + 60, to.y + 15, { steps: 12 })
    await page.mouse.up()
    await expect(setLabel(page, 'Class')).toContainText('20')
  })

  await test.step('and 20 more by keyboard alone, into another new set', async () => {
    const list = page.getByRole('listbox', { name: 'Brushes' })
    await list.focus()
    await page.keyboard.press('Escape')
    await page.keyboard.press('Home')
    await page.keyboard.press('x')
    for (let n = 0; n < 19; n++) await page.keyboard.press('Shift+ArrowDown')
    await expect(page.getByText('20 brushes chosen')).toBeVisible()
    await page.keyboard.press('c')
    await page.getByLabel('Find a set or name a new one').fill('By hand')
    await page.keyboard.press('Enter')
    await expect(setLabel(page, 'By hand')).toContainText('20')
  })

  await test.step('a set is moved to another place by keyboard', async () => {
    const grip = page.getByRole('button', { name: 'Drag By hand to another place' })
    await grip.focus()
    await page.keyboard.press('Space')
    await page.waitForTimeout(150) // the keyboard sensor listens from the next frame on
    await page.keyboard.press('ArrowUp')
    await page.waitForTimeout(150)
    await page.keyboard.press('Space')
    const names = () =>
      page.getByRole('list', { name: 'Your sets' }).locator('[data-testid^="set "] button.font-title').allInnerTexts()
    await expect
      .poll(async () => (await names()).map((text) => text.split('\n')[0]))
      .toEqual(['Barbs', 'Bark', 'Foam', 'Moss', 'Pebbles', 'Rain', 'Reeds', 'Smoke', 'Thorns', 'By hand', 'Class'])
  })

  await test.step('the end of the list is one request away', async () => {
    await page.goto(`${satchel.url}/sort`)
    await expect(page.locator('[role=option][aria-label^="barbs"]').first()).toBeVisible()
    const asked: string[] = []
    page.on('request', (request) => {
      const { pathname, searchParams } = new URL(request.url())
      if (pathname === '/api/brushes') asked.push(searchParams.get('from') ?? '0')
    })
    await page.getByRole('listbox', { name: 'Brushes' }).press('End')
    await expect(page.locator('[role=option][aria-label^="thorns"]').last()).toBeVisible()
    // the first page may be fetched anew, since the drop before was a change
    expect(asked.filter((from) => from !== '0')).toEqual(['120'])
    page.removeAllListeners('request')
  })

  await test.step('one brush is tuned, and the strokes follow', async () => {
    await page
      .getByRole('list', { name: 'Your sets' })
      .getByRole('button', { name: /^Class/ })
      .click()
    await line(page, 'barbs 001').dblclick()
    await expect(page.getByRole('heading', { level: 1, name: 'barbs 001' })).toBeVisible()
    const strokes = page.getByTestId('paint-area')
    await settled(strokes)
    const before = await strokes.screenshot()
    await page.getByLabel('Spacing, %').fill('140')
    await page.keyboard.press('Enter')
    await expect(page.getByRole('status').filter({ hasText: 'version 2 of 2, saved' })).toBeVisible()
    expect((await strokes.screenshot()).equals(before)).toBe(false)
    await page.getByLabel('Maker').fill('Ida Slikker')
    await page.keyboard.press('Enter')
    await expect(page.getByRole('status').filter({ hasText: 'version 3 of 3, saved' })).toBeVisible()
  })

  await test.step('a pack of the set is released', async () => {
    await page.getByRole('link', { name: /^Hand out/ }).click()
    await page.getByRole('button', { name: 'New pack' }).first().click()
    await page.getByLabel('Title').fill('Shoreline class')
    await page.getByRole('button', { name: 'Make the pack' }).click()
    await page.getByRole('button', { name: /^Add the set Class,/ }).click()
    await expect(page.getByTestId('pack-count')).toHaveText('20 brushes of 1 set: exactly these go out.')
    await page.getByLabel('Licence', { exact: true }).selectOption('CC0-1.0')
    await page.getByRole('button', { name: 'Release 20 brushes' }).click()
    await page.getByRole('button', { name: 'Release it' }).click()
    await expect(page.getByRole('button', { name: 'Hand out 1.0.0' })).toBeVisible({ timeout: 120_000 })
  })

  const link = await test.step('a hand-out gives a link', async () => {
    await page.getByRole('button', { name: 'Hand out 1.0.0' }).click()
    await page.getByLabel('For whom').fill('Evening class')
    await page.getByRole('button', { name: 'Make the link' }).click()
    const text = await page.getByTestId('hand-out-link').textContent()
    await page.getByRole('button', { name: 'Done' }).click()
    if (!text) throw new Error('no link')
    return text.trim()
  })

  const stranger = await browser.newContext()
  const theirs = await stranger.newPage()
  await test.step('somebody without an account opens it and downloads', async () => {
    await theirs.goto(link)
    await expect(theirs.getByRole('heading', { level: 1, name: 'Shoreline class' })).toBeVisible()
    await expect(theirs.getByText('For Evening class')).toBeVisible()
    const stroke = theirs.getByRole('img', { name: 'Stroke of barbs 001' })
    await expect.poll(() => stroke.evaluate((image: HTMLImageElement) => image.naturalWidth)).toBeGreaterThan(100)
    const [download] = await Promise.all([
      theirs.waitForEvent('download'),
      theirs.getByRole('link', { name: /^Download all 20 brushes/ }).click(),
    ])
    expect(download.suggestedFilename()).toBe('Shoreline class 1.0.0.zip')
    const folder = mkdtempSync(join(tmpdir(), 'journey-'))
    await download.saveAs(join(folder, 'd.zip'))
    expect(execFileSync('unzip', ['-t', 'd.zip'], { cwd: folder, encoding: 'utf8' })).toContain('No errors detected')
    execFileSync('unzip', ['-q', 'd.zip'], { cwd: folder })
    expect(execFileSync('sha256sum', ['-c', 'SHA256SUMS'], { cwd: folder, encoding: 'utf8' })).not.toContain('FAILED')
    expect(readdirSync(join(folder, 'Class')).length).toBe(40)
    const script = `
import sys, glob
from PIL import Image
gbr = sorted(glob.glob(sys.argv[1] + '/Class/*.gbr'))
for path in gbr:
    brush, paper = Image.open(path), Image.open(path[:-4] + '.png')
    assert brush.size == paper.size and bytes(255 - v for v in brush.tobytes()) == paper.tobytes(), path
print(len(gbr))`
    expect(execFileSync('/usr/bin/python3', ['-c', script, folder], { encoding: 'utf8' }).trim()).toBe('20')
  })

  await test.step('withdrawn, the link is dead', async () => {
    await page.getByRole('button', { name: 'More for Evening class' }).click()
    await page.getByRole('menuitem', { name: 'Withdraw' }).click()
    await expect(page.getByText('withdrawn')).toBeVisible()
    await theirs.reload()
    await expect(theirs.getByRole('alert')).toHaveText(
      'This hand-out has been withdrawn. Ask whoever sent it if you still need it.',
    )
    await expect(theirs.getByText('Shoreline')).toHaveCount(0)
  })
  await stranger.close()
})

/** So many copies of each tip that reading them all is met in its middle. */
const TIMES = 14

test('a server killed in the middle of reading ends the job right, once, after it is started again', async ({
  page,
}) => {
  await page.goto(`${satchel.url}/sign-in`)
  await page.getByLabel('E-mail').fill('ida@marsh.example')
  await page.getByLabel('Password').fill('samphire-and-salt')
  await page.getByRole('button', { name: 'Sign in' }).click()
  await page.waitForURL('**/sort')
  await page.goto(`${satchel.url}/gather`)
  await page
    .getByTestId('choose-files')
    .setInputFiles({ name: 'again.zip', mimeType: 'application/zip', buffer: Buffer.from(packOfTips(TIMES)) })
  const toTake = async () => {
    const summary = await page
      .getByTestId('ledger-summary')
      .textContent()
      .catch(() => '')
    return Number(summary?.match(/^([\d,]+) to take/)?.[1]?.replaceAll(',', '') ?? 0)
  }
  await expect.poll(toTake, { intervals: [100] }).toBeGreaterThan(3)
  await satchel.kill()
  const half = await toTake()
  expect(half).toBeGreaterThan(3)
  expect(half).toBeLessThan(150 * TIMES)
  await satchel.start()
  await page.reload()
  // all are in the library already, so as exact copies they are skipped once the reading has ended
  const skipped = (150 * TIMES + 3).toLocaleString('en')
  await expect(page.getByTestId('ledger-summary')).toHaveText(`0 to take, ${skipped} skipped, 0 refused`, {
    timeout: 120_000,
  })
  await page.getByRole('button', { name: 'Cancel all' }).click()
  await expect(page.getByRole('heading', { name: 'Lay brushes here' })).toBeVisible()
})
