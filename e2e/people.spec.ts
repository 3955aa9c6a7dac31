import { execFileSync } from 'node:child_process'
import { expect, type Page, test } from '@playwright/test'
import { readPng } from '@satchel/core/formats/png/read'
import jsQR from 'jsqr'
import { handOutForApps } from './for-apps.ts'
import { openSatchel, type Satchel, signInToDemo } from './harness.ts'

let satchel: Satchel
test.beforeAll(async () => {
  satchel = await openSatchel({ demo: true })
})
test.afterAll(() => satchel.close())

/** What a phone's camera reads from a card on the screen. */
async function readCard(page: Page, name: string): Promise<string | undefined> {
  const code = page.getByRole('img', { name: `Code for ${name}`, exact: true })
  // as it is printed, where nothing lies over it and a module has more dots than on this screen
  await page.emulateMedia({ media: 'print' })
  await code.evaluate((svg: SVGElement) => Object.assign(svg.style, { width: '400px' }))
  const png = await code.screenshot()
  await page.emulateMedia({ media: null })
  const pixels = readPng(new Uint8Array(png)).frames[0]?.pixels
  if (!pixels) throw new Error('the picture of a card is empty')
  const { width, height, channels, data } = pixels
  const rgba = new Uint8ClampedArray(width * height * 4).fill(255)
  for (let i = 0; i < width * height; i++)
    for (let c = 0; c < 3; c++) rgba[i * 4 + c] = data[i * channels + Math.min(c, channels - 1)] ?? 0
  return jsQR(rgba, width, height)?.data
}

/** A stroke across the sheet. */
async function paint(page: Page): Promise<void> {
  const box = await page.getByTestId('try-pad').boundingBox()
  if (!box) throw new Error('there is no sheet')
  await page.mouse.move(box.x + 40, box.y + 60)
  await page.mouse.down()
  for (let step = 1; step <= 10; step++) await page.mouse.move(box.x + 40 + step * 22, box.y + 60 + (step % 3) * 30)
  await page.mouse.up()
}
/** The sheet's own pixels. */
const sheetOf = (page: Page) => page.getByTestId('try-pad').evaluate((canvas: HTMLCanvasElement) => canvas.toDataURL())

test('a class is pasted, mended, handed out, printed as cards; a student paints on a phone; all is withdrawn at once', async ({
  page,
  browser,
}) => {
  await signInToDemo(page, satchel.url)
  await page.goto(`${satchel.url}/hand-out`)
  await page.getByRole('link', { name: 'Saltmarsh Sketching' }).first().click()
  await page.getByRole('link', { name: 'People' }).click()

  await test.step('thirty lines, of which two are mended and one is left out', async () => {
    await page.getByRole('button', { name: 'Hand out to many' }).click()
    const lines = Array.from({ length: 28 }, (_, n) => `Student ${n + 1}, s${n + 1}@class.example`)
    const wrong = ['s29@class.example', 'Student 30, s30@', 'Student one again, S1@class.example']
    await page.getByRole('textbox', { name: 'People', exact: true }).fill([...wrong, ...lines].join('\n'))
    await expect(page.getByText('3 lines need mending')).toBeVisible()
    await page.getByRole('textbox', { name: 'Name, line 1', exact: true }).fill('Student 29')
    await page.getByRole('textbox', { name: 'Mail address, line 2', exact: true }).fill('s30@class.example')
    await expect(page.getByText('1 line needs mending')).toBeVisible()
    await expect(page.getByRole('button', { name: 'Make 31 links' })).toBeDisabled()
    await page.getByRole('button', { name: 'Leave out line 3', exact: true }).click()
    // what came later in the list is now the only one of that address
    await page.getByRole('button', { name: 'Make 30 links' }).click()
    await expect(page.getByText('30 chosen')).toBeVisible()
  })

  const link = await test.step('each has a card, whose code another program reads as the link', async () => {
    await page.getByRole('button', { name: 'Cards to print' }).click()
    await expect(page.getByText('30 cards')).toBeVisible()
    const card = page.getByRole('listitem').filter({ hasText: /^Student 7Saltmarsh/ })
    const written = await card.getByText(/^http/).textContent()
    expect(await readCard(page, 'Student 7')).toBe(written)
    return written ?? ''
  })

  const phone = await browser.newContext({ viewport: { width: 390, height: 844 }, hasTouch: true, isMobile: true })
  const theirs = await phone.newPage()
  await test.step('a student opens it on a phone and paints before anything is fetched', async () => {
    await theirs.goto(link)
    await expect(theirs.getByText('For Student 7')).toBeVisible()
    await theirs.getByRole('button', { name: 'Try the brushes' }).click()
    const sheet = theirs.getByTestId('try-pad')
    await expect(sheet).toHaveAttribute('data-ready', /./)
    const empty = await sheetOf(theirs)
    await sheet.scrollIntoViewIfNeeded()
    await paint(theirs)
    await expect(theirs.getByRole('button', { name: 'Undo' })).toBeEnabled()
    await expect.poll(() => sheetOf(theirs)).not.toBe(empty)
    const first = await sheetOf(theirs)
    // another brush, in another colour, on the same sheet
    await theirs.getByRole('group', { name: 'Brush' }).getByText('Kelp edge').click()
    await expect(theirs.getByRole('radio', { name: 'Kelp edge' })).toBeChecked()
    await theirs.getByRole('region', { name: 'Paint with them here' }).getByRole('button', { name: 'Dulse' }).click()
    await expect(theirs.getByText('The brush is ready.')).toBeAttached()
    await sheet.scrollIntoViewIfNeeded()
    await paint(theirs)
    await expect.poll(() => sheetOf(theirs)).not.toBe(first)
    await theirs.getByRole('button', { name: 'Undo' }).click()
    await expect.poll(() => sheetOf(theirs)).toBe(first)
    await theirs.getByRole('button', { name: 'Undo' }).click()
    await expect.poll(() => sheetOf(theirs)).toBe(empty)
    await theirs.getByRole('button', { name: 'Redo' }).click()
    await expect.poll(() => sheetOf(theirs)).toBe(first)
    const [kept] = await Promise.all([
      theirs.waitForEvent('download'),
      theirs.getByRole('button', { name: 'Keep the picture' }).click(),
    ])
    expect(kept.suggestedFilename()).toBe('Saltmarsh Sketching, tried.png')
  })

  await test.step('the curator tells a link again, mends a person, and withdraws the whole class in one act', async () => {
    await page.goBack()
    const line = page.getByRole('list', { name: 'Hand-outs' }).getByRole('listitem').filter({ hasText: 's7@class' })
    await page.getByLabel('Find').fill('s7@class')
    await line.getByRole('button', { name: 'More for Student 7' }).click()
    await page.getByRole('menuitem', { name: 'Show the link' }).click()
    await expect(page.getByTestId('hand-out-link')).toHaveText(link)
    await page.getByRole('button', { name: 'Done' }).click()
    await line.getByRole('button', { name: 'More for Student 7' }).click()
    await page.getByRole('menuitem', { name: 'Change the person' }).click()
    await page.getByLabel('Name', { exact: true }).fill('Ylva Tern')
    await page.getByRole('button', { name: 'Keep it' }).click()
    await expect(line).toContainText('Ylva Tern')
    await page.getByLabel('Find').fill('class.example')
    await page.getByRole('checkbox', { name: 'Choose all that are shown' }).check()
    await expect(page.getByText('30 chosen')).toBeVisible()
    await page.getByRole('button', { name: 'Withdraw', exact: true }).click()
    await expect(page.getByText('30 links are dead now.', { exact: true })).toBeVisible()
    await theirs.goto(link)
    await expect(theirs.getByRole('alert')).toContainText('has been withdrawn')
    const said = page.getByRole('listitem').filter({ hasText: '30 links are dead now.' })
    await said.getByRole('button', { name: 'Undo' }).click()
    await page.getByLabel('Find').fill('s7@class')
    await expect(line).toContainText('● out')
    await theirs.goto(link)
    await expect(theirs.getByText('For Ylva Tern')).toBeVisible()
  })
  await phone.close()
})

/** The names of the files in an archive, as another program lists them. */
const namesIn = (path: string) => execFileSync('unzip', ['-Z1', path], { encoding: 'utf8' }).trim().split('\n')

test('who has a link names their app, gets a set of it, ticks its steps, opens a brush, and writes to the maker', async ({
  page,
  browser,
}) => {
  await signInToDemo(page, satchel.url)
  const link = await handOutForApps(page, satchel.url)

  const phone = await browser.newContext({ viewport: { width: 390, height: 844 }, hasTouch: true, isMobile: true })
  const theirs = await phone.newPage()
  const get = theirs.getByRole('region', { name: 'Which app do you paint in?' })
  await theirs.goto(link)
  await test.step('three questions at most find the app', async () => {
    await theirs.getByRole('link', { name: 'Get the brushes' }).click()
    await get.getByText('I don’t know').first().click()
    const asked = get.getByRole('region', { name: 'Three questions' })
    await expect(asked.getByText('1 of 3')).toBeVisible()
    await asked
      .getByRole('button')
      .filter({ hasNotText: /know|again/ })
      .first()
      .click()
    await expect(asked.getByText('It is this one:')).toBeVisible()
    await asked.getByRole('button', { name: 'Ask me again' }).click()
    await asked.getByRole('button', { name: 'I don’t know' }).click()
    await expect(asked).toBeVisible()
    await get.getByText('Dunlin', { exact: false }).first().click()
    await expect(get.getByRole('link', { name: /^Get them for Dunlin: \d+ files/ })).toBeVisible()
  })

  await test.step('one set of it is one zip with that app and its steps', async () => {
    const words = await get.getByLabel('How much').locator('option').nth(1).textContent()
    await get.getByLabel('How much').selectOption({ index: 1 })
    const link = get.getByRole('link', { name: /^Get them for Dunlin/ })
    const [file] = await Promise.all([theirs.waitForEvent('download'), link.click()])
    expect(file.suggestedFilename()).toBe(`Wrack 1.0.0, for Dunlin, ${words?.replace(/ \(\d+\)$/, '')}.zip`)
    const names = namesIn(await file.path())
    expect(names).toContain('STEPS.txt')
    expect(names.filter((name) => name.startsWith('Apps/Dunlin 3/')).length).toBeGreaterThan(0)
    expect(names.filter((name) => name.startsWith('Apps/') && !name.startsWith('Apps/Dunlin 3/'))).toEqual([])
  })

  await test.step('its steps stay, and this device knows which are done and which app it is', async () => {
    await get.getByRole('checkbox', { name: /^Unpack/ }).check()
    await theirs.reload()
    await expect(get.getByRole('checkbox', { name: /^Unpack/ })).toBeChecked()
    await expect(get.getByRole('checkbox', { name: /Scan again/ })).not.toBeChecked()
    expect(await theirs.evaluate(() => document.documentElement.scrollWidth <= window.innerWidth)).toBe(true)
  })

  await test.step('a brush is found among many, opened, and tried', async () => {
    await theirs.getByLabel('Find a brush').fill('kelp e')
    const brushes = theirs.getByRole('listitem').filter({ has: theirs.getByRole('img', { name: /^Stroke of/ }) })
    await expect(brushes).toHaveCount(1)
    await theirs.getByRole('button', { name: 'Kelp edge' }).click()
    const dialog = theirs.getByRole('dialog')
    await expect(dialog.getByText(/Painted there it is [\d.]+ of 100 like itself/)).toBeVisible()
    const frame = dialog.getByRole('list', { name: 'Frames' }).getByRole('img').first()
    await expect.poll(() => frame.evaluate((img: HTMLImageElement) => img.naturalWidth)).toBeGreaterThan(0)
    const [one] = await Promise.all([
      theirs.waitForEvent('download'),
      dialog.getByRole('link', { name: /^Get this one/ }).click(),
    ])
    expect(one.suggestedFilename()).toMatch(/\.(gbr|gih|zip)$/)
    await dialog.getByRole('button', { name: 'Try it' }).click()
    await expect(theirs.getByTestId('try-pad')).toHaveAttribute('data-ready', /./)
    await expect(theirs.getByRole('radio', { name: 'Kelp edge' })).toBeChecked()
  })

  await test.step('what does not work is told to the maker, who sees it beside the people', async () => {
    await get.getByRole('button', { name: 'It does not work' }).click()
    await expect(get.getByText(/The archive itself was copied/)).toBeVisible()
    await get.getByRole('button', { name: 'Send the note' }).click()
    await expect(get.getByRole('alert')).toContainText('A few words are needed')
    await get.getByLabel('A note to the maker').fill('Kelp edge comes out grey.')
    await get.getByRole('button', { name: 'Send the note' }).click()
    await expect(get.getByText('Your note is with the maker.', { exact: false })).toBeVisible()
    const note = page
      .getByRole('region', { name: 'What they write' })
      .getByRole('listitem')
      .filter({ hasText: 'comes out grey' })
    await expect(note).toContainText('Fenn Merrow, of 1.0.0, in Dunlin')
    await note.getByRole('button', { name: 'Done with' }).click()
    await expect(note).toHaveCount(0)
  })
  await phone.close()
})
