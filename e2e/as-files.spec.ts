import { execFileSync } from 'node:child_process'
import { expect, type Page, test } from '@playwright/test'
import { makeFirstOwner, openSatchel, type Satchel, signInToDemo } from './harness.ts'
import { tipPng } from './tips.ts'

let satchel: Satchel
let empty: Satchel
test.beforeAll(async () => {
  satchel = await openSatchel({ demo: true })
  empty = await openSatchel({ demo: false })
})
test.afterAll(async () => {
  await satchel.close()
  await empty.close()
})

/** Has the file of the open dialog made. @returns Its name, and where it was saved. */
async function makeAndFetch(page: Page): Promise<{ name: string; path: string }> {
  await page.getByRole('button', { name: 'Make the file' }).click()
  const link = page.getByRole('dialog').getByRole('link', { name: /^Download / })
  await expect(link).toBeVisible()
  const [download] = await Promise.all([page.waitForEvent('download'), link.click()])
  await page.getByRole('dialog').getByRole('button', { name: 'Close' }).click()
  return { name: download.suggestedFilename(), path: await download.path() }
}

test('one brush, one set, a sheet: each says what it will hold, and gives that', async ({ page }) => {
  await signInToDemo(page, satchel.url)
  await page.goto(`${satchel.url}/sort?q=Down+soft`)
  await page.getByRole('option', { name: /^Down soft,/ }).click()
  await page.getByRole('button', { name: 'Save this brush' }).click()
  await expect(page.getByRole('dialog', { name: 'The brush "Down soft"' })).toContainText('1 brush in 2 files; about ')
  const brush = await makeAndFetch(page)
  expect(brush.name).toBe('Down soft.zip')
  const entries = execFileSync('unzip', ['-Z1', brush.path], { encoding: 'utf8' })
  expect(entries).toContain('Down soft.gbr')
  expect(entries.match(/\.gbr/g)).toHaveLength(1)

  await page.goto(`${satchel.url}/sort`)
  await page.getByRole('button', { name: 'More for Ropework' }).click()
  await page.getByRole('menuitem', { name: 'A picture of this set' }).click()
  await expect(page.getByRole('dialog', { name: 'A picture of "Ropework"' })).toContainText('12 brushes.')
  expect((await makeAndFetch(page)).name).toBe('Ropework.png')

  // from the list of commands, on paper of another size
  await page.getByRole('link', { name: 'Hand out' }).first().click()
  await page.getByRole('link', { name: 'Saltmarsh Sketching' }).first().click()
  await page.keyboard.press('Control+k')
  await page.getByRole('combobox').fill('print')
  await page.getByRole('option', { name: 'Print a sheet of this pack' }).click()
  await page.getByLabel('Paper').selectOption('Letter')
  await expect(page.getByRole('dialog')).toContainText('A PDF to print on Letter')
  const sheet = await makeAndFetch(page)
  expect(sheet.name).toBe('Saltmarsh Sketching Letter.pdf')
  expect(execFileSync('pdftotext', [sheet.path, '-'], { encoding: 'utf8' })).toContain('Down soft')
})

test('help is laid out before it is sent as it is where it arrives', async ({ page }) => {
  await signInToDemo(page, satchel.url)
  await page.goto(`${satchel.url}/hand-out`)
  await page.getByRole('link', { name: 'Saltmarsh Sketching' }).first().click()
  await page
    .getByLabel('Help for those who get it')
    .fill('# Begin\n\nHold it *flat*. <script>document.title = "run"</script>')
  await page.getByLabel('Help for those who get it').blur()
  await page.getByText('As it arrives').click()
  await expect(page.getByRole('heading', { name: 'Begin' })).toBeVisible()
  await expect(page.getByText('flat', { exact: true })).toHaveCSS('font-style', 'italic')
  await expect(page).toHaveTitle(/Saltmarsh Sketching/)
})

test('a cover is composed of strokes, is the one on the label, and a part of a picture takes its place', async ({
  page,
}) => {
  await signInToDemo(page, satchel.url)
  await page.goto(`${satchel.url}/hand-out`)
  await page.getByRole('link', { name: 'Saltmarsh Sketching' }).first().click()
  await page.getByRole('button', { name: 'Compose a cover' }).click()
  const dialog = page.getByRole('dialog', { name: 'Cover' })
  await dialog.getByLabel('Title on it').fill('Tide and reed')
  await dialog.getByRole('button', { name: 'Another stroke' }).click()
  await dialog.getByLabel('Stroke 2', { exact: true }).selectOption('Twine')
  await expect(dialog.getByRole('img', { name: /^The cover: Tide and reed, a stroke/ })).toBeVisible()
  await dialog.getByRole('button', { name: 'Take this cover' }).click()
  await expect(dialog).toHaveCount(0)
  const cover = page.getByRole('img', { name: 'The cover' })
  const sizeOf = () => cover.evaluate((img: HTMLImageElement) => [img.naturalWidth, img.naturalHeight])
  await expect.poll(sizeOf).toEqual([1600, 900])
  const composed = await cover.getAttribute('src')

  await page.getByRole('button', { name: 'Another cover' }).click()
  // what was composed can be gone on with
  await expect(dialog.getByLabel('Title on it')).toHaveValue('Tide and reed')
  await dialog.getByLabel('A picture for the cover').setInputFiles({
    ...{ name: 'cove.png', mimeType: 'image/png' },
    buffer: Buffer.from(tipPng(3)),
  })
  await page.getByRole('button', { name: 'Take this part' }).click()
  await expect(page.getByRole('dialog')).toHaveCount(0)
  await expect(cover).not.toHaveAttribute('src', composed ?? '')
  await expect.poll(sizeOf).toEqual([1600, 900])
  await page.getByRole('button', { name: 'No cover' }).click()
  await expect(page.getByRole('button', { name: 'Compose a cover' })).toBeVisible()
})

test('a whole library is saved here and given back where there is nothing yet', async ({ page, browser }) => {
  await signInToDemo(page, satchel.url)
  const openLibrary = async (on: Page) => {
    await on.getByRole('button', { name: /^Account of/ }).click()
    await on.getByRole('button', { name: 'The whole library' }).click()
  }
  await openLibrary(page)
  await expect(page.getByRole('dialog')).toContainText('This library is not empty.')
  await page.getByRole('button', { name: 'Save the whole library' }).click()
  await expect(page.getByRole('dialog')).toContainText('It is no pack to hand out.')
  const { name, path } = await makeAndFetch(page)
  expect(name).toBe('Library.library.zip')

  const other = await (await browser.newContext()).newPage()
  await makeFirstOwner(other, empty.url)
  await openLibrary(other)
  await expect(other.getByRole('button', { name: 'Save the whole library' })).toBeDisabled()
  await other.getByLabel('A library file').setInputFiles(path)
  await expect(other.getByRole('dialog')).toHaveCount(0)
  await other.goto(`${empty.url}/hand-out`)
  await expect(other.getByRole('link', { name: 'Saltmarsh Sketching' }).first()).toBeVisible()
  const namesOn = async (on: Page, url: string) => {
    const { brushes } = await (await on.request.get(`${url}/api/brushes?limit=200`)).json()
    return brushes.map((brush: { name: string }) => brush.name)
  }
  expect(await namesOn(other, empty.url)).toEqual(await namesOn(page, satchel.url))
  await other.context().close()
})
