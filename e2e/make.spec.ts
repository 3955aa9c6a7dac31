import { type Cookie, expect, type Locator, type Page, test } from '@playwright/test'
import { disc, leaf, takePhoto } from '@satchel/core/make/testing'
import sharp from 'sharp'
import { makeFirstOwner, openSatchel, openTune, type Satchel, told } from './harness.ts'

let satchel: Satchel
let cookies: Cookie[]
test.beforeAll(async ({ browser }) => {
  satchel = await openSatchel({ demo: false })
  const context = await browser.newContext()
  await makeFirstOwner(await context.newPage(), satchel.url)
  cookies = await context.cookies()
  await context.close()
})
test.beforeEach(({ context }) => context.addCookies(cookies))
test.afterAll(() => satchel.close())

const paper = { width: 640, height: 420, paint: [50, 46, 44], ground: [226, 221, 210], noise: 4 } as const
const jpeg = async (name: string, shape: (x: number, y: number) => number) => {
  const { picture } = takePhoto({ ...paper, shape })
  const { width, height, data } = picture
  const buffer = await sharp(data, { raw: { width, height, channels: 4 } })
    .removeAlpha()
    .jpeg({ quality: 88 })
    .toBuffer()
  return { name, mimeType: 'image/jpeg', buffer }
}

const open = async (page: Page, step: string) => {
  const button = page.getByRole('list', { name: 'Steps' }).getByRole('button', { name: new RegExp(`^\\d+ ${step}`) })
  if ((await button.getAttribute('aria-expanded')) === 'false') await button.click()
}
/** The share of a canvas that is painted, by its own pixels. */
const painted = (canvas: Locator) =>
  canvas.evaluate((element: HTMLCanvasElement) => {
    const { data } = element.getContext('2d')?.getImageData(0, 0, element.width, element.height) ?? { data: [] }
    let sum = 0
    for (let i = 0; i < data.length; i += 4) if ((data[i + 3] ?? 0) > 128 && (data[i] ?? 0) < 128) sum++
    return sum / (data.length / 4)
  })
/** Where px of the photograph lie on the page. */
async function placesOn(page: Page) {
  const box = await page.getByTestId('stage').boundingBox()
  if (!box) throw new Error('no stage')
  return (x: number, y: number) => [box.x + (x / 640) * box.width, box.y + (y / 420) * box.height] as const
}
const saved = (page: Page) => expect(page.getByText('saved', { exact: true })).toBeVisible()

test('a photograph becomes a tip that paints; another one takes its place and the recipe stays', async ({ page }) => {
  await page.goto(`${satchel.url}/make`)
  await expect(page.getByText('Lay a picture here')).toBeVisible()
  await page.getByTestId('choose-source').setInputFiles(await jpeg('sea_leaf.jpg', leaf(320, 210, 360, 20)))
  await expect(page.getByRole('heading', { name: 'sea leaf' })).toBeVisible()
  await expect(page.getByText(/^3\d\d × \d\d\d px$/)).toBeVisible()
  const after = page.getByRole('img', { name: 'The picture as it paints' })
  await expect.poll(() => painted(after)).toBeGreaterThan(0.05)
  const stroke = page.getByRole('img', { name: 'The mark as it strokes' })
  expect(await painted(stroke)).toBeGreaterThan(0.02)

  await page.getByRole('button', { name: 'Make the tip' }).click()
  await expect(page.getByRole('button', { name: 'Make again' })).toBeVisible()
  await page.getByRole('link', { name: 'sea leaf as it stands' }).click()
  await expect(page.getByText(/version 1 of 1/)).toBeVisible()
  const name = page.getByLabel('Name', { exact: true })
  await name.fill('Sea leaf, tuned')
  await name.press('Enter')
  const spacing = page.getByLabel('Spacing, %')
  await spacing.fill('80')
  await spacing.press('Enter')
  await expect(page.getByText(/version \d+ of \d+, saved/)).toBeVisible()

  await page.getByRole('link', { name: 'sea leaf', exact: true }).click()
  await expect(page.getByText('stroke, with the recipe of "Sea leaf, tuned"')).toBeVisible()
  await page.getByTestId('replace-source').setInputFiles(await jpeg('disc.jpg', disc(300, 200, 120)))
  await expect(page.getByText(/^2[34]\d × 2[34]\d px$/)).toBeVisible()
  await expect(page.getByText('changed since')).toBeVisible()
  await page.getByRole('button', { name: 'Make again' }).click()
  await expect(page.getByText('as it stands')).toBeVisible()
  await openTune(page, satchel.url, 'Sea leaf, tuned')
  await expect(page.getByLabel('Spacing, %')).toHaveValue('80')
  await expect(page.getByText(/^2[34]\d × 2[34]\d px$/)).toBeVisible()
})

test('steps are changed by pointer and keys, undone, and outlive a reload in the middle', async ({ page }) => {
  await page.goto(`${satchel.url}/make`)
  await page
    .getByTestId('choose-source')
    .setInputFiles(await jpeg('two.jpg', (x, y) => Math.max(disc(180, 210, 90)(x, y), disc(460, 210, 90)(x, y))))
  await expect(page.getByRole('heading', { name: 'two' })).toBeVisible()
  const after = page.getByRole('img', { name: 'The picture as it paints' })
  await expect.poll(() => painted(after)).toBeGreaterThan(0.15)
  const both = await painted(after)

  // the right disc is taken away by hand
  await open(page, 'Touch up')
  const radius = page.getByLabel('Radius, px')
  await radius.fill('106')
  await radius.press('Enter')
  const at = await placesOn(page)
  await page.mouse.move(...at(450, 210))
  await page.mouse.down()
  await page.mouse.move(...at(470, 210), { steps: 3 })
  await page.mouse.up()
  await expect(page.getByText('1 stroke')).toBeVisible()
  await expect.poll(() => painted(after)).toBeLessThan(both * 0.6)

  await page.keyboard.press('Control+z')
  await expect(page.getByText('0 strokes')).toBeVisible()
  await expect.poll(() => painted(after)).toBeCloseTo(both, 3)
  await page.keyboard.press('Control+Shift+z')
  await expect(page.getByText('1 stroke')).toBeVisible()
  // a second stroke by keys
  await page.getByTestId('stage').focus()
  for (const key of ['ArrowLeft', 'Space', 'ArrowLeft', 'Space']) await page.keyboard.press(key)
  await expect(page.getByText('2 strokes')).toBeVisible()
  await page.keyboard.press('Control+z')
  await expect(page.getByText('1 stroke')).toBeVisible()

  // loaded anew before it could be saved: nothing is lost
  await page.route('**/plan', (route) => route.abort())
  await open(page, 'Tones')
  await page.getByLabel('Turn paint and ground round').check()
  await expect(page.getByText('Not saved yet:')).toBeVisible()
  await page.unroute('**/plan')
  await page.reload()
  await saved(page)
  await open(page, 'Tones')
  await expect(page.getByLabel('Turn paint and ground round')).toBeChecked()
  await open(page, 'Touch up')
  await expect(page.getByText('1 stroke')).toBeVisible()

  // divider and switches by keys
  const divider = page.getByRole('slider', { name: 'Divider between before and after' })
  await divider.focus()
  await page.keyboard.press('End')
  await expect(divider).toHaveAttribute('aria-valuenow', '100')
  await page.getByLabel('Touch up counts').uncheck()
  await saved(page)

  // how it strokes at first is proposed; another way is one press away, and stays
  await expect(page.getByRole('radio', { name: /, proposed$/ })).toBeChecked()
  await page.getByText('Texture', { exact: true }).click()
  await saved(page)
  await page.reload()
  await expect(page.getByRole('radio', { name: 'Texture' })).toBeChecked()
})

test('a sheet is left out, joined and cut by pointer, and becomes as many brushes as it says', async ({ page }) => {
  await page.goto(`${satchel.url}/make?way=sheet`)
  const three = [disc(120, 210, 70), disc(320, 210, 60), disc(520, 210, 80)]
  const file = await jpeg('pebbles.jpg', (x, y) => Math.max(...three.map((shape) => shape(x, y))))
  await page.getByTestId('choose-source').setInputFiles(file)
  await expect(page.getByRole('button', { name: 'Make 3 tips' })).toBeVisible()
  let at = await placesOn(page)
  await page.mouse.click(...at(350, 220))
  await expect(page.getByRole('button', { name: 'Make 2 tips' })).toBeVisible()
  await page.mouse.click(...at(350, 220))
  await expect(page.getByRole('button', { name: 'Make 3 tips' })).toBeVisible()
  await page.getByText('join two').click()
  at = await placesOn(page)
  await page.mouse.move(...at(120, 210))
  await page.mouse.down()
  await page.mouse.move(...at(320, 215), { steps: 4 })
  await page.mouse.up()
  await expect(page.getByRole('button', { name: 'Make 2 tips' })).toBeVisible()
  await page.getByText('Take back 1 change by hand').click()
  await page.getByText('frames of one').click()
  await page.getByRole('button', { name: 'Make one tip of 3 frames' }).click()
  await expect(page.getByRole('link', { name: 'pebbles x3 as it stands' })).toBeVisible()
})

test('frames change places by mouse and by keys, are copied, evened out, and all of it is undone', async ({ page }) => {
  const sizes = [60, 62, 24, 61]
  const shapes = sizes.map((radius, i) => disc(90 + i * 150, 210, radius))
  await page.goto(`${satchel.url}/make?way=sheet`)
  await page
    .getByTestId('choose-source')
    .setInputFiles(await jpeg('beads.jpg', (x, y) => Math.max(...shapes.map((shape) => shape(x, y)))))
  await expect(page.getByRole('heading', { name: 'beads' })).toBeVisible()
  await page.getByText('frames of one', { exact: true }).click()
  await page.getByRole('button', { name: 'Make one tip of 4 frames' }).click()
  await page.getByRole('link', { name: 'beads x4 as it stands' }).click()
  await page.getByRole('link', { name: 'Order and evenness' }).click()
  await expect(page.getByText(/^frame 3 is \d\d % smaller$/)).toBeVisible()

  const pictures = () =>
    page
      .getByRole('img', { name: /^Frame \d$/ })
      .evaluateAll((all) => all.map((each) => (each as HTMLImageElement).src.split('/')[5]))
  const [first, second, third, fourth] = await pictures()
  await page.getByRole('button', { name: 'Move frame 3' }).hover()
  await page.mouse.down()
  const goal = await page.getByRole('button', { name: 'Move frame 1' }).boundingBox()
  if (!goal) throw new Error('no first frame')
  await page.mouse.move(goal.x + 12, goal.y + 8, { steps: 15 })
  await expect(page.getByText(/frame 3 is over frame 1/)).toBeAttached()
  await page.mouse.up()
  await expect.poll(pictures).toEqual([third, first, second, fourth])
  await page.getByRole('button', { name: 'Move frame 1' }).focus()
  await page.keyboard.press('Space')
  await expect(page.getByText(/frame 1 is over frame 1/)).toBeAttached()
  await page.keyboard.press('ArrowRight')
  await expect(page.getByText(/frame 1 is over frame 2/)).toBeAttached()
  await page.keyboard.press('Space')
  await expect.poll(pictures).toEqual([first, third, second, fourth])
  const choose = async (frame: number, act: string) => {
    await page.getByRole('button', { name: `More for frame ${frame}` }).click()
    await page.getByRole('menuitem', { name: act }).click()
  }
  await choose(1, 'Copy')
  await expect.poll(pictures).toEqual([first, first, third, second, fourth])
  await choose(2, 'Leave out')
  await expect.poll(pictures).toEqual([first, third, second, fourth])
  // one that was left out, and stands nowhere else, can be put back
  await choose(4, 'Leave out')
  await expect.poll(pictures).toEqual([first, third, second])
  await page.getByRole('button', { name: /^Put back frame/ }).click()
  await expect.poll(pictures).toEqual([first, third, second, fourth])
  await choose(2, 'Change size, paint or hue')
  const dialog = page.getByRole('dialog', { name: 'Frame 2' })
  await dialog.getByRole('slider', { name: 'Size' }).press('End')
  await expect(dialog.getByRole('img', { name: 'Frame 2, as it will be' })).toBeVisible()
  await dialog.getByRole('button', { name: 'Change frame 2' }).click()
  await expect.poll(async () => (await pictures())[1]).not.toBe(third)
  await expect(page.getByText(/^frame 2 is \d+ % larger$/)).toBeVisible()
  await page.getByRole('button', { name: 'Undo' }).last().click()
  await expect.poll(pictures).toEqual([first, third, second, fourth])
  await page.getByText('at random', { exact: true }).click()
  await expect(page.getByRole('radio', { name: 'at random' })).toBeChecked()
  await page.getByRole('button', { name: 'Even out 4 frames' }).click()
  await expect(page.getByText('They belong together.')).toBeVisible()
  await page.getByRole('button', { name: 'Undo' }).last().click()
  await expect.poll(pictures).toEqual([first, third, second, fourth])
})

test('what is no picture is refused where it is dropped, by name', async ({ page }) => {
  await page.goto(`${satchel.url}/make`)
  await page
    .getByTestId('choose-source')
    .setInputFiles({ name: 'notes.txt', mimeType: 'text/plain', buffer: Buffer.from('no picture') })
  await expect(told(page, '"notes.txt": It is no picture that is taken')).toBeVisible()
})
