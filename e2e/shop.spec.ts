import { expect, test } from '@playwright/test'
import { openSatchel, type Satchel, signInToDemo } from './harness.ts'

let satchel: Satchel
test.beforeAll(async () => {
  satchel = await openSatchel({ demo: true, mailbox: true, kiosk: true })
})
test.afterAll(() => satchel.close())

test('a shop is made and told; somebody buys, gets a letter and paints; the money goes back, and the link is dead', async ({
  page,
  browser,
}) => {
  await signInToDemo(page, satchel.url)
  await page.goto(`${satchel.url}/hand-out`)
  await page.getByRole('link', { name: 'Shops' }).click()
  await expect(page.getByText('No shop yet.', { exact: false })).toBeVisible()

  await page.getByRole('button', { name: 'New shop' }).press('Enter')
  await page.getByRole('textbox', { name: 'What the shop is called' }).fill('Harbour Corner')
  await page.keyboard.press('Enter')
  const shop = page.getByRole('region', { name: 'Harbour Corner' })
  await expect(shop.getByText('not heard of yet')).toBeVisible()
  const address = (await shop.locator('code').first().textContent()) ?? ''
  await shop.getByRole('button', { name: 'Show the secret' }).click()
  const secret = (await shop.locator('code', { hasText: 'whsec_' }).textContent()) ?? ''

  const buyer = await browser.newContext()
  const counter = await buyer.newPage()
  const kiosk = satchel.kiosk?.page ?? ''
  await test.step('its keeper writes both down, and puts the pack on the shelf', async () => {
    await counter.goto(`${kiosk}/back-room`)
    await counter.getByLabel('Name over the door').fill('Harbour Corner')
    await counter.getByLabel('Address').fill(address)
    await counter.getByLabel('Secret').fill(secret)
    await counter.getByRole('button', { name: 'Keep' }).click()
    await counter.getByLabel('Code').fill('salt-1')
    await counter.getByLabel('Title').fill('Saltmarsh, all of it')
    await counter.getByLabel('Price').fill('9.50')
    await counter.getByRole('button', { name: 'Put on the shelf' }).click()
    await expect(counter.getByRole('cell', { name: 'salt-1' })).toBeVisible()
  })

  await test.step('who buys before it is said which pack that is waits, and that is told', async () => {
    await counter.goto(kiosk)
    await counter.getByRole('link', { name: 'Buy' }).click()
    await counter.getByLabel('Your name').fill('Wren Tidewater')
    await counter.getByLabel('Where it is sent').fill('wren@buyers.example')
    await counter.getByRole('button', { name: 'Pay 9.50' }).click()
    await expect(counter.getByText('A letter with your link goes to wren@buyers.example')).toBeVisible()
    await expect(shop.getByText('Somebody has bought "salt-1", and waits', { exact: false })).toBeVisible()
  })

  const line = page
    .getByRole('region', { name: 'Purchases' })
    .getByRole('listitem')
    .filter({ hasText: 'Wren Tidewater' })
  await test.step('it is said, and she has it', async () => {
    await expect(line).toContainText('waits: which pack is "salt-1"?')
    await expect(shop.getByRole('textbox', { name: 'Code in the shop' })).toHaveValue('salt-1')
    await shop.getByRole('combobox', { name: 'Pack' }).selectOption({ label: 'Saltmarsh Sketching' })
    await shop.getByRole('button', { name: 'This is the pack' }).click()
    await expect(line).toContainText('has it')
    await line.getByRole('link', { name: 'Saltmarsh Sketching' }).click()
    const hers = page
      .getByRole('list', { name: 'Hand-outs' })
      .getByRole('listitem')
      .filter({ hasText: 'Wren Tidewater' })
    await expect(hers).toContainText('bought at Harbour Corner')
    await expect(hers).toContainText('mailed')
  })

  const reader = await buyer.newPage()
  await test.step('her letter leads to the brushes', async () => {
    await reader.goto(satchel.mailbox?.page ?? '')
    await reader.getByRole('listitem').filter({ hasText: 'wren@buyers.example' }).getByRole('link').click()
    await reader.locator('pre').getByRole('link').first().click()
    await expect(reader.getByRole('heading', { level: 1, name: 'Saltmarsh Sketching' })).toBeVisible()
  })

  await test.step('the money goes back, and the link is dead', async () => {
    await counter.goto(`${kiosk}/back-room`)
    await counter.getByRole('button', { name: 'Give the money back' }).click()
    await expect(counter.getByRole('cell', { name: 'money back' })).toBeVisible()
    const hers = page
      .getByRole('list', { name: 'Hand-outs' })
      .getByRole('listitem')
      .filter({ hasText: 'Wren Tidewater' })
    await expect(hers).toContainText('money back')
    await expect(hers).toContainText('withdrawn')
    await reader.reload()
    await expect(reader.getByText('This hand-out has been withdrawn', { exact: false })).toBeVisible()
  })

  await test.step('the shop is let go of, and that can be undone', async () => {
    await page.goBack()
    await expect(line).toContainText('money back')
    await shop.getByRole('button', { name: 'Let go of this shop' }).click()
    await expect(shop).toBeHidden()
    await page.getByRole('button', { name: 'Undo' }).click()
    await expect(shop).toBeVisible()
  })
  await buyer.close()
})

test('killed while purchases come: each buyer has one link, and at most one letter', async ({ page, request }) => {
  const BUYERS = 30
  await signInToDemo(page, satchel.url)
  await page.goto(`${satchel.url}/hand-out/shops`)
  await page.getByRole('region', { name: 'Harbour Corner' }).waitFor()
  const kiosk = satchel.kiosk?.page ?? ''
  const buyers = Array.from({ length: BUYERS }, (_, n) => ({
    product: 'salt-1',
    name: `Crowd ${n}`,
    email: `crowd${n}@buyers.example`,
  }))
  const selling = Promise.all(buyers.map((form) => request.post(`${kiosk}/buy`, { form })))
  const told = async () => {
    const answer = await page.request.get(`${satchel.url}/api/shops`)
    const { purchases } = (await answer.json()) as { purchases: { buyerName: string; handOutId: string | null }[] }
    return purchases.filter(({ buyerName }) => buyerName?.startsWith('Crowd'))
  }
  await expect.poll(async () => (await told()).filter(({ handOutId }) => handOutId !== null).length).toBeGreaterThan(3)
  await satchel.kill()
  await selling
  await satchel.start()
  await expect
    .poll(async () => new Set((await told()).flatMap(({ handOutId }) => handOutId ?? [])).size, { timeout: 120_000 })
    .toBe(BUYERS)
  const { packs } = (await (await page.request.get(`${satchel.url}/api/packs`)).json()) as {
    packs: { id: string; title: string }[]
  }
  const packId = packs.find(({ title }) => title === 'Saltmarsh Sketching')?.id
  type Whose = { name: string; mail: { state: string } | null }
  const people = async () => {
    const answer = await page.request.get(`${satchel.url}/api/packs/${packId}/people`)
    return ((await answer.json()) as { handOuts: Whose[] }).handOuts.filter(({ name }) => name.startsWith('Crowd'))
  }
  expect(await people()).toHaveLength(BUYERS)
  // a mail that was on its way as the server was killed is not sent again: nobody knows, and that is said
  const ends = ['sent', 'unsure']
  await expect
    .poll(async () => (await people()).filter(({ mail }) => mail && ends.includes(mail.state)).length, {
      timeout: 120_000,
    })
    .toBe(BUYERS)
  expect((await people()).filter(({ mail }) => mail?.state === 'unsure').length).toBeLessThanOrEqual(1)
  await page.goto(satchel.mailbox?.page ?? '')
  for (const { email } of buyers)
    expect(
      await page
        .getByRole('listitem')
        .filter({ hasText: `to ${email},` })
        .count(),
      email,
    ).toBeLessThanOrEqual(1)
})
