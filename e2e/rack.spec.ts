import { expect, type Page, test } from '@playwright/test'
import { openSatchel, type Satchel, settled, signInToDemo, told } from './harness.ts'

let satchel: Satchel
test.beforeAll(async () => {
  satchel = await openSatchel({ demo: true })
})
test.afterAll(() => satchel.close())

const label = (page: Page, name: string) => page.getByTestId(`set ${name}`)
const lines = (page: Page) => page.locator('[role=listbox] [role=option]')
async function more(page: Page, set: string, item: string): Promise<void> {
  await page.getByRole('button', { name: `More for ${set}`, exact: true }).click()
  await page.getByRole('menuitem', { name: item }).click()
}

test('sets are renamed in place, copied, hidden, moved, deleted, and brought back', async ({ page }) => {
  await signInToDemo(page, satchel.url)
  await more(page, 'Ropework', 'Rename')
  await page.getByLabel('New name of Ropework').fill('Ropes and lines')
  await page.keyboard.press('Enter')
  await expect(label(page, 'Ropes and lines')).toContainText('12')

  await more(page, 'Ropes and lines', 'Copy')
  await expect(label(page, 'Ropes and lines copy')).toContainText('12')

  await more(page, 'Chart Inks', 'Hide')
  await expect(label(page, 'Chart Inks')).toHaveCount(0)
  await page.getByRole('button', { name: 'Show 1 hidden' }).click()
  await expect(label(page, 'Chart Inks')).toContainText('hidden')
  await more(page, 'Chart Inks', 'Show again')

  await more(page, 'Shell Stamps', 'Move up')
  const names = () =>
    page
      .getByRole('list', { name: 'Your sets' })
      .locator('[data-testid^="set "]')
      .evaluateAll((sets) => sets.map((set) => set.getAttribute('data-testid')?.slice(4)))
  await expect
    .poll(names)
    .toEqual([
      'Feather & Down',
      'Shell Stamps',
      'Kelp & Wrack',
      'Wet Sand Grains',
      'Ropes and lines',
      'Chart Inks',
      'Ropes and lines copy',
    ])

  await more(page, 'Ropes and lines copy', 'Delete the set')
  await expect(label(page, 'Ropes and lines copy')).toHaveCount(0)
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(label(page, 'Ropes and lines copy')).toContainText('12')
  await page.reload()
  await expect.poll(names).toHaveLength(7)
})

test('sets are put inside one that holds sets, which opens all they hold, is renamed, packed, and let go', async ({
  page,
}) => {
  await signInToDemo(page, satchel.url)
  const put = async (set: string, name: string) => {
    await more(page, set, 'Put inside …')
    await page.getByLabel('Find it, or name a new one').fill(name)
    await page.keyboard.press('Enter')
    await told(page, `"${set}" lies in "${name}" now.`)
  }
  await put('Feather & Down', 'Shoreline')
  await put('Shell Stamps', 'Shoreline')
  const inside = page.getByRole('list', { name: 'Sets inside Shoreline' })
  await expect(inside.getByTestId('set Feather & Down')).toBeVisible()
  await expect(inside.getByTestId('set Shell Stamps')).toBeVisible()

  await page.getByRole('button', { name: /^Shoreline/ }).click()
  await expect(page.getByRole('heading', { level: 1, name: 'Shoreline' })).toBeVisible()
  const count = async (set: string) => Number((await label(page, set).textContent())?.match(/[0-9]+$/)?.[0])
  const both = (await count('Feather & Down')) + (await count('Shell Stamps'))
  await expect(page.getByText(`${both} brushes`, { exact: true })).toBeVisible()

  await more(page, 'Shoreline', 'Rename')
  await page.getByLabel('New name of Shoreline').fill('Tideline')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('heading', { level: 1, name: 'Tideline' })).toBeVisible()
  await page.getByRole('button', { name: 'Sets of Tideline' }).click()
  await expect(label(page, 'Shell Stamps')).toHaveCount(0)
  await page.getByRole('button', { name: 'Sets of Tideline' }).click()

  await more(page, 'Shell Stamps', 'Take out of Tideline')
  await told(page, '"Shell Stamps" lies on the rack.')
  await page
    .getByRole('listitem')
    .filter({ hasText: '"Shell Stamps" lies on the rack.' })
    .getByRole('button', { name: 'Undo' })
    .click()
  await expect(page.getByRole('list', { name: 'Sets inside Tideline' }).getByTestId('set Shell Stamps')).toBeVisible()
  await more(page, 'Tideline', 'Take its 2 sets out')
  await expect(page.getByRole('list', { name: 'Sets inside Tideline' })).toHaveCount(0)
  await expect(page.getByRole('heading', { level: 1, name: 'All brushes' })).toBeVisible()
})

test('brushes are moved between sets, taken out, and tagged, many at once', async ({ page }) => {
  await signInToDemo(page, satchel.url)
  await page
    .getByRole('list', { name: 'Your sets' })
    .getByRole('button', { name: /^Wet Sand Grains/ })
    .click()
  await expect(page.getByText('15 brushes', { exact: true })).toBeVisible()
  await lines(page).nth(0).click()
  await lines(page)
    .nth(2)
    .click({ modifiers: ['Shift'] })
  await expect(page.getByText('3 brushes chosen')).toBeVisible()

  await page.getByRole('button', { name: 'Move to set' }).click()
  await page.getByLabel('Find a set or name a new one').fill('Beach')
  await page.keyboard.press('Enter')
  await expect(label(page, 'Beach')).toContainText('3')
  await expect(label(page, 'Wet Sand Grains')).toContainText('12')

  await page.getByRole('button', { name: 'Choose none' }).click()
  await lines(page).nth(0).click()
  await page.getByRole('button', { name: 'Take out of this set' }).click()
  await expect(label(page, 'Wet Sand Grains')).toContainText('11')
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(label(page, 'Wet Sand Grains')).toContainText('12')

  await page.getByRole('listbox', { name: 'Brushes' }).focus()
  await page.keyboard.press('Control+a')
  await expect(page.getByText('12 brushes chosen')).toBeVisible()
  await page.keyboard.press('t')
  await page.getByLabel('Add tags').fill('beach, low tide')
  const tagged = page.waitForResponse((response) => response.url().endsWith('/api/many') && response.ok())
  await page.getByRole('button', { name: 'Tag 12 brushes' }).click()
  await tagged
  await page.goto(`${satchel.url}/sort?tag=low+tide`)
  await expect(page.getByText('12 brushes', { exact: true })).toBeVisible()
  await page.goto(`${satchel.url}/sort?loose=1`)
  await expect(page.getByRole('heading', { level: 1, name: 'In no set' })).toBeVisible()
})

test('everything is reached by keys and by the list of commands', async ({ page }) => {
  await signInToDemo(page, satchel.url)
  await expect(page.getByRole('listbox', { name: 'Brushes' })).toBeVisible()
  await page.keyboard.press('1')
  await expect(page.getByRole('heading', { level: 1, name: 'Gather' })).toBeVisible()
  await page.keyboard.press('2')
  await expect(page.getByRole('heading', { level: 1, name: 'Make' })).toBeVisible()
  await page.keyboard.press('5')
  await expect(page.getByRole('heading', { level: 1, name: 'Fit' })).toBeVisible()
  await page.keyboard.press('6')
  await expect(page.getByRole('heading', { level: 1, name: 'Hand out' })).toBeVisible()
  await page.keyboard.press('Shift+?')
  await expect(page.getByRole('dialog', { name: 'All keys' })).toBeVisible()
  await page.keyboard.press('Escape')
  await page.keyboard.press('Control+k')
  await page.getByLabel('Type a command or a brush').fill('rope')
  await page.getByRole('option', { name: 'All brushes with "rope"' }).click()
  await expect(page).toHaveURL(/q=rope/)
  await page.keyboard.press('Control+k')
  await page.getByLabel('Type a command or a brush').fill('kelp')
  await expect(page.getByRole('option', { name: /^Kelp & Wrack/ })).toBeVisible() // a set
  await page.getByLabel('Type a command or a brush').fill('saltmarsh')
  await expect(page.getByRole('option', { name: 'Saltmarsh Sketching' })).toBeVisible() // a pack
  await page.getByLabel('Type a command or a brush').fill('theme')
  await expect(page.getByRole('option', { name: 'Use the dark theme' })).toBeVisible() // a setting
  await page.getByLabel('Type a command or a brush').fill('twine')
  await expect(page.getByRole('option', { name: /^Twine/ })).toHaveAttribute('aria-selected', 'true')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('heading', { level: 1, name: 'Twine' })).toBeVisible()
  await settled(page.getByTestId('paint-area'))
  await page.keyboard.press('Alt+ArrowUp')
  await expect(page.getByLabel('Size, px').first()).toHaveValue('24')
})

test('a narrow screen folds the band and the rack, and nothing runs over', async ({ browser }) => {
  const context = await browser.newContext({ viewport: { width: 800, height: 900 }, hasTouch: true })
  const page = await context.newPage()
  await signInToDemo(page, satchel.url)
  await page.getByLabel('Set', { exact: true }).selectOption({ label: 'Shell Stamps (11)' })
  await expect(page.getByText('11 brushes', { exact: true })).toBeVisible()
  const stages = [
    { item: 'Gather', path: /\/gather/ },
    { item: 'Make', path: /\/make/ },
    { item: 'Tune', path: /\/tune/ },
    { item: 'Fit', path: /\/fit/ },
    { item: 'Hand out (3 out)', path: /\/hand-out/ },
  ]
  for (const { item, path } of stages) {
    await page.getByRole('button', { name: 'Stages' }).click()
    await page.getByRole('menuitem', { name: item }).click()
    await expect(page).toHaveURL(path)
    await expect(page.getByRole('heading', { level: 1 })).toBeVisible()
    // what is still on its way may lie in the place of what will be there
    const fits = () => page.evaluate(() => document.documentElement.scrollWidth <= window.innerWidth)
    await expect.poll(fits, item).toBe(true)
  }
  await context.close()
})

test('the theme is chosen by hand and kept', async ({ page }) => {
  await signInToDemo(page, satchel.url)
  await page.getByRole('button', { name: 'Use the dark theme' }).click()
  await expect(page.locator('html')).toHaveAttribute('data-theme', 'dark')
  await page.reload()
  await expect(page.locator('html')).toHaveAttribute('data-theme', 'dark')
  await page.getByRole('button', { name: 'Account of Maren Sandholt' }).click()
  await page.getByRole('button', { name: 'Sign out' }).click()
  await page.waitForURL('**/sign-in')
  await page.goto(`${satchel.url}/hand-out`)
  await expect(page).toHaveURL(/sign-in\?then=%2Fhand-out/)
})
