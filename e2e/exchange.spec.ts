import { expect, type Page, test } from '@playwright/test'
import { openSatchel, type Satchel, signInToDemo, told } from './harness.ts'

const BUILT = { timeout: 240_000 }

let satchel: Satchel
test.beforeAll(async () => {
  satchel = await openSatchel({ demo: true, exchange: true })
})
test.afterAll(() => satchel.close())

const sheetOf = (page: Page) => page.getByTestId('try-pad').evaluate((canvas: HTMLCanvasElement) => canvas.toDataURL())

/** One stroke from left to right. */
async function paint(page: Page): Promise<void> {
  const box = await page.getByTestId('try-pad').boundingBox()
  if (!box) throw new Error('there is no sheet')
  await page.mouse.move(box.x + 40, box.y + 80)
  await page.mouse.down()
  for (let i = 1; i <= 10; i++) await page.mouse.move(box.x + 40 + 30 * i, box.y + 80 + 4 * i)
  await page.mouse.up()
}

test('at an exchange: looked for, tried, one taken, an own release published there and taken away', async ({
  page,
}) => {
  await signInToDemo(page, satchel.url)
  await page.goto(`${satchel.url}/gather`)
  await page.getByRole('link', { name: 'Exchange' }).click()
  const found = page.getByRole('list', { name: 'Collections' }).getByRole('listitem')
  await expect(found).toHaveCount(6)
  await page.getByLabel('Words to look for').fill('feathers quill')
  await page.getByRole('button', { name: 'Look for it' }).click()
  await expect(found).toHaveCount(1)

  await test.step('from search to the first stroke', async () => {
    await page.getByRole('link', { name: 'Quiet Feathers' }).click()
    await page.getByRole('button', { name: 'Try Barred plume' }).click()
    await expect(page.getByTestId('try-pad')).toHaveAttribute('data-ready', /./)
    const before = await sheetOf(page)
    await paint(page)
    await expect.poll(() => sheetOf(page)).not.toBe(before)
  })

  await test.step('one is taken, with its maker', async () => {
    await page.getByRole('checkbox', { name: 'Barred plume' }).check()
    await page.getByRole('button', { name: 'Take 1 chosen brush' }).click()
    await expect(page.getByTestId('ledger-summary')).toHaveText(/1 to take, 3 skipped/)
    await page.getByRole('button', { name: /^Take in/ }).click()
    await expect(told(page, /^Taken in/)).toBeVisible()
    const { brushes } = await (await page.request.get(`${satchel.url}/api/brushes?q=barred`)).json()
    expect(brushes).toMatchObject([{ name: 'Barred plume', maker: 'Brita Holm-Aas' }])
    await page.goto(`${satchel.url}/gather/exchange?q=feathers`)
    await expect(found).toContainText('Here: 1.1.0')
    await page.getByRole('link', { name: 'Quiet Feathers' }).click()
    await expect(page.getByText('Here already as “Barred plume”')).toBeVisible()
  })

  await test.step('an own release is published, and taken away', async () => {
    await page.goto(`${satchel.url}/hand-out`)
    await page.getByRole('link', { name: 'Saltmarsh Sketching' }).first().click()
    await page.getByRole('button', { name: 'Publish 1.0.0' }).click(BUILT)
    const dialog = page.getByRole('dialog', { name: 'Publish 1.0.0' })
    await dialog.getByLabel('What it is, for strangers').fill('Brushes of the saltmarsh.')
    await dialog.getByLabel('Tags').fill('shore, feathers')
    await dialog.getByRole('button', { name: 'Publish it' }).click()
    const there = page.getByRole('region', { name: 'At exchanges' })
    await expect(there).toContainText('1.0.0 at Barter Shed', BUILT)
    await page.goto(satchel.exchange?.page ?? '')
    await expect(page.getByRole('link', { name: 'Saltmarsh Sketching' })).toBeVisible()
    await page.goBack()
    await there.getByRole('button', { name: 'Take it away' }).click()
    await expect(there).toContainText('taken away')
    await page.goto(satchel.exchange?.page ?? '')
    await expect(page.getByRole('link', { name: 'Saltmarsh Sketching' })).toHaveCount(0)
  })
})
