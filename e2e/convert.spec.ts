import { expect, test } from '@playwright/test'
import { openSatchel, type Satchel, signInToDemo } from './harness.ts'
import { tipPng } from './tips.ts'

let satchel: Satchel
test.beforeAll(async () => {
  satchel = await openSatchel({ demo: true })
})
test.afterAll(() => satchel.close())

test('sixty brushes go to five destinations: stopped, resumed, put in, looked after, taken out', async ({ page }) => {
  test.slow()
  await signInToDemo(page, satchel.url)
  await page.goto(`${satchel.url}/gather`)
  // every thirtieth is a large one
  const numbers = Array.from({ length: 63 }, (_, n) => n).filter((n) => n % 30 !== 0)
  await page
    .getByTestId('choose-files')
    .setInputFiles(
      numbers.map((n) => ({ name: `sixty ${n}.png`, mimeType: 'image/png', buffer: Buffer.from(tipPng(n)) })),
    )
  await page.getByRole('button', { name: /^Take in 60/ }).click()
  const headers = { origin: satchel.url }
  const findSixty = async () =>
    (await (await page.request.get(`${satchel.url}/api/brushes?q=sixty&limit=100`)).json()).brushes as { id: string }[]
  await expect.poll(async () => (await findSixty()).length).toBe(60)
  const sixty = await findSixty()
  const made = await page.request.post(`${satchel.url}/api/sets`, { headers, data: { name: 'Sixty' } })
  const { id: setId } = await made.json()
  // only those that come with the product
  const { destinations } = await (await page.request.get(`${satchel.url}/api/fit/destinations`)).json()
  for (const { id, isOwn } of destinations)
    if (isOwn) await page.request.delete(`${satchel.url}/api/fit/destinations/${id}`, { headers })
  const data = { ids: sixty.map(({ id }) => id) }
  await page.request.post(`${satchel.url}/api/sets/${setId}/brushes`, { headers, data })
  await page.goto(`${satchel.url}/fit`)
  await page.getByRole('button', { name: 'Install', exact: true }).click()
  const dialog = page.getByRole('dialog', { name: 'Install' })
  await dialog.getByLabel('Into').selectOption({ label: 'every destination' })
  await dialog.getByLabel('Set', { exact: true }).selectOption({ label: 'Sixty (60)' })
  await dialog.getByLabel('What it is called').fill('Term')
  const write = dialog.getByRole('button', { name: /^Write \d+ brushes for 5 destinations/ })
  await expect(write).toHaveText(/^Write 60 /)
  await write.click()
  const cards = page.getByRole('article').filter({ has: page.getByRole('heading', { name: 'Term', exact: true }) })
  await expect(cards).toHaveCount(5)
  // one is stopped in the middle, left, and goes on
  await page.getByRole('button', { name: /running tasks$/ }).click()
  const task = page.getByRole('listitem').filter({ hasText: '"Term" for Turnstone' })
  await task.getByRole('button', { name: 'Stop' }).click()
  await expect(task.getByText('stopped', { exact: true })).toBeVisible()
  await task.getByRole('button', { name: 'Resume' }).click()
  await page.keyboard.press('Escape')
  await expect(page.getByRole('dialog')).toHaveCount(0)
  await expect(cards.getByRole('button', { name: /^Put \d+ files in/ })).toHaveCount(5, { timeout: 360_000 })
  for (let left = 5; left > 0; left--) {
    await cards
      .getByRole('button', { name: /^Put \d+ files in/ })
      .first()
      .click()
    await expect(cards.getByRole('button', { name: /^Put \d+ files in/ })).toHaveCount(left - 1)
  }
  const dunlin = cards.filter({ hasText: /^Term\s*Dunlin/ })
  await dunlin.getByRole('button', { name: 'Verify' }).click()
  await expect(dunlin.getByText(/^The app finds 60 brushes, and each of them paints\. Likeness \d+/)).toBeVisible()
  // somebody calls a set otherwise there: it has drifted, and is repaired
  await page.goto(`${satchel.url}/fit/app/dunlin`)
  await page.getByLabel('The folder').selectOption('Sixty')
  await page.getByLabel('gets the name').fill('Elsewhere')
  await page.getByRole('button', { name: 'Rename it' }).click()
  await expect(page.getByText('Elsewhere/', { exact: false }).first()).toBeVisible()
  await page.goto(`${satchel.url}/fit/installs`)
  await expect(dunlin.getByText(/is gone/)).toBeVisible()
  await dunlin.getByRole('button', { name: 'Repair' }).click()
  await expect(dunlin.getByText(/is gone/)).toHaveCount(0)
  // a brush changes: only its own files are written
  const brush = await (await page.request.get(`${satchel.url}/api/brushes/${sixty[0]?.id}`)).json()
  const { name, maker, licence, tags, recipe, version } = brush
  const wider = { ...recipe, path: { ...recipe.path, spacingPct: recipe.path.spacingPct + 30 } }
  const saved = await page.request.put(`${satchel.url}/api/brushes/${sixty[0]?.id}`, {
    headers,
    data: { name, maker, licence, tags, recipe: wider, from: version },
  })
  expect(saved.ok()).toBe(true)
  await dunlin.getByRole('button', { name: 'Bring up to date' }).click()
  await expect(page.getByText(/^1 file written, 0 taken away\.$/).first()).toBeVisible()
  for (const box of await cards.getByLabel('Choose "Term"', { exact: true }).all()) await box.check()
  await page.getByRole('button', { name: 'Take 5 out' }).click()
  await expect(cards.getByText(/taken out$/)).toHaveCount(5)
})
