import { expect, test } from '@playwright/test'
import { openSatchel, type Satchel, signInToDemo } from './harness.ts'

/** Until all is written: on a busy machine that takes its time. */
const WRITTEN = { timeout: 300_000 }

let satchel: Satchel
test.beforeAll(async () => {
  satchel = await openSatchel({ demo: true })
})
test.afterAll(() => satchel.close())

test('a set is installed, verified, looked at in the app, and taken out again', async ({ page }) => {
  await signInToDemo(page, satchel.url)
  await page.goto(`${satchel.url}/fit`)
  await page.getByRole('button', { name: 'Install', exact: true }).click()
  const dialog = page.getByRole('dialog', { name: 'Install' })
  await dialog.getByLabel('Into').selectOption({ label: 'Shearwater 12' })
  const option = dialog.getByLabel('Set', { exact: true }).locator('option', { hasText: /^Chart Inks \(/ })
  const inks = (await option.textContent()) ?? ''
  await dialog.getByLabel('Set', { exact: true }).selectOption({ label: inks })
  const count = Number(/\((\d+)\)/.exec(inks)?.[1])
  await dialog.getByRole('button', { name: `Write ${count} brushes for Shearwater` }).click()
  await page.getByRole('button', { name: /^Put \d+ files in/ }).click(WRITTEN)
  await page.getByRole('button', { name: 'Verify' }).click()
  const verified = page.getByText(
    /^The app finds \d+ brushes, and each of them paints\. Likeness \d+ in the middle, \d+ at least\.$/,
  )
  await expect(verified).toBeVisible()
  // a brush of several pictures may be one brush each there
  const found = Number(/\d+/.exec((await verified.textContent()) ?? '')?.[0])
  expect(found).toBeGreaterThanOrEqual(count)
  const zip = page.waitForEvent('download')
  await page.getByRole('link', { name: 'Download as zip' }).click()
  expect((await zip).suggestedFilename()).toBe('Chart Inks.zip')
  await page.getByRole('link', { name: 'Look into the app' }).click()
  await expect(page.getByRole('heading', { name: 'Shearwater', exact: true })).toBeVisible()
  await expect(page.getByText(`${found} brushes found`)).toBeVisible()
  await expect(page.getByRole('img', { name: 'Strokes of Fathom dash' })).toBeVisible()
  await page.getByRole('link', { name: 'Back to Gentle Satchel' }).click()
  // what a pack would come to is said before
  await page.getByRole('button', { name: 'Install', exact: true }).click()
  await dialog.getByText('a pack', { exact: true }).click()
  const firstPack = dialog.getByLabel('Pack', { exact: true }).locator('option').first()
  const inPack = /\((\d+)\)/.exec((await firstPack.textContent()) ?? '')?.[1]
  await expect(dialog.getByRole('button', { name: `Write ${inPack} brushes for Dunlin` })).toBeEnabled()
  await page.keyboard.press('Escape')
  // a second time everything is there already; and both go after the class
  await page.getByRole('button', { name: 'Install', exact: true }).click()
  await dialog.getByLabel('Into').selectOption({ label: 'Shearwater 12' })
  await dialog.getByLabel('Set', { exact: true }).selectOption({ label: inks })
  await dialog.getByLabel('What it is called').fill('Chart Inks again')
  await dialog.getByRole('button', { name: /^Write/ }).click()
  await expect(page.getByText(/files are there already, the same in every byte/)).toBeVisible()
  await page.getByRole('button', { name: /^Put \d+ files in/ }).click(WRITTEN)
  for (const name of ['Chart Inks', 'Chart Inks again'])
    await page.getByLabel(`Choose "${name}"`, { exact: true }).check()
  await page.getByRole('button', { name: 'Take 2 out' }).click()
  await expect(page.getByText(/taken out$/)).toHaveCount(2)
  await page.goto(`${satchel.url}/fit/app/shearwater`)
  await expect(page.getByText('Its folder holds nothing that it can paint with.')).toBeVisible()
})

test('a release is installed, and goes to the newer one once that is out', async ({ page }) => {
  await signInToDemo(page, satchel.url)
  const headers = { origin: satchel.url }
  const { packs } = await (await page.request.get(`${satchel.url}/api/packs`)).json()
  const { id: packId, title, latest } = packs.find((each: { latest: string | null }) => each.latest !== null)
  await page.goto(`${satchel.url}/fit`)
  await page.getByRole('button', { name: 'Install', exact: true }).click()
  const dialog = page.getByRole('dialog', { name: 'Install' })
  await dialog.getByLabel('Into').selectOption({ label: 'Shearwater 12' })
  await dialog.getByText('a pack', { exact: true }).click()
  await dialog.getByLabel('Pack', { exact: true }).selectOption(packId)
  await expect(dialog.getByLabel('Release').locator('option:checked')).toHaveText(`${latest}, the newest`)
  await dialog.getByLabel('What it is called').fill('Term')
  await dialog.getByRole('button', { name: /^Write \d+ brushes for Shearwater/ }).click()
  const card = page.getByRole('article').filter({ has: page.getByRole('heading', { name: 'Term', exact: true }) })
  await card.getByRole('button', { name: /^Put \d+ files in/ }).click(WRITTEN)
  await expect(card.getByText(`${latest} of "${title}"`)).toBeVisible()
  await card.getByRole('button', { name: 'Bring up to date' }).click()
  await expect(page.getByText('Nothing has changed since.', { exact: true })).toBeVisible()
  // a brush of it changes: that reaches it with the next release, and not before
  const pack = await (await page.request.get(`${satchel.url}/api/packs/${packId}`)).json()
  const { ids } = await (await page.request.get(`${satchel.url}/api/brushes/ids?setId=${pack.sets[0].id}`)).json()
  const brush = await (await page.request.get(`${satchel.url}/api/brushes/${ids[0]}`)).json()
  const { name, maker, licence, tags, recipe, version } = brush
  const wider = { ...recipe, path: { ...recipe.path, spacingPct: recipe.path.spacingPct + 30 } }
  const data = { name, maker, licence, tags, recipe: wider, from: version }
  expect((await page.request.put(`${satchel.url}/api/brushes/${ids[0]}`, { headers, data })).ok()).toBe(true)
  await page.reload()
  await expect(card.getByRole('button', { name: 'Bring up to date' })).toBeVisible()
  const { version: nextVersion } = await (await page.request.get(`${satchel.url}/api/packs/${packId}/next`)).json()
  const next = { version: nextVersion, notes: '' }
  expect((await page.request.post(`${satchel.url}/api/packs/${packId}/releases`, { headers, data: next })).ok()).toBe(
    true,
  )
  // the page learns of it by itself
  await expect(card.getByText(`${nextVersion} is out`)).toBeVisible()
  await card.getByRole('button', { name: `Bring up to ${nextVersion}` }).click()
  await expect(page.getByText(/^\d+ files? written, 0 taken away\.$/)).toBeVisible(WRITTEN)
  await expect(card.getByText(`${nextVersion} of "${title}"`)).toBeVisible()
  await card.getByRole('button', { name: 'Take out' }).click()
  await expect(card.getByText(/taken out$/)).toBeVisible()
})
