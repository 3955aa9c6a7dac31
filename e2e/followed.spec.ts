import { expect, type Page, test } from '@playwright/test'
import { openSatchel, type Satchel, signInToDemo, told, withFolder } from './harness.ts'
import { mirroredPng, tipPng } from './tips.ts'

let satchel: Satchel
test.beforeAll(async () => {
  satchel = await openSatchel({ demo: true })
})
test.afterAll(() => satchel.close())

/** Puts a file into that folder, or takes it away. */
const put = (page: Page, name: string, bytes: Uint8Array | undefined) =>
  page.evaluate(
    async ([name, bytes]) => {
      const root = await navigator.storage.getDirectory()
      const folder = await root.getDirectoryHandle('Evening sketches', { create: true })
      if (!bytes) return folder.removeEntry(name)
      const file = await (await folder.getFileHandle(name, { create: true })).createWritable()
      await file.write(new Uint8Array(bytes))
      await file.close()
    },
    [name, bytes && [...bytes]] as const,
  )

const card = (page: Page) => page.getByRole('region', { name: 'Evening sketches' })
const today = (page: Page) => card(page).getByRole('list', { name: 'What each day has brought' })

test('a folder is followed while the page is open: new files wait, changed ones give their brushes new pixels, a day is taken back', async ({
  page,
}) => {
  await withFolder(page, 'Evening sketches')
  await signInToDemo(page, satchel.url)
  await put(page, 'gorse.png', tipPng(41))
  await page.goto(`${satchel.url}/gather`)
  await page.getByRole('link', { name: 'Followed folders' }).click()
  await expect(page.getByText('A folder that you go on drawing in')).toBeVisible()
  await page.getByRole('button', { name: 'Follow a folder' }).click()
  await expect(today(page)).toContainText('1 new one waits in the ledger')

  await page.getByRole('link', { name: 'Gather' }).last().click()
  await expect(page.getByText('gorse', { exact: true }).first()).toBeVisible()
  await page.getByRole('button', { name: /^Take in/ }).click()
  await expect(told(page, /^Taken in/)).toBeVisible()

  // it is looked at wherever somebody is in the meantime
  const brush = async () => {
    const { brushes } = await (await page.request.get(`${satchel.url}/api/brushes?q=gorse`)).json()
    return (await page.request.get(`${satchel.url}/api/brushes/${brushes[0].id}`)).json()
  }
  const before = await brush()
  await put(page, 'gorse.png', tipPng(42))
  await expect.poll(async () => (await brush()).version).toBe(before.version + 1)
  await page.goto(`${satchel.url}/gather/followed`)
  await expect(today(page)).toContainText('1 brush has new pixels')
  await page.getByRole('button', { name: 'Take back the new pixels of Today' }).click()
  await expect(card(page).getByText('New pixels taken back')).toBeVisible()
  expect((await brush()).pictures).toEqual(before.pictures)

  await put(page, 'gorse.png', undefined)
  await expect(card(page).getByText('Gone from the folder, their brushes stay: 1')).toBeVisible()
  await page.getByRole('button', { name: 'Follow Evening sketches no more' }).click()
  await page.getByRole('dialog').getByRole('button', { name: 'Follow no more' }).click()
  await expect(page.getByText('A folder that you go on drawing in')).toBeVisible()
  expect((await brush()).name).toBe('gorse')
})

test('a new file that looks like one that is gone is asked about', async ({ page }) => {
  await withFolder(page, 'Evening sketches')
  await signInToDemo(page, satchel.url)
  await put(page, 'thrift.png', tipPng(51))
  await page.goto(`${satchel.url}/gather/followed`)
  await page.getByRole('button', { name: 'Follow a folder' }).click()
  await expect(today(page)).toContainText('1 new one waits')
  const { id } = await (await page.request.get(`${satchel.url}/api/gathers/current`)).json()
  await page.request.post(`${satchel.url}/api/gathers/${id}/take`, { headers: { origin: satchel.url } })
  await put(page, 'thrift.png', undefined)
  await put(page, 'sea pink.png', mirroredPng(51))
  const question = page.getByRole('list', { name: 'Questions' })
  await expect(question).toContainText('sea pink.png')
  await question.getByRole('button', { name: 'Yes, new pixels for it' }).click()
  await expect(told(page, '"thrift" has the pixels of sea pink.png now.')).toBeVisible()
  await expect(today(page)).toContainText('1 goes by another name')
  await expect(question).toHaveCount(0)
})
