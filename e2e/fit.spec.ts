import { readFileSync } from 'node:fs'
import { expect, type Page, test } from '@playwright/test'
import { openSatchel, type Satchel, signInToDemo } from './harness.ts'
import { tipPng } from './tips.ts'

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
  const packs = await dialog.getByLabel('Pack', { exact: true }).locator('option').allTextContents()
  const inPack = /\((\d+)\)/.exec(packs[0] ?? '')?.[1]
  await expect(dialog.getByRole('button', { name: `Write ${inPack} brushes for Dunlin` })).toBeEnabled()
  await page.keyboard.press('Escape')
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
  await page.getByLabel('Traced is').selectOption({ label: 'a level stroke' })
  await expect(page).toHaveURL(/from=level/)
  const anchors = page.getByRole('row', { name: /^Anchors/ }).getByRole('cell')
  const countOf = async (at: number) => Number((await anchors.nth(at).textContent())?.replaceAll(',', ''))
  await expect(anchors).toHaveCount(2)
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
  await page.goto(`${satchel.url}/sort?q=traced`)
  await page.getByRole('option', { name: /Dry bristle, traced/ }).dblclick()
  await expect(page.getByRole('radio', { name: 'repeated' })).toBeChecked()
})

/** The browser's private files stand for a folder of this computer: they give a handle without a dialog. */
const withFolder = (page: Page) =>
  page.addInitScript(() => {
    Object.assign(window, {
      showDirectoryPicker: async () =>
        (await navigator.storage.getDirectory()).getDirectoryHandle('Brushes', { create: true }),
    })
  })

type InFolder = Record<string, string>

/** What lies in that folder, as text. */
const readFolder = (page: Page): Promise<InFolder> =>
  page.evaluate(async () => {
    const found: Record<string, string> = {}
    const walk = async (folder: FileSystemDirectoryHandle, before: string) => {
      for await (const [name, entry] of folder as unknown as AsyncIterable<[string, FileSystemHandle]>)
        if (entry.kind === 'directory') await walk(entry as FileSystemDirectoryHandle, `${before}${name}/`)
        else found[before + name] = await (await (entry as FileSystemFileHandle).getFile()).text()
    }
    await walk(await (await navigator.storage.getDirectory()).getDirectoryHandle('Brushes', { create: true }), '')
    return found
  })

const writeInFolder = (page: Page, path: string, text: string) =>
  page.evaluate(
    async ([place = '', content = '']) => {
      const parts = place.split('/')
      const name = parts.pop() ?? ''
      let folder = await (await navigator.storage.getDirectory()).getDirectoryHandle('Brushes', { create: true })
      for (const part of parts) folder = await folder.getDirectoryHandle(part, { create: true })
      const file = await (await folder.getFileHandle(name, { create: true })).createWritable()
      await file.write(content)
      await file.close()
    },
    [path, text],
  )

/** An install that is written, and waits on its page to be put somewhere; so many brushes of the demo. */
async function prepareInstall(page: Page, name: string, destinationId: string, count: number) {
  const headers = { origin: satchel.url }
  const { ids } = await (await page.request.get(`${satchel.url}/api/brushes/ids`)).json()
  const data = { name, destinationId, brushIds: ids.slice(0, count) }
  const { id } = await (await page.request.post(`${satchel.url}/api/installs`, { headers, data })).json()
  const stateOf = async () => (await (await page.request.get(`${satchel.url}/api/installs/${id}`)).json()).state
  await expect.poll(stateOf, { timeout: 60_000 }).toBe('ready')
  await page.goto(`${satchel.url}/fit/installs`)
  return page.getByRole('article').filter({ has: page.getByRole('heading', { name, exact: true }) })
}

test('a real folder: conflicts, verify, drift, repair, up to date, and as it was', async ({ page }) => {
  await withFolder(page)
  await signInToDemo(page, satchel.url)
  const card = await prepareInstall(page, 'Real', 'shearwater', 3)
  await writeInFolder(page, 'notes.txt', 'mine')
  await writeInFolder(page, 'Chart Inks/Broad nib.png', 'somebody else’s picture')
  const before = await readFolder(page)
  await card.getByRole('button', { name: 'Into a folder of this computer' }).click()
  await expect(card.getByText('1 name is taken by something else: Chart Inks/Broad nib.png')).toBeVisible()
  await card.getByText('replace, and give it back later').click()
  await card.getByRole('button', { name: 'Put them into "Brushes"' }).click()
  await expect(card.getByText(/\d+ files in "Brushes", a folder of this computer/)).toBeVisible()
  const put = await readFolder(page)
  expect(Object.keys(put)).toEqual(
    expect.arrayContaining(['notes.txt', 'Chart Inks/Broad nib.png', 'Chart Inks/Broad nib.tune']),
  )
  expect(put['Chart Inks/Broad nib.png']).not.toBe(before['Chart Inks/Broad nib.png'])
  // it is still known after the page was left
  await page.reload()
  await card.getByRole('button', { name: 'Verify' }).click()
  await expect(card.getByText('Read back: every file is as it was written.')).toBeVisible()
  await writeInFolder(page, 'Chart Inks/Broad nib.tune', 'changed')
  await card.getByRole('button', { name: 'Verify' }).click()
  await expect(card.getByText('Chart Inks/Broad nib.tune is changed')).toBeVisible()
  await card.getByRole('button', { name: 'Repair' }).click()
  await expect(page.getByText('1 file written again.', { exact: true })).toBeVisible()
  expect(await readFolder(page)).toEqual(put)
  await card.getByRole('button', { name: 'Bring up to date' }).click()
  await expect(page.getByText('Nothing has changed since.', { exact: true })).toBeVisible()
  await card.getByRole('button', { name: 'Take out' }).click()
  await expect(page.getByText('"Brushes" is as it was.', { exact: true })).toBeVisible()
  expect(await readFolder(page)).toEqual(before)
  // keeping both goes under another name, and leaves theirs alone
  await card.getByRole('button', { name: 'Into a folder of this computer' }).click()
  await card.getByRole('button', { name: 'Put them into "Brushes"' }).click()
  await expect(card.getByText(/\d+ files in "Brushes"/)).toBeVisible()
  const both = await readFolder(page)
  expect(both['Chart Inks/Broad nib.png']).toBe(before['Chart Inks/Broad nib.png'])
  expect(Object.keys(both)).toContain('Chart Inks/Broad nib 2.png')
  await card.getByRole('button', { name: 'Take out' }).click()
  await expect(card.getByRole('button', { name: 'Into a folder of this computer' })).toBeVisible()
  expect(await readFolder(page)).toEqual(before)
})

test('a real folder that is full, closed, changed meanwhile, or left in the middle is as it was', async ({ page }) => {
  await withFolder(page)
  await signInToDemo(page, satchel.url)
  const card = await prepareInstall(page, 'Broken', 'shearwater', 3)
  await writeInFolder(page, 'Chart Inks/Broad nib.png', 'theirs')
  const before = await readFolder(page)
  const putIn = async () => {
    await card.getByRole('button', { name: 'Into a folder of this computer' }).click()
    await card.getByText('replace, and give it back later').click()
    await card.getByRole('button', { name: 'Put them into "Brushes"' }).click()
  }
  for (const [fault, sentence] of [
    ['QuotaExceededError', 'There is no room left in "Brushes"'],
    ['NoModificationAllowedError', '"Brushes" may not be changed'],
  ] as const) {
    // the third file that is written into it cannot be; what was kept of others counts as one
    await page.evaluate((name) => {
      const { createWritable } = FileSystemFileHandle.prototype
      let count = 0
      FileSystemFileHandle.prototype.createWritable = function (options) {
        if (++count !== 3) return createWritable.call(this, options)
        FileSystemFileHandle.prototype.createWritable = createWritable
        throw new DOMException('as on a bad day', name)
      }
    }, fault)
    await putIn()
    await expect(page.getByText(sentence).first()).toBeVisible()
    expect(await readFolder(page), fault).toEqual(before)
    await page.reload()
  }
  // somebody writes there between looking and putting
  await card.getByRole('button', { name: 'Into a folder of this computer' }).click()
  await expect(card.getByText('1 name is taken by something else')).toBeVisible()
  const { installs } = await (await page.request.get(`${satchel.url}/api/installs`)).json()
  const { files: written } = await (await page.request.get(`${satchel.url}/api/installs/${installs[0].id}`)).json()
  await writeInFolder(page, written.at(-1).path, 'theirs, too')
  const later = await readFolder(page)
  await card.getByText('pass the brush over').click()
  await card.getByRole('button', { name: 'Put them into "Brushes"' }).click()
  await expect(page.getByText(/was changed by somebody else just now/).first()).toBeVisible()
  expect(await readFolder(page)).toEqual(later)
  // the page goes while a file is on its way
  await page.reload()
  let files = 0
  await page.route('**/api/installs/*/file?*', (route) => (++files < 3 ? route.continue() : undefined))
  await putIn()
  await expect.poll(() => files).toBe(3)
  expect(await readFolder(page)).not.toEqual(later)
  await page.unrouteAll({ behavior: 'ignoreErrors' })
  await page.reload()
  await expect(card.getByText('Putting it into "Brushes" was broken off in the middle.')).toBeVisible()
  await card.getByRole('button', { name: 'Put "Brushes" back as it was' }).click()
  await expect(card.getByRole('button', { name: 'Into a folder of this computer' })).toBeVisible()
  expect(await readFolder(page)).toEqual(later)
})

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
  await expect(cards.getByRole('button', { name: /^Put \d+ files in/ })).toHaveCount(5, { timeout: 180_000 })
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
    ...{ headers, data: { name, maker, licence, tags, recipe: wider, from: version } },
  })
  expect(saved.ok()).toBe(true)
  await dunlin.getByRole('button', { name: 'Bring up to date' }).click()
  await expect(page.getByText(/^1 file written, 0 taken away\.$/).first()).toBeVisible()
  for (const box of await cards.getByLabel('Choose "Term"', { exact: true }).all()) await box.check()
  await page.getByRole('button', { name: 'Take 5 out' }).click()
  await expect(cards.getByText(/taken out$/)).toHaveCount(5)
})
