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

test('a set is installed, verified, looked at in the app, and taken out again', async ({ page }) => {
  await signInToDemo(page, satchel.url)
  await page.goto(`${satchel.url}/fit`)
  await page.getByRole('button', { name: 'Install', exact: true }).click()
  const dialog = page.getByRole('dialog', { name: 'Install' })
  await dialog.getByLabel('Into').selectOption({ label: 'Shearwater 12' })
  const choices = await dialog.getByLabel('Set', { exact: true }).locator('option').allTextContents()
  const inks = choices.find((text) => text.startsWith('Chart Inks')) ?? ''
  await dialog.getByLabel('Set', { exact: true }).selectOption({ label: inks })
  const count = Number(/\((\d+)\)/.exec(inks)?.[1])
  await dialog.getByRole('button', { name: `Write ${count} brushes for Shearwater` }).click()
  await page.getByRole('button', { name: /^Put \d+ files in/ }).click()
  await page.getByRole('button', { name: 'Verify' }).click()
  const verified = page.getByText(/^The app finds \d+ brushes, and each of them paints\.$/)
  await expect(verified).toBeVisible()
  // a brush of several pictures may be one brush each there
  const found = Number(/\d+/.exec((await verified.textContent()) ?? '')?.[0])
  expect(found).toBeGreaterThanOrEqual(count)
  await page.getByRole('link', { name: 'Look into the app' }).click()
  await expect(page.getByRole('heading', { name: 'Shearwater', exact: true })).toBeVisible()
  await expect(page.getByText(`${found} brushes found`)).toBeVisible()
  await expect(page.getByRole('img', { name: 'Strokes of Fathom dash' })).toBeVisible()
  await page.getByRole('link', { name: 'Back to Gentle Satchel' }).click()
  // a second time everything is there already; and both go after the class
  await page.getByRole('button', { name: 'Install', exact: true }).click()
  await dialog.getByLabel('Into').selectOption({ label: 'Shearwater 12' })
  await dialog.getByLabel('Set', { exact: true }).selectOption({ label: inks })
  await dialog.getByLabel('What it is called').fill('Chart Inks again')
  await dialog.getByRole('button', { name: /^Write/ }).click()
  await expect(page.getByText(/files are there already, the same in every byte/)).toBeVisible()
  await page.getByRole('button', { name: /^Put \d+ files in/ }).click()
  for (const name of ['Chart Inks', 'Chart Inks again'])
    await page.getByLabel(`Choose "${name}"`, { exact: true }).check()
  await page.getByRole('button', { name: 'Take 2 out' }).click()
  await expect(page.getByText(/taken out$/)).toHaveCount(2)
  await page.goto(`${satchel.url}/fit/app/shearwater`)
  await expect(page.getByText('Its folder holds nothing that it can paint with.')).toBeVisible()
})
