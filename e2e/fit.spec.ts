import { readFileSync } from 'node:fs'
import { expect, type Page, test } from '@playwright/test'
import { openSatchel, type Satchel, signInToDemo } from './harness.ts'

let satchel: Satchel
test.beforeAll(async () => {
  satchel = await openSatchel({ demo: true })
})
test.afterAll(() => satchel.close())

const cell = (page: Page, brush: string, app: string) =>
  page.getByRole('button', { name: new RegExp(`^${brush} in ${app}: likeness`) })
const figureOf = async (page: Page, brush: string, app: string) =>
  Number(/likeness (\d+)/.exec((await cell(page, brush, app).getAttribute('aria-label')) ?? '')?.[1])

test('what arrives where is measured, looked at, and sent in another way', async ({ page }) => {
  await signInToDemo(page, satchel.url)
  await page.goto(`${satchel.url}/fit?find=fathom`)
  await expect(page.getByText('1 brush, 5 destinations')).toBeVisible()
  for (const app of ['Dunlin', 'Shearwater', 'Plover', 'Turnstone', 'Sanderling'])
    await expect(cell(page, 'Fathom dash', app)).toBeVisible()
  expect(await figureOf(page, 'Fathom dash', 'Sanderling')).toBeGreaterThanOrEqual(98)
  const best = await figureOf(page, 'Fathom dash', 'Dunlin')
  await cell(page, 'Fathom dash', 'Dunlin').click()
  const dialog = page.getByRole('dialog', { name: 'Fathom dash in Dunlin' })
  await expect(dialog.getByRole('img', { name: 'The strokes after' })).toBeVisible()
  for (const list of ['Kept', 'Approximated', 'Left behind'])
    await expect(dialog.getByRole('heading', { name: new RegExp(`^${list}`) })).toBeVisible()
  await dialog.getByText(/^left behind \(/).click()
  await expect(dialog.getByRole('button', { name: 'Let likeness choose again' })).toBeVisible()
  await page.keyboard.press('Escape')
  await expect.poll(() => figureOf(page, 'Fathom dash', 'Dunlin')).toBeLessThan(best)
  // the address leads back to it, and likeness may choose again
  await page.goto(`${satchel.url}/fit?find=fathom`)
  await cell(page, 'Fathom dash', 'Dunlin').click()
  await page.getByRole('button', { name: 'Let likeness choose again' }).click()
  await page.keyboard.press('Escape')
  await expect.poll(() => figureOf(page, 'Fathom dash', 'Dunlin')).toBe(best)
})

test('a destination is copied, changed while it is tried, saved, and gone to', async ({ page }) => {
  await signInToDemo(page, satchel.url)
  await page.goto(`${satchel.url}/fit/destinations`)
  await page.getByRole('button', { name: /^Turnstone/ }).click()
  await page.getByRole('button', { name: 'Copy it' }).click()
  const name = page.getByLabel('Name', { exact: true })
  await expect(name).toHaveValue('Turnstone, copied')
  await name.fill('Redshank')
  const tried = page.getByRole('complementary', { name: 'Tried on a brush' })
  await tried.getByLabel('Tried on').selectOption({ label: 'Chart marks' })
  await expect(tried.getByText(/\.press/)).toBeVisible()
  await page.getByLabel('Extension of settings beside, if any').fill('shank')
  await expect(tried.getByText(/\.shank/)).toBeVisible()
  await page.getByRole('button', { name: 'Save', exact: true }).click()
  await expect(page.getByRole('button', { name: /^Redshank/ })).toBeVisible()
  // out as a file, away, and in again
  const download = page.waitForEvent('download')
  await page.getByRole('button', { name: 'Save as JSON' }).click()
  const file = await (await download).path()
  await page.getByRole('button', { name: 'Take it away' }).click()
  await expect(page.getByRole('button', { name: /^Redshank/ })).toHaveCount(0)
  await page.getByTestId('choose-destination').setInputFiles(file)
  await expect(name).toHaveValue('Redshank')
  await page.goto(`${satchel.url}/fit?find=chart marks`)
  await expect(cell(page, 'Chart marks', 'Redshank')).toBeVisible()
})

test('a stroke is traced: less detail, an anchor away, and in again as a ribbon', async ({ page }) => {
  await signInToDemo(page, satchel.url)
  await page.goto(`${satchel.url}/fit?find=dry bristle`)
  await cell(page, 'Dry bristle', 'Plover').click()
  await page.getByRole('link', { name: 'Trace it' }).click()
  await expect(page.getByRole('heading', { name: 'Trace Dry bristle' })).toBeVisible()
  const anchors = page.getByRole('row', { name: /^Anchors/ }).getByRole('cell')
  const countOf = async (at: number) => Number((await anchors.nth(at).textContent())?.replaceAll(',', ''))
  await expect(anchors).toHaveCount(2)
  const ofPicture = await countOf(0)
  await page.getByLabel('Traced is').selectOption({ label: 'a level stroke' })
  await expect(page).toHaveURL(/from=level/)
  // the figures of the picture stand there until those of the stroke are known
  await expect.poll(() => countOf(0)).not.toBe(ofPicture)
  const [asPixels, fine] = [await countOf(0), await countOf(1)]
  expect(asPixels).toBeGreaterThan(5 * fine)
  // less detail, by keys along the curve
  const detail = page.getByRole('slider', { name: 'Detail: overlap against anchors' })
  const overlapSaid = async () =>
    Number(/overlap ([\d.]+) %/.exec((await detail.getAttribute('aria-valuetext')) ?? '')?.[1])
  const overlap = await overlapSaid()
  await detail.focus()
  for (let press = 0; press < 3; press++) await page.keyboard.press('ArrowLeft')
  await expect.poll(() => countOf(1)).toBeLessThan(fine)
  expect(await overlapSaid()).toBeLessThan(overlap)
  await expect(page).toHaveURL(/off=2/)
  // keys that come quicker than the address follows are not lost
  await page.getByLabel('Corners from', { exact: true }).evaluate(async (slider) => {
    for (let press = 0; press < 3; press++) {
      slider.dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowRight', bubbles: true, cancelable: true }))
      await Promise.resolve()
    }
  })
  await expect(page).toHaveURL(/corners=55/)
  await page.getByRole('button', { name: /Corners from/ }).click()
  await expect.poll(() => countOf(1)).toBeLessThan(fine)
  // one anchor goes, and comes back
  const coarse = await countOf(1)
  await page.getByRole('slider', { name: /^Anchors of the outline/ }).focus()
  await page.keyboard.press('ArrowRight')
  await page.keyboard.press('Delete')
  await expect.poll(() => countOf(1)).toBe(coarse - 1)
  await page.getByRole('button', { name: 'Put the last one back' }).click()
  await expect.poll(() => countOf(1)).toBe(coarse)
  // as a ribbon, into a file
  await page.getByText('a ribbon, repeated', { exact: true }).click()
  await page.getByLabel('Lead-in, px').fill('240')
  await page.getByLabel('Lead-in, px').press('Enter')
  await expect(page).toHaveURL(/in=240/)
  const download = page.waitForEvent('download')
  await page.getByRole('button', { name: 'Save as SVG' }).click()
  const svg = readFileSync(await (await download).path(), 'utf8')
  expect(svg).toContain('fill="currentColor"')
  expect(svg).toContain('data-ribbon="repeated" data-lead-in="240"')
  // and in again
  await page.getByRole('button', { name: 'Gather it as a brush' }).click()
  await expect(page.getByText('Dry bristle, traced', { exact: false }).first()).toBeVisible()
  await page.getByRole('button', { name: /^Take in 1/ }).click()
  await page.waitForURL('**/sort')
  await page.goto(`${satchel.url}/sort?q=traced`)
  await page.getByRole('option', { name: /Dry bristle, traced/ }).dblclick()
  await expect(page.getByRole('radio', { name: 'repeated' })).toBeChecked()
})
