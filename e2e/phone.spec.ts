import { expect, test } from '@playwright/test'
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

  await dialog.getByRole('link', { name: 'Go to the ledger' }).click()
  await expect(page.getByTestId('ledger-summary')).toHaveText(/^2 to take/)
  // closing the dialog has ended the link
  await phone.getByTestId('choose-photographs').setInputFiles([photograph(3)])
  await expect(phone.getByRole('alert')).toContainText('This link has ended')
  await pocket.close()
  await other.context().close()
})
