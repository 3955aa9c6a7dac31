import { expect, type Page, test } from '@playwright/test'
import { seriousProblems, showWhole } from './axe.ts'
import { handOutForApps } from './for-apps.ts'
import { fetched, openSatchel, type Satchel, settled, signInToDemo } from './harness.ts'

let satchel: Satchel
test.beforeAll(async () => {
  satchel = await openSatchel({ demo: true, mailbox: true, exchange: true })
})
test.afterAll(() => satchel.close())

async function firstPack(page: Page): Promise<string> {
  const { packs } = await (await page.request.get(`${satchel.url}/api/packs`)).json()
  return packs[0].id
}

/** The window that views are opened in. */
const SEEN = { width: 1280, height: 800 }

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
  {
    name: 'followed folders',
    open: async (page) => {
      const headers = { origin: satchel.url }
      const data = { name: 'Evening sketches', by: 'program', zone: 'Europe/Oslo' }
      await page.request.post(`${satchel.url}/api/followed`, { data, headers })
      await page.goto(`${satchel.url}/gather/followed`)
      await expect(page.getByRole('region', { name: 'Evening sketches' })).toBeVisible()
    },
  },
  {
    name: 'an exchange',
    open: async (page) => {
      await page.goto(`${satchel.url}/gather/exchange`)
      await expect(page.getByRole('list', { name: 'Collections' }).getByRole('listitem')).toHaveCount(6)
    },
  },
  {
    name: 'a collection of an exchange',
    open: async (page) => {
      await page.goto(`${satchel.url}/gather/exchange?q=feathers`)
      await page.getByRole('link', { name: 'Quiet Feathers' }).click()
      await page.getByRole('button', { name: 'Try Barred plume' }).click()
      await expect(page.getByTestId('try-pad')).toHaveAttribute('data-ready', /./)
    },
  },
  {
    name: 'same marks',
    open: async (page) => {
      await page.goto(`${satchel.url}/sort/same`)
      await expect(page.getByRole('article').first()).toBeVisible()
    },
  },
  {
    name: 'what looks like a brush',
    open: async (page) => {
      const { brushes } = await (await page.request.get(`${satchel.url}/api/brushes?limit=1`)).json()
      await page.goto(`${satchel.url}/sort/looks-like?brush=${brushes[0].id}`)
      await expect(
        page.getByRole('region', { name: 'Brushes that look like it' }).getByRole('listitem').first(),
      ).toBeVisible()
    },
  },
  {
    name: 'two sets',
    open: async (page) => {
      const { sets } = await (await page.request.get(`${satchel.url}/api/sets`)).json()
      const [one, other] = (sets as { id: string; starter: boolean }[]).filter(({ starter }) => !starter)
      await page.goto(`${satchel.url}/sort/sets?one=${one?.id}&other=${other?.id}`)
      await expect(page.getByRole('region', { name: 'In both' })).toBeVisible()
    },
  },
  { name: 'members', open: async (page) => void (await page.goto(`${satchel.url}/members`)) },
  {
    name: 'an invitation to be made',
    open: async (page) => {
      await page.goto(`${satchel.url}/members`)
      await page.getByRole('button', { name: 'Invite somebody' }).click()
      await expect(page.getByRole('dialog')).toBeVisible()
    },
  },
  {
    name: 'the account',
    open: async (page) => {
      await page.goto(`${satchel.url}/sort`)
      await page.getByRole('button', { name: /^Account of/ }).click()
      await expect(page.getByRole('button', { name: 'Sign out' })).toBeVisible()
    },
  },
  {
    name: 'where one is signed in',
    open: async (page) => {
      await page.goto(`${satchel.url}/sort`)
      await page.getByRole('button', { name: /^Account of/ }).click()
      await page.getByRole('button', { name: 'Where you are signed in' }).click()
      await expect(page.getByText('this one')).toBeVisible()
    },
  },
  {
    name: 'a second step of signing in',
    open: async (page) => {
      await page.goto(`${satchel.url}/sort`)
      await page.getByRole('button', { name: /^Account of/ }).click()
      await page.getByRole('button', { name: 'Second step of signing in' }).click()
      await page.getByLabel('Your password').fill('saltmarsh-demo')
      await page.getByRole('button', { name: 'Go on' }).click()
      await expect(page.getByTestId('secret')).toBeVisible()
    },
  },
  {
    name: 'an invitation',
    open: async (page) => {
      const data = { role: 'viewer', note: 'Ida', days: 7 }
      const headers = { origin: satchel.url }
      const made = await page.request.post(`${satchel.url}/api/members/invitations`, { data, headers })
      await page.goto((await made.json()).link)
      await expect(
        page.getByRole('button', { name: 'Join', exact: true }).or(page.getByRole('button', { name: 'Go there' })),
      ).toBeVisible()
    },
  },
  {
    name: 'a change of many brushes',
    open: async (page) => {
      await page.goto(`${satchel.url}/sort`)
      await page.locator('[role=listbox] [role=option]').first().click()
      await page.getByRole('button', { name: 'Change', exact: true }).click()
      await page.getByRole('dialog').getByLabel('What changes').selectOption({ label: 'Spacing' })
      await expect(page.getByRole('img', { name: /then$/ }).first()).toBeVisible()
    },
  },
  {
    name: 'finding by more',
    open: async (page) => {
      await page.goto(`${satchel.url}/sort?fitAt=dunlin`)
      await page.getByRole('button', { name: 'More (1)', exact: true }).click()
      await expect(page.getByLabel('Keep this search as')).toBeVisible()
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
  {
    name: 'tracing',
    open: async (page) => {
      await page.goto(`${satchel.url}/fit?find=fathom`)
      await page.getByRole('button', { name: /^Fathom dash in Plover: likeness/ }).click()
      await page.getByRole('link', { name: 'Trace it' }).click()
      await expect(page.getByRole('columnheader', { name: 'as curves' })).toBeVisible()
    },
  },
  { name: 'loose ends', open: async (page) => void (await page.goto(`${satchel.url}/fit/loose-ends`)) },
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
  {
    name: 'a check list',
    async open(page) {
      await page.goto(`${satchel.url}/hand-out/${await firstPack(page)}/check`)
      await expect(page.getByRole('heading', { name: 'Check list' })).toBeVisible()
    },
  },
  {
    name: 'what changed',
    async open(page) {
      await page.goto(`${satchel.url}/hand-out/${await firstPack(page)}/difference`)
      await expect(page.getByText('Nothing differs')).toBeVisible()
    },
  },
  {
    name: 'brushes and notes of a pack',
    async open(page) {
      await page.goto(`${satchel.url}/hand-out/${await firstPack(page)}/brushes`)
      await expect(page.getByLabel('Note on Down soft')).toBeVisible()
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
  {
    name: 'people',
    open: async (page) => void (await page.goto(`${satchel.url}/hand-out/${await firstPack(page)}/people`)),
  },
  {
    name: 'editions, and a class kit',
    async open(page) {
      const id = await firstPack(page)
      await page.goto(`${satchel.url}/hand-out/${id}/editions`)
      await page.getByRole('button', { name: 'New class kit' }).click()
      await page.getByRole('button', { name: 'Add a lesson' }).click()
      await page.getByLabel('closes again').check()
      await page.getByLabel('One of its own, with fixed sizes').check()
      await page.getByLabel('Only these sets, tags and brushes').check()
      // what is scrolled lies half under the bar that stays, at any place but this
      await page.getByRole('heading', { level: 1 }).scrollIntoViewIfNeeded()
    },
  },
  {
    name: 'brushes of a lesson',
    async open(page) {
      await page.getByRole('button', { name: /^Brushes of Lesson 1/ }).click()
      await expect(page.getByRole('dialog')).toBeVisible()
    },
  },
  {
    name: 'a mail to people',
    async open(page) {
      await page.goto(`${satchel.url}/hand-out/${await firstPack(page)}/people`)
      await page.getByRole('checkbox', { name: 'Choose all that are shown' }).check()
      await page.getByRole('button', { name: 'Write to them' }).click()
      await expect(page.getByRole('region', { name: 'As it will read' })).toBeVisible()
    },
  },
  {
    name: 'whose a copy is',
    async open(page) {
      await page.goto(`${satchel.url}/hand-out/${await firstPack(page)}/people`)
      await page.getByRole('button', { name: 'Whose copy is this?' }).click()
      await expect(page.getByRole('button', { name: 'Choose files' })).toBeVisible()
    },
  },
  {
    name: 'shops, and one of them',
    async open(page) {
      await page.goto(`${satchel.url}/hand-out/shops`)
      await page.getByRole('button', { name: 'New shop' }).click()
      await page.getByRole('textbox', { name: 'What the shop is called' }).fill('Harbour Corner')
      await page.keyboard.press('Enter')
      await expect(page.getByRole('region', { name: 'Harbour Corner' })).toBeVisible()
    },
  },
  {
    name: 'figures',
    async open(page) {
      await page.goto(`${satchel.url}/hand-out/${await firstPack(page)}/figures`)
      await expect(page.getByRole('region', { name: 'What was fetched', exact: true })).toBeVisible()
    },
  },
  {
    name: 'people to hand out to, one to be mended',
    open: async (page) => {
      await page.goto(`${satchel.url}/hand-out/${await firstPack(page)}/people`)
      await page.getByRole('button', { name: 'Hand out to many' }).click()
      await page.getByRole('textbox', { name: 'People', exact: true }).fill('Ida, ida@\nBo')
      await expect(page.getByText('1 line needs mending')).toBeVisible()
    },
  },
  {
    name: 'cards to print',
    open: async (page) => {
      await page.goto(`${satchel.url}/hand-out/${await firstPack(page)}/cards`)
      await expect(page.getByText(/^\d+ cards?$/)).toBeVisible()
    },
  },
]

test('axe finds nothing serious on any view, in light and in dark', async ({ browser }) => {
  // twice over every view: minutes, where others keep the machine busy
  test.setTimeout(900_000)
  const context = await browser.newContext({ reducedMotion: 'reduce' })
  const page = await context.newPage()
  await page.goto(`${satchel.url}/sign-in`)
  await expect(page.getByRole('heading', { name: 'Sign in' })).toBeVisible()
  expect(await seriousProblems(page), 'sign in').toEqual([])
  await signInToDemo(page, satchel.url)
  for (const view of VIEWS) {
    await view.open(page)
    await showWhole(page, SEEN)
    await fetched(page)
    expect(await seriousProblems(page), view.name).toEqual([])
  }
  await context.close()
})

test('the person’s page has nothing serious either, and works on a small screen', async ({ page, browser }) => {
  await signInToDemo(page, satchel.url)
  const link = await handOutForApps(page, satchel.url, /Kelp/)
  // colours that are on their way to others are neither
  const context = await browser.newContext({ viewport: { width: 390, height: 800 }, reducedMotion: 'reduce' })
  const theirs = await context.newPage()
  await theirs.goto(link)
  await expect(theirs.getByRole('heading', { level: 1, name: 'Wrack' })).toBeVisible()
  expect(await seriousProblems(theirs)).toEqual([])
  await theirs.getByText('Dunlin', { exact: false }).first().click()
  await theirs.getByRole('button', { name: 'It does not work' }).click()
  await expect(theirs.getByLabel('A note to the maker')).toBeVisible()
  expect(await seriousProblems(theirs)).toEqual([])
  await theirs.getByText('I don’t know').first().click()
  await expect(theirs.getByRole('region', { name: 'Three questions' })).toBeVisible()
  expect(await seriousProblems(theirs)).toEqual([])
  await theirs.getByRole('button', { name: 'Kelp edge' }).click()
  await expect(theirs.getByRole('dialog')).toBeVisible()
  expect(await seriousProblems(theirs)).toEqual([])
  await theirs.keyboard.press('Escape')
  await theirs.getByRole('button', { name: 'Try the brushes' }).click()
  await expect(theirs.getByTestId('try-pad')).toHaveAttribute('data-ready', /./)
  expect(await seriousProblems(theirs)).toEqual([])
  expect(await theirs.evaluate(() => document.documentElement.scrollWidth <= window.innerWidth)).toBe(true)
  await context.close()
})

/** The canvas's own pixels; a screenshot would hold the rounding of its frame too. */
