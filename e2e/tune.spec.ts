import { expect, type Locator, type Page, test } from '@playwright/test'
import type { Recipe } from '@satchel/core/brush/recipe'
import { readPng } from '@satchel/core/formats/png/read'
import { toRgba } from '@satchel/core/raster/pixels'
import { createSurface } from '@satchel/core/raster/surface'
import { layOutGauge } from '@satchel/core/render/gauge'
import { GAUGE_SEED, INK, paintStroke } from '@satchel/core/render/render'
import { layUnder } from '@satchel/core/render/underlay'
import { prepareBrush } from '@satchel/core/stroke/prepare-brush'
import { openSatchel, openTune, type Satchel, settled, signInToDemo } from './harness.ts'

let satchel: Satchel
test.beforeAll(async () => {
  satchel = await openSatchel({ demo: true })
})
test.afterAll(() => satchel.close())
test.beforeEach(({ page }) => signInToDemo(page, satchel.url))

const tune = (page: Page, name: string) => openTune(page, satchel.url, name)

/** Shares of the level stroke's band that are inked, and the mean colour of what is inked. */
const look = (strokes: Locator) =>
  strokes.evaluate((canvas: HTMLCanvasElement) => {
    const band = canvas.getContext('2d')?.getImageData(60, 0, canvas.width - 120, Math.floor(canvas.height * 0.17))
    let [inked, r, b] = [0, 0, 0]
    const data = band?.data ?? []
    for (let i = 0; i < data.length; i += 4) {
      if ((data[i] ?? 255) + (data[i + 1] ?? 255) + (data[i + 2] ?? 255) > 690) continue
      inked++
      r += data[i] ?? 0
      b += data[i + 2] ?? 0
    }
    return { inked: inked / (data.length / 4), r: r / inked, b: b / inked }
  })

/** Waits until the strokes show what a change made of them. */
async function changed(strokes: Locator, change: () => Promise<unknown>) {
  const before = await strokes.getAttribute('data-wanted')
  await change()
  await expect(strokes).not.toHaveAttribute('data-wanted', before ?? '')
  await settled(strokes)
  return look(strokes)
}

async function setNumber(page: Page, label: string, value: string) {
  await page.getByLabel(label, { exact: true }).first().fill(value)
  await page.keyboard.press('Enter')
}

test('spacing, scatter, grain and tone change the pixels as told; all of it survives a reload and an undo', async ({
  page,
}) => {
  const strokes = await tune(page, 'Strand chalk')
  const original = await look(strokes)
  const first = await changed(strokes, () => setNumber(page, 'Size, px', '30')) // small enough to be shown at full size
  const wide = await changed(strokes, () => setNumber(page, 'Spacing, %', '300'))
  expect(wide.inked).toBeLessThan(first.inked * 0.6) // apart, the stamps leave gaps
  await changed(strokes, () => setNumber(page, 'Spacing, %', '10'))
  const scattered = await changed(strokes, () => setNumber(page, 'Scatter to the sides, %', '60'))
  expect(scattered.inked).toBeGreaterThan(first.inked * 1.2) // thrown to the sides, they cover more
  await changed(strokes, () => setNumber(page, 'Scatter to the sides, %', '0'))
  const bare = await changed(strokes, () => page.getByRole('button', { name: 'none', exact: true }).click())
  expect(bare.inked).toBeGreaterThan(first.inked) // without grain nothing is held off
  await page.getByRole('button', { name: 'Salt dots' }).click()
  await expect.poll(async () => (await look(strokes)).inked).toBeLessThan(bare.inked * 0.85)
  const sea = await changed(strokes, () => page.getByRole('button', { name: 'Sea' }).click())
  expect(sea.b - sea.r).toBeGreaterThan(40)
  const tone = await changed(strokes, () => page.getByText('tone', { exact: true }).click())
  expect(tone).not.toEqual(sea)
  await expect(page.getByText(/Take it from the tip’s mean/)).toBeVisible()

  await expect(page.getByRole('status').filter({ hasText: ', saved' })).toBeVisible()
  const versions = await page.getByRole('status').filter({ hasText: 'version' }).first().textContent()
  await page.reload()
  await expect(page.getByText(versions ?? '')).toBeVisible()
  await expect(page.getByLabel('tone', { exact: true })).toBeChecked()
  for (let n = 0; n < 12 && (await page.getByRole('button', { name: 'Undo' }).isEnabled()); n++) {
    const told = page.getByRole('status').filter({ hasText: 'version' }).first()
    const version = Number(/version (\d+)/.exec((await told.textContent()) ?? '')?.[1])
    await page.keyboard.press('Control+z')
    await expect(told).toContainText(`version ${version - 1} of`)
  }
  await expect(page.getByText(/^version 1 of/)).toBeVisible()
  await expect.poll(async () => (await look(strokes)).inked).toBeCloseTo(original.inked, 2)
})

test('numbers that make no sense are held to what a recipe may say, and the page goes on', async ({ page }) => {
  const strokes = await tune(page, 'Down soft')
  for (const [value, kept] of [
    ['0', '1'],
    ['-5', '1'],
    ['99999', '1200'],
    ['much', '1200'],
  ] as const) {
    await setNumber(page, 'Spacing, %', value)
    await expect(page.getByLabel('Spacing, %').first()).toHaveValue(kept)
  }
  await setNumber(page, 'Spacing, %', '1')
  await changed(strokes, () => setNumber(page, 'Size, px', '700'))
  await changed(strokes, () => setNumber(page, 'Stamps a step, ', '32'))
  await expect(page.getByText(/Gauge strokes at \d+ % of their size, to fit/)).toBeVisible()
  const box = await strokes.boundingBox()
  if (!box) throw new Error('no strokes')
  await page.mouse.move(box.x + 60, box.y + 60)
  await page.mouse.down()
  await page.mouse.move(box.x + box.width - 60, box.y + 200, { steps: 8 })
  await page.mouse.up()
  await expect(page.getByText(/A stroke is cut short/)).toBeVisible({ timeout: 120_000 })
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(page.getByText(/A stroke is cut short/)).toHaveCount(0, { timeout: 120_000 })
})

test('both ends of a range can be taken, by pointer and by keys, where they lie together', async ({ page }) => {
  await tune(page, 'Down soft')
  const group = page.getByRole('button', { name: /^Variation/ })
  if ((await group.getAttribute('aria-expanded')) === 'false') await group.click()
  const [from, to] = [page.getByRole('slider', { name: 'Hue from' }), page.getByRole('slider', { name: 'Hue to' })]
  for (const at of ['-180', '0', '180']) {
    await setNumber(page, 'Hue to, °', '180')
    await setNumber(page, 'Hue from, °', at)
    await setNumber(page, 'Hue to, °', at)
    await expect(from).toHaveAttribute('aria-valuenow', at)
    await expect(to).toHaveAttribute('aria-valuenow', at)
    const [low, high] = [await from.boundingBox(), await to.boundingBox()]
    expect(low).toMatchObject({ width: 24, height: 24 })
    expect(high).toMatchObject({ width: 24, height: 24 })
    expect((high?.x ?? 0) - (low?.x ?? 0), at).toBeCloseTo(24, 0)
  }
  await from.press('ArrowLeft')
  await expect(from).toHaveAttribute('aria-valuenow', '179')
  await expect(to).toHaveAttribute('aria-valuenow', '180')
  const at = (await from.boundingBox()) ?? { x: 0, y: 0 }
  await page.mouse.move(at.x + 12, at.y + 12)
  await page.mouse.down()
  await page.mouse.move(at.x - 40, at.y + 12, { steps: 4 })
  await page.mouse.up()
  await expect.poll(async () => Number(await from.getAttribute('aria-valuenow'))).toBeLessThan(150)
  await expect(to).toHaveAttribute('aria-valuenow', '180')
})

test('curves are bent by keys, with the range they come to; s spreads the stamps, b shows before', async ({ page }) => {
  const strokes = await tune(page, 'Sailcloth')
  const hand = page.getByRole('group', { name: 'Pressure to size' })
  await expect(page.getByText('2.4 px to 16 px')).toBeVisible()
  await hand.getByRole('slider', { name: 'Point 1 of 3' }).focus()
  const before = await look(strokes)
  const thicker = await changed(strokes, async () => {
    for (let n = 0; n < 5; n++) await page.keyboard.press('Shift+ArrowUp')
  })
  await expect(page.getByText(/^9\.6 px to 16 px$/)).toBeVisible()
  await expect.poll(async () => (await look(strokes)).inked).toBeGreaterThan(before.inked * 1.03)
  await page.getByRole('button', { name: 'Add a point' }).click()
  await expect(hand.getByRole('slider')).toHaveCount(4)
  await page.keyboard.press('Delete')
  await page.getByRole('heading', { level: 1 }).click()
  const spread = await changed(strokes, () => page.keyboard.press('s'))
  expect(spread.inked).toBeLessThan(thicker.inked)
  await changed(strokes, () => page.keyboard.press('s'))
  await page.keyboard.down('b')
  await expect.poll(async () => (await look(strokes)).inked).toBeCloseTo(before.inked, 3)
  await page.keyboard.up('b')
  await expect.poll(async () => (await look(strokes)).inked).toBeGreaterThan(before.inked * 1.02)
})

test('a ribbon’s bounds are moved by keys, its break is measured, and it is closed', async ({ page }) => {
  await tune(page, 'Rope, laid')
  const lead = page.getByRole('slider', { name: 'Lead-in' })
  await expect(lead).toHaveAttribute('aria-valuenow', '96')
  await lead.focus()
  await page.keyboard.press('Shift+ArrowRight')
  await page.keyboard.press('ArrowRight')
  await expect(lead).toHaveAttribute('aria-valuenow', '107')
  await expect(page.getByText(/Break at the join/)).toContainText('it shows')
  await page.getByRole('button', { name: 'Close it' }).click()
  await expect(page.getByText(/Break at the join/)).toContainText('cannot be seen')
  await expect(page.getByText(/squeezed by more than a third/)).toBeVisible()
})

test('versions are named, compared and gone back to; a copy remembers where it came from', async ({ page }) => {
  await tune(page, 'Ripple rub')
  await page.getByLabel('Name of version 1').fill('As it was')
  await page.keyboard.press('Enter')
  await setNumber(page, 'Size, px', '40')
  await expect(page.getByText('version 2 of 2, saved')).toBeVisible()
  await page.getByRole('button', { name: 'Compare version 1' }).click()
  await expect(page.getByRole('slider', { name: 'Line between As it was and now' })).toBeVisible()
  await page.getByRole('button', { name: 'go back to it' }).click()
  await expect(page.getByText('version 1 of 2, saved')).toBeVisible()
  await expect(page.getByLabel('Name of version 1')).toHaveValue('As it was')
  await page.getByRole('button', { name: 'Copy', exact: true }).click()
  await page.getByLabel('Name', { exact: true }).last().fill('Ripple rub, wide')
  await page.getByLabel('Signed by').fill('Ida Slikker')
  await page.getByRole('button', { name: 'Make the copy' }).click()
  await expect(page.getByRole('heading', { level: 1, name: 'Ripple rub, wide' })).toBeVisible()
  await expect(page.getByText('Copied from')).toBeVisible()
  await page.getByRole('button', { name: 'Starting points' }).click()
  await page.getByRole('button', { name: /^Spindrift/ }).click()
  await expect(page.getByText('version 2 of 2, saved')).toBeVisible()
  await expect(page.getByLabel('Scatter to the sides, %')).toHaveValue('230')
})

test('brushes are pinned, renamed and reordered in the pocket, and compared on one stroke', async ({ page }) => {
  await page.goto(`${satchel.url}/sort?q=rope`)
  const lines = page.locator('[role=listbox] [role=option]')
  await page.getByRole('button', { name: 'Evening class', exact: true }).click()
  await page.getByRole('menuitem', { name: 'New pocket …' }).click()
  await page.getByLabel('Name', { exact: true }).fill('Ropes')
  await page.getByRole('button', { name: 'Make the pocket' }).click()
  await expect(page.getByText('Nothing pinned yet')).toBeVisible()
  await lines.nth(0).click()
  await lines.nth(1).click({ modifiers: ['Shift'] })
  await page.keyboard.press('p')
  const entries = page.getByRole('list', { name: 'Entries of Ropes' }).getByRole('listitem')
  await expect(entries).toHaveCount(2)
  const names = () => entries.locator('.font-medium').allInnerTexts()
  const [one, two] = await names()
  await page.getByRole('button', { name: `About ${one}` }).click()
  await page.getByLabel('Called here').fill('Mooring line')
  await page.keyboard.press('Enter')
  await page.getByLabel('Fixed size, px').fill('21')
  await page.keyboard.press('Enter')
  await page.keyboard.press('Escape')
  await expect(page.getByLabel('Called here')).toHaveCount(0)
  await expect(page.getByRole('button', { name: 'Mooring line, 21 px: tune it' })).toBeVisible()
  await page.getByRole('button', { name: 'Mooring line, 21 px: tune it' }).focus()
  await page.keyboard.press('Space')
  await expect(entries.nth(0)).toHaveClass(/border-saddle/) // lifted
  await page.keyboard.press('ArrowRight')
  await expect(entries.nth(1)).toHaveAttribute('style', /translate3d\(-/) // the other makes room
  await page.keyboard.press('Space')
  await expect.poll(names).toEqual([two, 'Mooring line'])
  await page.reload()
  await expect.poll(names).toEqual([two, 'Mooring line'])

  await lines.nth(0).click()
  await lines.nth(1).click({ modifiers: ['Shift'] })
  await page.getByRole('link', { name: 'Compare' }).click()
  await expect(page.getByTestId('compared')).toHaveCount(2)
  await settled(page.getByTestId('compared').first())
  await page.getByRole('button', { name: 'Same size' }).click()
  await expect(page).toHaveURL(/size=48/)
  await page
    .getByRole('button', { name: /^Leave out/ })
    .first()
    .click()
  await expect(page.getByTestId('compared')).toHaveCount(1)
})

test('a grain that is gone is said in a sentence, and another can be chosen', async ({ page }) => {
  await tune(page, 'Salt print')
  const id = page.url().split('/').at(-1)
  await page.evaluate(async (brushId) => {
    const brush = await (await fetch(`/api/brushes/${brushId}`)).json()
    const { name, maker, licence, tags, version, recipe } = brush
    recipe.ground.grain.sha256 = 'f'.repeat(64)
    await fetch(`/api/brushes/${brushId}`, {
      method: 'PUT',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ name, maker, licence, tags, recipe, from: version }),
    })
  }, id)
  await page.reload()
  await expect(page.getByText('The grain of this brush is gone, and it paints without one.')).toBeVisible()
  await page.getByRole('button', { name: 'Wet sand' }).click()
  await expect(page.getByText('The grain of this brush is gone')).toHaveCount(0)
})

/** What the strokes shows just now. */
async function shownOn(strokes: Locator) {
  const url = await strokes.evaluate((canvas: HTMLCanvasElement) => canvas.toDataURL())
  const [png] = readPng(new Uint8Array(Buffer.from(url.split(',')[1] ?? '', 'base64'))).frames
  if (!png) throw new Error('no picture of the strokes')
  return toRgba(png.pixels)
}

/** The gauge strokes of the brush that is being tuned, painted here in Node on as large a strokes. */
async function paintHere(page: Page): Promise<(size: { width: number; height: number }) => Uint8ClampedArray> {
  const brush = await (await page.request.get(`${satchel.url}/api/brushes/${page.url().split('/').at(-1)}`)).json()
  const load = async (sha: string) => {
    const [frame] = readPng(
      new Uint8Array(await (await page.request.get(`${satchel.url}/api/pictures/${sha}`)).body()),
    ).frames
    if (!frame) throw new Error('no picture')
    return frame.pixels
  }
  const recipe: Recipe = brush.recipe
  const frames = await Promise.all(brush.pictures.map(({ blobSha }: { blobSha: string }) => load(blobSha)))
  const pictures = { frames, grain: brush.grain ? await load(brush.grain.blobSha) : undefined }
  const prepared = prepareBrush(pictures, recipe, INK)
  return ({ width, height }) => {
    const surface = createSurface(width, height, { r: 250, g: 250, b: 250 })
    layUnder(surface, recipe.colour.behaviour)
    const { strokes, recipe: shown } = layOutGauge(recipe, width, height)
    for (const [i, samples] of [strokes.level, strokes.curve, strokes.zigzag, ...strokes.stamps].entries())
      paintStroke(surface, samples, { brush: prepared, recipe: shown, seed: GAUGE_SEED + i, colour: INK })
    return surface.data
  }
}

test('Chromium paints the very pixels that Node paints, for grain, tone, ribbon and smear alike', async ({ page }) => {
  for (const name of ['Strand chalk', 'Shaded cockle', 'Rope, laid', 'Mud smear', 'Sailcloth']) {
    const strokes = await tune(page, name)
    const here = await paintHere(page)
    // The strokes may still change its size, for example where a finding is told below it.
    await expect
      .poll(
        async () => {
          const shown = await shownOn(strokes)
          return here(shown).reduce((n, value, i) => n + (value === shown.data[i] ? 0 : 1), 0)
        },
        { message: name },
      )
      .toBe(0)
  }
})
