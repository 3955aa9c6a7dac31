import { expect, type Page, test } from '@playwright/test'
import pg from 'pg'
import { openSatchel, type Satchel, signInToDemo, told } from './harness.ts'

let satchel: Satchel
test.beforeAll(async () => {
  satchel = await openSatchel({ demo: true })
})
test.afterAll(() => satchel.close())

const brushNamed = async (page: Page, name: string) => {
  const brush = (await brushesNamed(page, name)).find((each) => each.name === name)
  if (!brush) throw new Error(`the demo has no ${name}`)
  return brush
}
const brushesNamed = async (page: Page, q: string) => {
  const { brushes } = await (await page.request.get(`${satchel.url}/api/brushes?q=${encodeURIComponent(q)}`)).json()
  return brushes as { id: string; name: string; sizePx: number }[]
}
const post = async (page: Page, path: string, data: object) =>
  (await page.request.post(`${satchel.url}${path}`, { data, headers: { origin: satchel.url } })).json()

test('a brush that is there twice is found, kept once wherever it stood, and that is taken back', async ({ page }) => {
  await signInToDemo(page, satchel.url)
  const down = await brushNamed(page, 'Down soft')
  const { id } = await post(page, `/api/brushes/${down.id}/copy`, { name: 'Down again' })
  const set = await post(page, '/api/sets', { name: 'Old folder' })
  await post(page, `/api/sets/${set.id}/brushes`, { ids: [id] })

  await page.goto(`${satchel.url}/sort`)
  await page.getByRole('link', { name: 'Same marks' }).click()
  await expect(page.getByRole('heading', { level: 1, name: 'Same marks' })).toBeVisible()
  await page
    .getByRole('navigation', { name: 'Kinds of same marks' })
    .getByRole('link', { name: /^The same in all [1-9]/ })
    .click()
  const group = page.getByRole('article').filter({ hasText: 'Down again' })
  await expect(group).toContainText('The same in all but its name')
  await expect(group).toContainText('In the set Old folder')
  await expect(group.getByRole('checkbox', { name: 'Down again goes' })).toBeChecked()
  // which one is kept is the curator's choice
  await group.getByRole('radio', { name: 'Keep Down again' }).check()
  await expect(group.getByRole('checkbox', { name: 'Down soft goes' })).toBeChecked()
  await group.getByRole('checkbox', { name: 'Down soft goes' }).uncheck()
  await expect(group.getByText('Say which of them goes')).toBeVisible()
  await group.getByRole('radio', { name: 'Keep Down soft' }).check()
  await group.getByRole('button', { name: 'Keep “Down soft” instead of “Down again”' }).click()
  await expect(told(page, 'One brush was kept instead of another one.')).toBeVisible()
  await expect(group).toHaveCount(0)
  const inSet = async () =>
    (await (await page.request.get(`${satchel.url}/api/brushes?setId=${set.id}`)).json()).brushes
  expect((await inSet()).map(({ name }: { name: string }) => name)).toEqual(['Down soft'])

  // long after the message is gone it is taken back from the list of what was done
  await page.reload()
  await page.getByRole('button', { name: 'Done lately' }).click()
  const done = page.getByRole('dialog', { name: 'Done lately' })
  await done.getByRole('button', { name: 'Take back' }).first().click()
  await expect(told(page, 'All of it is as it was before.')).toBeVisible()
  expect((await inSet()).map(({ name }: { name: string }) => name)).toEqual(['Down again'])
})

test('a thousand brushes are changed at once, shown before, and all of them are taken back', async ({ page }) => {
  const database = new pg.Client({ connectionString: satchel.databaseUrl })
  await database.connect()
  await database.query(`
    with one as (select b.*, v.snapshot from brush b join brush_version v on v.brush_id = b.id and v.ordinal = b.version
      where b.name = 'Kelp edge' limit 1),
    many as (insert into brush (workspace_id, name, maker, licence, tags, tip_id, reading, behaviour, size_px, frames, search_text)
      select workspace_id, 'Wave ' || n, maker, licence, tags, tip_id, reading, behaviour, size_px, frames, 'wave ' || n
      from one, generate_series(1, 1000) n returning id, workspace_id, name)
    insert into brush_version (workspace_id, brush_id, ordinal, snapshot)
    select many.workspace_id, many.id, 1, one.snapshot || jsonb_build_object('name', many.name) from many, one`)
  await database.end()
  await signInToDemo(page, satchel.url)
  const kelp = await brushNamed(page, 'Kelp edge')
  await page.goto(`${satchel.url}/sort?q=wave`)
  await expect(page.getByText('1,000 brushes', { exact: true })).toBeVisible()
  await page.getByRole('listbox', { name: 'Brushes' }).focus()
  await page.keyboard.press('Control+a')
  await expect(page.getByText('1,000 brushes chosen')).toBeVisible()
  await page.getByRole('button', { name: 'Change', exact: true }).click()
  const dialog = page.getByRole('dialog', { name: 'Change 1,000 brushes' })
  await dialog.getByLabel('What changes').selectOption({ label: 'Spacing' })
  await dialog.getByLabel('Value, %').fill('180')
  const strokes = dialog.getByRole('region', { name: 'Strokes that change most' })
  await expect(strokes.getByRole('img', { name: /then$/ })).toHaveCount(6)
  await dialog.getByLabel('What changes').selectOption({ label: 'Size' })
  await dialog.getByText('times', { exact: true }).click()
  await dialog.getByLabel('Factor').fill('1.5')
  await expect(dialog.getByRole('region', { name: 'Sizes that change most' })).toContainText('90 px')
  await expect(dialog.getByText('1,000 brushes change', { exact: true })).toBeVisible()
  await dialog.getByRole('button', { name: 'Change 1,000 brushes' }).click()
  await expect(told(page, '1,000 brushes: size times 1.5.')).toBeVisible()
  await expect(dialog).toHaveCount(0)
  const sizes = async () => new Set((await brushesNamed(page, 'wave')).map(({ sizePx }) => sizePx))
  expect(await sizes()).toEqual(new Set([kelp.sizePx * 1.5]))
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(told(page, 'All of it is as it was before.')).toBeVisible()
  expect(await sizes()).toEqual(new Set([kelp.sizePx]))
})

test('a search by what brushes are is kept, fills itself, and is frozen as a set', async ({ page }) => {
  await signInToDemo(page, satchel.url)
  await page.getByRole('button', { name: 'More', exact: true }).click()
  const more = page.getByRole('dialog', { name: 'Find by more' })
  await more.getByRole('checkbox', { name: 'takes paint away' }).check()
  await expect(more.getByText(/^\d+ brush(es)? found\.$/)).toBeVisible()
  await more.getByLabel('Keep this search as').fill('Erasers')
  await more.getByRole('button', { name: 'Keep it' }).click()
  await expect(more).toHaveCount(0)
  await expect(page.getByRole('heading', { level: 1, name: 'Erasers' })).toBeVisible()
  const kept = page.getByTestId('kept Erasers')
  const { count } = await (await page.request.get(`${satchel.url}/api/brushes/count?is=erases`)).json()
  await expect(kept).toContainText(String(count))

  // it fills itself with what comes to be like that
  const down = await brushNamed(page, 'Kelp edge')
  const whole = await (await page.request.get(`${satchel.url}/api/brushes/${down.id}`)).json()
  const { name, maker, licence, tags, recipe, version } = whole
  await page.request.put(`${satchel.url}/api/brushes/${down.id}`, {
    data: {
      name,
      maker,
      licence,
      tags,
      recipe: { ...recipe, colour: { ...recipe.colour, behaviour: 'erase' } },
      from: version,
    },
    headers: { origin: satchel.url },
  })
  await expect(kept).toContainText(String(count + 1))
  await page
    .getByRole('navigation', { name: 'Sets' })
    .getByRole('button', { name: /^All brushes/ })
    .click()
  await expect(page.getByRole('heading', { level: 1, name: 'All brushes' })).toBeVisible()
  await kept.getByRole('link').click()
  await expect(page.getByRole('heading', { level: 1, name: 'Erasers' })).toBeVisible()
  await expect(page.getByRole('option', { name: /^Kelp edge/ })).toBeVisible()

  await kept.getByRole('button', { name: 'More for Erasers' }).click()
  await page.getByRole('menuitem', { name: 'Make a set of it as it is now' }).click()
  await expect(page.getByTestId('set Erasers')).toContainText(String(count + 1))
})

test('what looks like a drawing, and like a brush, is found; lists go by how strokes look', async ({ page }) => {
  await signInToDemo(page, satchel.url)
  const unmeasured = async () => (await (await page.request.get(`${satchel.url}/api/looks`)).json()).unmeasured
  await expect.poll(unmeasured).toBe(0)
  await page.getByLabel('Order', { exact: true }).selectOption('Smooth to rough')
  const order = (await (await page.request.get(`${satchel.url}/api/brushes?sort=roughness&limit=2`)).json()).brushes
  await expect(page.locator('[role=listbox] [role=option]').first()).toContainText(order[0].name)

  await page.goto(`${satchel.url}/sort/looks-like`)
  const pad = await page.getByTestId('pen-area').boundingBox()
  if (!pad) throw new Error('nothing to draw on')
  // a wheel: a ring around a dot
  const at = (turn: number) => [pad.x + pad.width * (0.5 + 0.35 * Math.cos(turn)), pad.y + pad.height * (0.5 + 0.35 * Math.sin(turn))] as const // biome-ignore format: one line
  await page.mouse.move(...at(0))
  await page.mouse.down()
  for (let step = 1; step <= 24; step++) await page.mouse.move(...at((step * Math.PI) / 12))
  await page.mouse.up()
  const found = page.getByRole('region', { name: 'Brushes that look like it' })
  await expect(found.getByRole('listitem').first()).toBeVisible()
  const likes = await found.getByRole('listitem').locator('.measure').allTextContents()
  expect(likes.map(Number)).toEqual(likes.map(Number).sort((a, b) => b - a))

  // a brush of the library, by its stroke
  const kelp = await brushNamed(page, 'Sugar kelp')
  await post(page, `/api/brushes/${kelp.id}/copy`, { name: 'Twin of it' })
  await page.goto(`${satchel.url}/sort?q=Sugar`)
  await page.locator('[role=listbox] [role=option]').filter({ hasText: 'Sugar kelp' }).click()
  await page.getByRole('link', { name: 'Looks like' }).click()
  await expect.poll(unmeasured).toBe(0)
  await page.getByText('Strokes', { exact: true }).click()
  await expect(found.getByRole('listitem').first()).toContainText('Twin of it')
  await page.getByLabel('At least as like, of 100').fill('95')
  await page.getByRole('button', { name: 'Make a set of it' }).click()
  await expect(told(page, '1 brush put into the new set "Like Sugar kelp".')).toBeVisible()
  await page.getByRole('button', { name: 'Undo' }).click()
  await page.goto(`${satchel.url}/sort`)
  await expect(page.getByTestId('set Like Sugar kelp')).toHaveCount(0)
})

test('a set has a note and a mark, is laid beside another one, merged into it, and found by typing', async ({
  page,
}) => {
  await signInToDemo(page, satchel.url)
  const [kelp, rope] = [await brushNamed(page, 'Sugar kelp'), await brushNamed(page, 'Twine')]
  const { sets } = await (await page.request.get(`${satchel.url}/api/sets`)).json()
  const ropework = (sets as { id: string; name: string }[]).find(({ name }) => name === 'Ropework')
  const old = await post(page, '/api/sets', { name: 'Old ropes' })
  await post(page, `/api/sets/${old.id}/brushes`, { ids: [kelp.id, rope.id] })
  await post(page, `/api/sets/${ropework?.id}/brushes`, { ids: [rope.id] })
  const count = async () => (await (await page.request.get(`${satchel.url}/api/brushes/count?setId=${ropework?.id}`)).json()).count // biome-ignore format: one line
  const before = await count()

  await page.goto(`${satchel.url}/sort?setId=${old.id}&sort=set`)
  const choose = async (item: string) => {
    await page.getByRole('button', { name: 'More for Old ropes' }).click()
    await page.getByRole('menuitem', { name: item }).click()
  }
  await choose('Note and mark')
  const about = page.getByRole('dialog', { name: 'About Old ropes' })
  await about.getByLabel('Note').fill('Drawn in the harbour')
  await about.getByTitle('a twist of rope').click()
  await about.getByRole('button', { name: 'Save' }).click()
  await expect(about).toHaveCount(0)
  await expect(page.getByText('Drawn in the harbour', { exact: true })).toBeVisible()
  await expect(page.getByTestId('set Old ropes').locator('[data-mark="a twist of rope"]')).toBeVisible()

  await choose('Compare with …')
  await page.getByRole('combobox', { name: 'Find a set' }).fill('ropew')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('heading', { level: 1, name: 'Two sets' })).toBeVisible()
  await expect(page.getByRole('region', { name: 'In both' })).toContainText('Twine')
  const only = page.getByRole('region', { name: 'Only in Old ropes' })
  await expect(only).toContainText('Sugar kelp')

  await page.goto(`${satchel.url}/sort?setId=${old.id}&sort=set`)
  await choose('Merge into …')
  await page.getByRole('combobox', { name: 'Find a set' }).fill('ropew')
  await page.keyboard.press('Enter')
  await expect(told(page, '"Old ropes" is part of "Ropework" now.')).toBeVisible()
  await expect(page.getByRole('heading', { level: 1, name: 'Ropework' })).toBeVisible()
  await expect(page.getByTestId('set Old ropes')).toHaveCount(0)
  expect(await count()).toBe(before + 1)
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(page.getByTestId('set Old ropes')).toBeVisible()
  await expect.poll(count).toBe(before)

  for (let n = 1; n <= 12; n++) await post(page, '/api/sets', { name: `Drawer ${n}` })
  await page.getByRole('searchbox', { name: 'Find a set' }).fill('old r')
  await expect(page.getByTestId('set Drawer 1')).toHaveCount(0)
  await expect(page.getByTestId('set Old ropes')).toBeVisible()
  await page.keyboard.press('Enter')
  await expect(page.getByRole('heading', { level: 1, name: 'Old ropes' })).toBeVisible()
})
