import AxeBuilder from '@axe-core/playwright'
import { expect, type Locator, type Page, test } from '@playwright/test'
import { fetched, openSatchel, type Satchel, settled, signInToDemo } from './harness.ts'

let satchel: Satchel
test.beforeAll(async () => {
  satchel = await openSatchel({ demo: true })
})
test.afterAll(() => satchel.close())

const TAGS = ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa']
/** Within the page itself, which holds no frames, and naming nothing but what is wrong: half the time. */
const axe = (page: Page, runOnly: { type: 'tag' | 'rule'; values: string[] }) =>
  new AxeBuilder({ page })
    .setLegacyMode()
    .options({ runOnly, resultTypes: ['violations'] })
    .analyze()

/** What axe finds in light, and in dark what of it can differ: the contrasts. */
async function seriousProblems(page: Page): Promise<string[]> {
  await page.emulateMedia({ colorScheme: 'light' })
  const light = await axe(page, { type: 'tag', values: TAGS })
  await page.emulateMedia({ colorScheme: 'dark' })
  const dark = await axe(page, { type: 'rule', values: ['color-contrast'] })
  return [...light.violations, ...dark.violations]
    .filter(({ impact }) => impact === 'serious' || impact === 'critical')
    .map(
      ({ id, nodes }) =>
        `${id}: ${nodes.map((node) => `${node.html.slice(0, 120)} ${node.failureSummary}`).join(' | ')}`,
    )
}

/** Every view by the words a person would use to say where they are. */
const VIEWS: readonly { name: string; open: (page: Page) => Promise<void> }[] = [
  { name: 'brush lines', open: async (page) => void (await page.goto(`${satchel.url}/sort`)) },
  { name: 'brush tiles', open: async (page) => void (await page.goto(`${satchel.url}/sort?view=tiles`)) },
  {
    name: 'chosen lines',
    open: async (page) => {
      await page.goto(`${satchel.url}/sort`)
      await page.locator('[role=listbox] [role=option]').first().click()
    },
  },
  {
    name: 'the choice of a set',
    open: async (page) => {
      await page.goto(`${satchel.url}/sort`)
      await page.locator('[role=listbox] [role=option]').first().click()
      await page.keyboard.press('c')
      await expect(page.getByRole('dialog')).toBeVisible()
    },
  },
  { name: 'the bin', open: async (page) => void (await page.goto(`${satchel.url}/sort?bin=1`)) },
  { name: 'an empty ledger', open: async (page) => void (await page.goto(`${satchel.url}/gather`)) },
  {
    name: 'a brush being tuned',
    open: async (page) => {
      await page.goto(`${satchel.url}/tune`)
      await settled(page.getByTestId('paint-area'))
    },
  },
  {
    name: 'the workbench',
    open: async (page) => {
      await page.goto(`${satchel.url}/make`)
      await expect(page.getByRole('link', { name: 'Kelp blade on blue', exact: true })).toBeVisible()
    },
  },
  ...(['Grey', 'Tones', 'Touch up', 'Size'] as const).map((step) => ({
    name: `a source at its step ${step}`,
    open: async (page: Page) => {
      await page.goto(`${satchel.url}/make`)
      await page.getByRole('link', { name: 'Kelp blade on blue', exact: true }).click()
      await expect(page.getByTestId('tried')).toBeVisible()
      await page
        .getByRole('list', { name: 'Steps' })
        .getByRole('button', { name: new RegExp(`^\\d+ ${step}`) })
        .click()
    },
  })),
  {
    name: 'a sheet',
    open: async (page) => {
      await page.goto(`${satchel.url}/make`)
      await page.getByRole('link', { name: 'Shells from the tide line', exact: true }).click()
      await expect(page.getByRole('button', { name: /^Make \d+ tips/ })).toBeVisible()
    },
  },
  ...(['Sea star, half an arm', 'Shore crab in layers', 'Winkle, turned'] as const).map((name) => ({
    name: `the source ${name}`,
    open: async (page: Page) => {
      await page.goto(`${satchel.url}/make`)
      await page.getByRole('link', { name, exact: true }).click()
      await expect(page.getByTestId('tried')).toBeVisible()
    },
  })),
  {
    name: 'frames',
    open: async (page) => {
      await page.goto(`${satchel.url}/sort?frames=many`)
      const id = await page.evaluate(async () => {
        const { brushes } = await (await fetch('/api/brushes?limit=200')).json()
        return brushes.find(({ frames }: { frames: number }) => frames > 2).id
      })
      await page.goto(`${satchel.url}/make/frames/${id}`)
      await expect(page.getByRole('button', { name: /^Even out/ })).toBeVisible()
    },
  },
  ...(
    [
      ['gather', 'From a phone'],
      ['make', 'Write words'],
      ['make', 'Draw by pen'],
      ['sort/grains', 'From a photograph'],
      ['sort/grains', 'Draw a grain'],
    ] as const
  ).map(([at, act]) => ({
    name: `the dialog "${act}"`,
    open: async (page: Page) => {
      await page.goto(`${satchel.url}/${at}`)
      await page.getByRole('button', { name: act, exact: true }).click()
      await expect(page.getByRole('dialog')).toBeVisible()
    },
  })),
  { name: 'the bin of the workbench', open: async (page) => void (await page.goto(`${satchel.url}/make?bin=1`)) },
  {
    name: 'the matrix',
    open: async (page) => {
      await page.goto(`${satchel.url}/fit?find=fathom`)
      await expect(page.getByRole('button', { name: /in Sanderling: likeness/ })).toBeVisible()
    },
  },
  {
    name: 'a cell of the matrix',
    open: async (page) => {
      await page.goto(`${satchel.url}/fit?find=fathom`)
      await page.getByRole('button', { name: /in Dunlin: likeness/ }).click()
      await expect(page.getByRole('heading', { name: /^Kept/ })).toBeVisible()
    },
  },
  { name: 'destinations', open: async (page) => void (await page.goto(`${satchel.url}/fit/destinations?id=plover`)) },
  { name: 'installs', open: async (page) => void (await page.goto(`${satchel.url}/fit/installs`)) },
  { name: 'a simulated app', open: async (page) => void (await page.goto(`${satchel.url}/fit/app/plover`)) },
  { name: 'packs', open: async (page) => void (await page.goto(`${satchel.url}/hand-out`)) },
  {
    name: 'a pack',
    open: async (page) => {
      await page.goto(`${satchel.url}/hand-out`)
      await page.getByRole('link', { name: /Saltmarsh/ }).click()
      await expect(page.getByRole('button', { name: /^Hand out 1/ })).toBeVisible()
    },
  },
  { name: 'grains and strips', open: async (page) => void (await page.goto(`${satchel.url}/sort/grains`)) },
  { name: 'compare', open: async (page) => void (await page.goto(`${satchel.url}/compare`)) },
  { name: 'a dead link', open: async (page) => void (await page.goto(`${satchel.url}/h/nothing`)) },
  {
    name: 'the tasks',
    open: async (page) => {
      await page.goto(`${satchel.url}/sort`)
      await page.getByRole('button', { name: /running tasks/ }).click()
      await expect(page.getByRole('dialog', { name: 'Tasks' })).toBeVisible()
    },
  },
]

test('axe finds nothing serious on any view, in light and in dark', async ({ browser }) => {
  const context = await browser.newContext({ reducedMotion: 'reduce' })
  const page = await context.newPage()
  await page.goto(`${satchel.url}/sign-in`)
  await expect(page.getByRole('heading', { name: 'Sign in' })).toBeVisible()
  expect(await seriousProblems(page), 'sign in').toEqual([])
  await signInToDemo(page, satchel.url)
  for (const view of VIEWS) {
    await view.open(page)
    await fetched(page)
    expect(await seriousProblems(page), view.name).toEqual([])
  }
  await context.close()
})

test('the person’s page has nothing serious either, and works on a small screen', async ({ page, browser }) => {
  await signInToDemo(page, satchel.url)
  await page.goto(`${satchel.url}/hand-out`)
  await page.getByRole('link', { name: /Saltmarsh/ }).click()
  await page.getByRole('button', { name: /^More for Odde/ }).click()
  await page.getByRole('menuitem', { name: 'Make a new link' }).click()
  const link = (await page.getByTestId('hand-out-link').textContent()) ?? ''
  const context = await browser.newContext({ viewport: { width: 390, height: 800 } })
  const theirs = await context.newPage()
  await theirs.goto(link)
  await expect(theirs.getByRole('heading', { level: 1, name: 'Saltmarsh Sketching' })).toBeVisible()
  expect(await seriousProblems(theirs)).toEqual([])
  expect(await theirs.evaluate(() => document.documentElement.scrollWidth <= window.innerWidth)).toBe(true)
  await context.close()
})

/** The canvas's own pixels; a screenshot would hold the rounding of its frame too. */
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
