import { expect, type Page, test } from '@playwright/test'
import { openSatchel, type Satchel, signInToDemo, told } from './harness.ts'

let satchel: Satchel
test.beforeAll(async () => {
  satchel = await openSatchel({ demo: true })
})
test.afterAll(() => satchel.close())

/** A library of an app, as many times as it takes to have so many references. */
async function installLibraries(page: Page, least: number): Promise<number> {
  const headers = { origin: satchel.url }
  const { ids } = await (await page.request.get(`${satchel.url}/api/brushes/ids`)).json()
  const brushIds = ids.slice(0, 20)
  for (let count = 0, k = 1; ; k++) {
    const data = { name: `Class ${k}`, destinationId: 'sanderling', brushIds }
    const { id } = await (await page.request.post(`${satchel.url}/api/installs`, { headers, data })).json()
    const stateOf = async () => (await (await page.request.get(`${satchel.url}/api/installs/${id}`)).json()).state
    await expect.poll(stateOf, { timeout: 180_000, intervals: [50] }).toBe('ready')
    const put = await page.request.post(`${satchel.url}/api/installs/${id}/put`, { headers, data: { answer: 'both' } })
    expect(put.ok()).toBe(true)
    const { files } = await (await page.request.get(`${satchel.url}/api/installs/${id}`)).json()
    // a picture each, and a grain for those that have one
    count += files.filter(({ path }: { path: string }) => path.endsWith('.sand')).length
    if (count >= least) return count
  }
}

test('an app goes to its next version: hundreds of loose ends are mended in one press, and undone', async ({
  page,
}) => {
  test.slow()
  await signInToDemo(page, satchel.url)
  const brushes = await installLibraries(page, 300)
  await page.goto(`${satchel.url}/fit/app/sanderling`)
  await expect(page.getByText(`${brushes} brushes found`)).toBeVisible()
  await page.getByRole('button', { name: 'The app becomes version 6' }).click()
  await expect(page.getByText('0 brushes found')).toBeVisible()
  await page.getByRole('link', { name: 'Mend what it cannot find' }).click()
  const note = page.getByText(/^\d+ references lead nowhere; \d+ mends are sure$/)
  const [loose, sure] = ((await note.textContent()) ?? '').match(/\d+/g)?.map(Number) ?? []
  expect(loose).toBeGreaterThanOrEqual(300)
  expect(sure).toBe(loose)
  await expect(page.getByRole('link', { name: new RegExp(`Fit\\s*${loose} loose`) })).toBeVisible()
  const list = page.getByRole('list', { name: 'Loose ends' })
  await expect(list.getByText(/^looked for at Sanderling 5\/Class 1\//).first()).toBeVisible()
  await expect(list.getByText('sure, the same file:').first()).toBeVisible()
  // the rule that follows says the same before anything is done
  await expect(page.getByText(`${loose} paths begin so; ${loose} then lead to a file.`)).toBeVisible()

  await page.getByRole('button', { name: `Mend all ${sure} sure ones` }).click()
  await expect(told(page, `${sure} references mended.`)).toBeVisible()
  await expect(page.getByRole('heading', { name: 'No loose ends' })).toBeVisible()
  await page.goto(`${satchel.url}/fit/app/sanderling`)
  await expect(page.getByText(`${brushes} brushes found`)).toBeVisible()

  await page.goto(`${satchel.url}/fit/loose-ends`)
  await page.getByRole('region', { name: 'Mended before' }).getByRole('button', { name: 'Undo' }).click()
  await expect(note).toBeVisible()
  // and by a rule of one's own: only one of the libraries
  await page.getByLabel('What begins with the folder').fill('Sanderling 5/Class 2')
  await page.getByLabel('is to begin with').fill('Sanderling 6/Class 2')
  const rename = page.getByRole('button', { name: /^Rename in \d+/ })
  const some = Number(/\d+/.exec((await rename.textContent()) ?? '')?.[0])
  expect(some).toBeGreaterThan(0)
  expect(some).toBeLessThan(loose ?? 0)
  await rename.click()
  await expect(page.getByText(`${(loose ?? 0) - some} references lead nowhere`)).toBeVisible()
})

test('what it has found is painted with, by pen and by finger', async ({ page }) => {
  await signInToDemo(page, satchel.url)
  const headers = { origin: satchel.url }
  const { ids } = await (await page.request.get(`${satchel.url}/api/brushes/ids`)).json()
  const data = { name: 'Tried', destinationId: 'shearwater', brushIds: ids.slice(0, 2) }
  const { id } = await (await page.request.post(`${satchel.url}/api/installs`, { headers, data })).json()
  const stateOf = async () => (await (await page.request.get(`${satchel.url}/api/installs/${id}`)).json()).state
  await expect.poll(stateOf, { timeout: 180_000 }).toBe('ready')
  await page.request.post(`${satchel.url}/api/installs/${id}/put`, { headers, data: { answer: 'both' } })
  await page.goto(`${satchel.url}/fit/app/shearwater`)
  const sheet = page.getByTestId('app-sheet')
  await expect(sheet.and(page.locator('[data-shown]'))).toBeVisible()
  const darkness = () =>
    sheet.evaluate((canvas: HTMLCanvasElement) => {
      const pixels = canvas.getContext('2d')?.getImageData(0, 0, canvas.width, canvas.height).data ?? []
      let dark = 0
      for (let i = 0; i < pixels.length; i += 4) dark += 255 - (pixels[i] ?? 255)
      return dark
    })
  for (const pointerType of ['pen', 'touch']) {
    const before = await darkness()
    const draw = (type: string, x: number, y: number) =>
      sheet.dispatchEvent(type, {
        pointerId: 7,
        pointerType,
        isPrimary: true,
        pressure: 0.8,
        button: 0,
        bubbles: true,
        cancelable: true,
        clientX: x,
        clientY: y,
      })
    const { x, y } = (await sheet.boundingBox()) ?? { x: 0, y: 0 }
    // a pointer that only a test has cannot be captured
    await sheet.evaluate((canvas) => (canvas.setPointerCapture = () => undefined))
    await draw('pointerdown', x + 60, y + 40)
    for (let step = 1; step <= 8; step++) await draw('pointermove', x + 60 + 30 * step, y + 40 + 5 * step)
    await draw('pointerup', x + 300, y + 80)
    await expect.poll(darkness).toBeGreaterThan(before)
  }
  await page.getByRole('button', { name: 'A fresh sheet' }).click()
})

test('an old library is taken in: what it cannot find is mended first', async ({ page }) => {
  await signInToDemo(page, satchel.url)
  const headers = { origin: satchel.url }
  // a library of one's own that lies in another place than its brushes say
  const { ids } = await (await page.request.get(`${satchel.url}/api/brushes/ids`)).json()
  const data = { name: 'Old marsh', destinationId: 'sanderling', brushIds: ids.slice(0, 3) }
  const { id } = await (await page.request.post(`${satchel.url}/api/installs`, { headers, data })).json()
  const stateOf = async () => (await (await page.request.get(`${satchel.url}/api/installs/${id}`)).json()).state
  await expect.poll(stateOf, { timeout: 180_000 }).toBe('ready')
  const { files } = await (await page.request.get(`${satchel.url}/api/installs/${id}`)).json()
  await page.goto(`${satchel.url}/gather`)
  const payload: { name: string; mimeType: string; buffer: Buffer }[] = []
  for (const { path } of files) {
    const query = new URLSearchParams({ path })
    const body = await (await page.request.get(`${satchel.url}/api/installs/${id}/file?${query}`)).body()
    payload.push({ name: path.split('/').pop() ?? '', mimeType: 'application/octet-stream', buffer: body })
  }
  await page.getByTestId('choose-files').setInputFiles(payload)
  const mend = page.getByRole('link', { name: 'Mend 3 brushes with loose ends' })
  await expect(mend).toBeVisible()
  await mend.click()
  await expect(page.getByText('3 references lead nowhere; 3 mends are sure')).toBeVisible()
  await page.getByRole('button', { name: 'Mend all 3 sure ones' }).click()
  await expect(page.getByRole('heading', { name: 'No loose ends' })).toBeVisible()
  await page.getByRole('link', { name: 'Gather', exact: true }).last().click()
  await expect(mend).toHaveCount(0)
  // their pictures are no brushes of their own
  await expect(page.getByText(/which is taken with its settings/).first()).toBeVisible()
})
