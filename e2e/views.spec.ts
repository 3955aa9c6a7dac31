import { expect, type Locator, type Page, test } from '@playwright/test'
import { fetched, openSatchel, type Satchel, settled, signInToDemo } from './harness.ts'

let satchel: Satchel
test.beforeAll(async () => {
  satchel = await openSatchel({ demo: true })
})
test.afterAll(() => satchel.close())

const pixelsOf = (strokes: Locator) => strokes.evaluate((canvas: HTMLCanvasElement) => canvas.toDataURL())

test('changes of a recipe show at once, survive a reload, and can be undone', async ({ page }) => {
  await signInToDemo(page, satchel.url)
  await page.goto(`${satchel.url}/sort?q=limpet`)
  await page.locator('[role=listbox] [role=option]').first().dblclick()
  const strokes = page.getByTestId('paint-area')
  await settled(strokes)
  const first = await pixelsOf(strokes)
  await page.getByLabel('Size, px').first().fill('30')
  await page.keyboard.press('Enter')
  await expect(page.getByText('version 2 of 2, saved')).toBeVisible()
  const second = await pixelsOf(strokes)
  expect(second).not.toBe(first)
  await page.reload()
  await settled(strokes)
  await expect(page.getByLabel('Size, px').first()).toHaveValue('30')
  await expect.poll(async () => (await pixelsOf(strokes)) === second).toBe(true)
  await page.keyboard.press('Control+z')
  await expect(page.getByText('version 1 of 2, saved')).toBeVisible()
  await expect(page.getByLabel('Size, px').first()).toHaveValue('80')
  await expect.poll(async () => (await pixelsOf(strokes)) === first).toBe(true)
  await page.keyboard.press('Control+Shift+z')
  await expect(page.getByText('version 2 of 2, saved')).toBeVisible()
})

test('a free stroke is drawn where the pointer goes', async ({ page }) => {
  await signInToDemo(page, satchel.url)
  await page.goto(`${satchel.url}/sort?q=broad`)
  await page.locator('[role=listbox] [role=option]').first().dblclick()
  const strokes = page.getByTestId('paint-area')
  await settled(strokes)
  const box = await strokes.boundingBox()
  if (!box) throw new Error('no strokes')
  const inkAt = (x: number, y: number) =>
    strokes.evaluate(
      (canvas: HTMLCanvasElement, [px, py]) => canvas.getContext('2d')?.getImageData(px ?? 0, py ?? 0, 1, 1).data[0],
      [x, y],
    )
  const y = Math.round(box.height * 0.74)
  expect(await inkAt(200, y)).toBeGreaterThan(240)
  await page.mouse.move(box.x + 100, box.y + y)
  await page.mouse.down()
  await page.mouse.move(box.x + 300, box.y + y, { steps: 20 })
  await page.mouse.up()
  await expect.poll(() => inkAt(200, y)).toBeLessThan(60)
  await page.getByRole('button', { name: 'Wipe free strokes' }).click()
  await expect.poll(() => inkAt(200, y)).toBeGreaterThan(240)
})

test('search, filters and view live in the address', async ({ page }) => {
  await signInToDemo(page, satchel.url)
  await expect(page.getByRole('listbox', { name: 'Brushes' })).toBeVisible()
  await page.keyboard.press('/')
  await page.keyboard.type('rope')
  await expect(page).toHaveURL(/q=rope/)
  await expect(page.getByText('3 brushes', { exact: true })).toBeVisible()
  await page.getByLabel('Frames', { exact: true }).selectOption('many')
  await page.getByRole('button', { name: 'Tiles' }).click()
  await expect(page).toHaveURL(/frames=many/)
  await page.reload()
  await expect(page.getByText('1 brush', { exact: true })).toBeVisible()
  await expect(page.getByRole('button', { name: 'Tiles' })).toHaveAttribute('aria-pressed', 'true')
  await page.getByRole('button', { name: 'Show all' }).click()
  await expect(page.getByText('73 brushes', { exact: true })).toBeVisible()
})

test('a brush put into the bin can be brought back from the toast and from the bin', async ({ page }) => {
  await signInToDemo(page, satchel.url)
  await page.goto(`${satchel.url}/sort?q=dulse`)
  await page.locator('[role=listbox] [role=option]').first().click()
  await page.keyboard.press('Delete')
  await expect(page.getByRole('heading', { name: 'No brush is like that' })).toBeVisible()
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(page.getByText('1 brush', { exact: true })).toBeVisible()
  await page.locator('[role=listbox] [role=option]').first().click()
  await page.getByRole('button', { name: 'Bin' }).last().click()
  await expect(page.getByRole('heading', { name: 'No brush is like that' })).toBeVisible()
  await page.goto(`${satchel.url}/sort?bin=1`)
  await page.locator('[role=listbox] [role=option]').first().click()
  await page.getByRole('button', { name: 'Bring back' }).click()
  await expect(page.getByRole('heading', { name: 'The bin is empty' })).toBeVisible()
})

/** What a view loads over the wire besides pictures and letters, in KiB. */
async function codeOf(page: Page, path: string): Promise<number> {
  const sizes: Promise<number>[] = []
  page.on('response', (response) => {
    const { pathname } = new URL(response.url())
    if (pathname.startsWith('/api/') || /\.(woff2|png|svg)$/.test(pathname)) return
    sizes.push(
      response
        .request()
        .sizes()
        .then(({ responseBodySize }) => responseBodySize),
    )
  })
  await page.goto(`${satchel.url}${path}`)
  await page.waitForLoadState('networkidle')
  return (await Promise.all(sizes)).reduce((sum, size) => sum + size, 0) / 1024
}

test('a person’s page loads at most 120 KiB of code, the first curator’s view 250', async ({ browser, page }) => {
  const stranger = await (await browser.newContext()).newPage()
  const person = await codeOf(stranger, '/h/no-such-link')
  await expect(stranger.getByRole('heading', { name: 'Nothing to fetch here' })).toBeVisible()
  expect(person).toBeGreaterThan(20)
  expect(person).toBeLessThanOrEqual(120)
  await stranger.context().close()
  await signInToDemo(page, satchel.url)
  const state = await page.context().storageState()
  const fresh = await (await browser.newContext({ storageState: state })).newPage()
  expect(await codeOf(fresh, '/sort')).toBeLessThanOrEqual(250)
  await expect(fresh.getByRole('listbox', { name: 'Brushes' })).toBeVisible()
  await fresh.context().close()
})

test('a view whose code does not come says so; the rest of the page stays, and it is opened again', async ({
  page,
}) => {
  await signInToDemo(page, satchel.url)
  await page.route('**/assets/compare-*.js', (route) => route.abort())
  await page.evaluate(() => window.history.pushState(null, '', '/compare'))
  await page.evaluate(() => window.dispatchEvent(new PopStateEvent('popstate')))
  await expect(page.getByRole('alert')).toContainText('This view has stopped')
  await expect(page.getByRole('navigation').first()).toBeVisible()
  await page.unroute('**/assets/compare-*.js')
  await page.getByRole('button', { name: 'Open it again' }).click()
  await expect(page.getByRole('heading', { level: 1 })).toBeVisible()
  await expect(page.getByRole('alert')).toHaveCount(0)
})

test('no view can be scrolled out of the window: nothing hidden is left to scroll to', async ({ page }) => {
  await signInToDemo(page, satchel.url)
  for (const path of ['/sort', '/sort?view=tiles', '/tune', '/gather', '/hand-out']) {
    await page.goto(`${satchel.url}${path}`)
    await fetched(page)
    const found = await page.evaluate(() => {
      const hides = [...document.querySelectorAll('*')].filter((element) => {
        const { overflowX, overflowY } = getComputedStyle(element)
        if (overflowX !== 'hidden' && overflowY !== 'hidden') return false
        const { clientHeight, scrollHeight, clientWidth, scrollWidth } = element
        return clientHeight > 60 && (scrollHeight > clientHeight + 1 || scrollWidth > clientWidth + 1)
      })
      return { beyond: (document.scrollingElement?.scrollHeight ?? 0) - window.innerHeight, hides: hides.length }
    })
    expect(found, path).toEqual({ beyond: 0, hides: 0 })
  }
})

test('what comes late to a pack moves nothing that is pressed meanwhile', async ({ page }) => {
  await signInToDemo(page, satchel.url)
  let letGo: (() => void) | undefined
  const held = new Promise<void>((resolve) => {
    letGo = resolve
  })
  await page.route('**/api/packs/*/check', async (route) => {
    await held
    await route.continue()
  })
  await page.goto(`${satchel.url}/hand-out`)
  await page.getByRole('link', { name: /Saltmarsh/ }).click()
  const people = page.getByRole('link', { name: /^People/ })
  await people.waitFor()
  await page.evaluate(() => document.fonts.ready)
  const before = await people.boundingBox()
  letGo?.()
  await expect(page.getByText(/not looked at yet|nothing to say|let pass/).first()).toBeVisible()
  expect(await people.boundingBox()).toEqual(before)
})
