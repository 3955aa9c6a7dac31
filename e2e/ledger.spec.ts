import { expect, type Page, test } from '@playwright/test'
import { writeGbr } from '@satchel/core/formats/gbr/write'
import { writePng } from '@satchel/core/formats/png/write'
import type { Pixels } from '@satchel/core/raster/pixels'
import { makeFirstOwner, openSatchel, type Satchel } from './harness.ts'

let satchel: Satchel
test.beforeAll(async () => {
  satchel = await openSatchel({ demo: false })
})
test.afterAll(() => satchel.close())

/** A dark bar that stands elsewhere for each number. */
function bar(n: number, width = 80, height = 60): Pixels {
  const data = new Uint8Array(width * height).fill(255)
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) if (Math.abs(x - y * (n % 5) * 0.3 - 8 * n) < 6 + n) data[y * width + x] = 20
  }
  return { width, height, channels: 1, data }
}
/** The same on a larger sheet. */
function framed({ width, height, data }: Pixels, by: number): Pixels {
  const out = new Uint8Array((width + 2 * by) * (height + 2 * by)).fill(255)
  for (let y = 0; y < height; y++) out.set(data.subarray(y * width, (y + 1) * width), (y + by) * (width + 2 * by) + by)
  return { width: width + 2 * by, height: height + 2 * by, channels: 1, data: out }
}
const png = (name: string, pixels: Pixels) => ({ name, mimeType: 'image/png', buffer: Buffer.from(writePng(pixels)) })
const gbr = (name: string, pixels: Pixels) => ({
  name,
  mimeType: 'application/octet-stream',
  buffer: Buffer.from(
    writeGbr({ version: 2, name: '', spacingPct: 40, ...pixels, data: pixels.data.map((grey) => 255 - grey) }),
  ),
})
const ledger = (page: Page) => page.getByRole('region', { name: 'Ledger' })
const summary = (page: Page) => page.getByTestId('ledger-summary')

test('the ledger shows what came, takes decisions, and leaves nothing when cancelled', async ({ page }) => {
  await makeFirstOwner(page, satchel.url)
  await expect(page.getByRole('heading', { name: 'Lay brushes here' })).toBeVisible()

  await test.step('each file is a line with its reason', async () => {
    const cut = png('cut.png', bar(3))
    await page
      .getByTestId('choose-files')
      .setInputFiles([
        png('first bar.png', bar(1)),
        png('first again.png', bar(1)),
        gbr('second.gbr', bar(2)),
        png('wide.png', bar(4, 2400, 40)),
        { ...cut, buffer: cut.buffer.subarray(0, 80) },
        { name: 'shopping.txt', mimeType: 'text/plain', buffer: Buffer.from('bread, tea') },
      ])
    await expect(summary(page)).toHaveText('3 to take, 2 skipped, 1 refused')
    await expect(ledger(page).getByText('the file is cut short', { exact: false })).toBeVisible()
    await expect(ledger(page).getByText('Not a brush or a picture of a kind that is taken.')).toBeVisible()
    await expect(ledger(page).getByText('Same pixels')).toBeVisible()
    await expect(ledger(page).getByText('2400 × 40')).toBeVisible()
  })

  await test.step('copies are decided for all at once, or one by one', async () => {
    await page.getByRole('button', { name: 'Take 1 copy too' }).click()
    await expect(summary(page)).toHaveText('4 to take, 1 skipped, 1 refused')
    await page.getByRole('button', { name: 'Take second', exact: true }).click()
    await expect(summary(page)).toHaveText('3 to take, 2 skipped, 1 refused')
    await page.getByRole('button', { name: 'Skip second', exact: true }).click()
    await expect(summary(page)).toHaveText('4 to take, 1 skipped, 1 refused')
  })

  await test.step('a heavy tip gives way to a smaller copy, and comes back', async () => {
    await page.getByRole('button', { name: 'smaller copy, 2048' }).click()
    await expect(ledger(page).getByText('2048 × 34')).toBeVisible()
    await page.getByRole('button', { name: 'use the full size' }).click()
    await expect(ledger(page).getByText('2400 × 40')).toBeVisible()
  })

  await test.step('a set is named in the line, and the page comes back as it was', async () => {
    await page.getByLabel('Set of second').fill('Bars')
    const kept = page.waitForResponse((response) => response.url().endsWith('/decide') && response.ok())
    await page.keyboard.press('Enter')
    await kept
    await page.reload()
    await expect(page.getByLabel('Set of second')).toHaveValue('Bars')
    await expect(summary(page)).toHaveText('4 to take, 1 skipped, 1 refused')
  })

  await test.step('a whole folder is skipped or taken in one click', async () => {
    await page.getByRole('button', { name: /^Skip all/ }).click()
    await expect(summary(page)).toHaveText('0 to take, 5 skipped, 1 refused')
    await expect(page.getByRole('button', { name: 'Take in 0 brushes' })).toBeDisabled()
    await page.getByRole('button', { name: /^Take all/ }).click()
    await expect(summary(page)).toHaveText('4 to take, 1 skipped, 1 refused')
  })

  await test.step('marks that are there already are shown beside their originals before they are skipped', async () => {
    await page.getByTestId('choose-files').setInputFiles([png('second, wider margin.png', framed(bar(2), 20))])
    await expect(summary(page)).toHaveText('5 to take, 1 skipped, 1 refused')
    await expect(ledger(page).getByText('Same mark, another margin')).toBeVisible()
    await page.getByRole('button', { name: 'Look at 1 same mark' }).click()
    const dialog = page.getByRole('dialog', { name: '1 mark that you have' })
    await expect(dialog.getByRole('listitem')).toHaveCount(1)
    await expect(dialog.getByRole('img', { name: '"second"' })).toBeVisible()
    await dialog.getByRole('button', { name: 'Keep them' }).click()
    await expect(summary(page)).toHaveText('5 to take, 1 skipped, 1 refused')
    await page.getByRole('button', { name: 'Look at 1 same mark' }).click()
    await dialog.getByRole('button', { name: 'Skip 1 mark' }).click()
    await expect(summary(page)).toHaveText('4 to take, 2 skipped, 1 refused')
    await expect(page.getByRole('button', { name: /^Look at/ })).toHaveCount(0)
  })

  await test.step('cancelling leaves nothing', async () => {
    await page.getByRole('button', { name: 'Cancel all' }).click()
    await expect(page.getByRole('heading', { name: 'Lay brushes here' })).toBeVisible()
    await page.goto(`${satchel.url}/sort`)
    await expect(page.getByRole('heading', { name: 'An empty library' })).toBeVisible()
  })

  await test.step('every empty place shows a brush of the starter library as its example', async () => {
    for (const [path, heading, example] of [
      ['sort', 'An empty library', 'Slant nib'],
      ['sort?bin=1', 'The bin is empty', 'Dashes'],
      ['sort/grains', 'No grains and strips yet', 'Cord, laid on'],
      ['hand-out', 'No pack yet', 'Bristle flat'],
      ['tune', 'Nothing to tune yet', 'Berries'],
    ]) {
      await page.goto(`${satchel.url}/${path}`)
      await expect(page.getByRole('heading', { name: heading ?? '' })).toBeVisible()
      await expect(page.getByRole('link', { name: `"${example}"` })).toHaveAttribute('href', /^\/tune\//)
    }
    await page.getByRole('button', { name: 'Pin "Plain pen"' }).click()
    await expect(page.getByRole('button', { name: /^Plain pen, 11 px/ })).toBeVisible()
    await page.goto(`${satchel.url}/sort`)
    await page.getByRole('button', { name: 'New set' }).click()
    await page.getByLabel('Name of the new set').fill('Leaves')
    await page.keyboard.press('Enter')
    await page.getByTestId('set Leaves').click()
    await expect(page.getByRole('heading', { name: 'An empty set' })).toBeVisible()
    await expect(page.getByRole('link', { name: '"Long leaf"' })).toBeVisible()
  })

  await test.step('and the same files can be taken in afterwards', async () => {
    await page.goto(`${satchel.url}/gather`)
    await page.getByTestId('choose-files').setInputFiles([png('first bar.png', bar(1)), gbr('second.gbr', bar(2))])
    await expect(summary(page)).toHaveText('2 to take, 0 skipped, 0 refused')
    await page.getByLabel('Set of second').fill('Bars')
    await page.keyboard.press('Enter')
    await expect(page.getByLabel('Set of second')).toHaveValue('Bars')
    await page.getByRole('button', { name: 'Take in 2 brushes' }).click()
    await page.waitForURL('**/sort')
    await expect(page.getByTestId('set Bars')).toContainText('1')
    await expect(page.getByText('2 brushes', { exact: true })).toBeVisible()
  })
})

test('the password is changed from the account’s menu; this page stays signed in', async ({ page }) => {
  await page.goto(`${satchel.url}/sign-in`)
  await page.getByLabel('E-mail').fill('ida@marsh.example')
  await page.getByLabel('Password').fill('samphire-and-salt')
  await page.getByRole('button', { name: 'Sign in' }).click()
  await page.waitForURL('**/sort')
  await page.getByRole('button', { name: 'Account of Ida Slikker' }).click()
  await page.getByRole('button', { name: 'Change password' }).click()
  const dialog = page.getByRole('dialog', { name: 'Change your password' })
  const change = async (current: string) => {
    await dialog.getByLabel('Password you have now').fill(current)
    await dialog.getByLabel('New password').fill('barges-tallow-nine')
    await dialog.getByRole('button', { name: 'Change password' }).click()
  }
  await change('not this one')
  await expect(dialog.getByRole('alert')).toHaveText('That is not the password you have now; type it again.')
  await change('samphire-and-salt')
  await expect(
    page.getByText('Your password is changed. Everywhere else you are signed out.', { exact: true }),
  ).toBeVisible()
  await expect(dialog).toHaveCount(0)
  await page.reload()
  await expect(page.getByRole('button', { name: 'Account of Ida Slikker' })).toBeVisible()
})
