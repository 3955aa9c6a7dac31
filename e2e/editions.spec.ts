import { execFileSync } from 'node:child_process'
import { expect, type Locator, type Page, test } from '@playwright/test'
import { openSatchel, type Satchel, signInToDemo } from './harness.ts'

let satchel: Satchel
test.beforeAll(async () => {
  satchel = await openSatchel({ demo: true })
})
test.afterAll(() => satchel.close())

test('a class kit is made, looked at ahead, handed out; a lesson opens and closes before a student’s eyes; the term ends', async ({
  page,
  context,
  browser,
}) => {
  // downloads are built three times, each with a printed sheet
  test.setTimeout(900_000)
  await signInToDemo(page, satchel.url)
  await page.goto(`${satchel.url}/hand-out`)
  await page.getByRole('link', { name: 'Saltmarsh Sketching' }).first().click()
  await page.getByRole('link', { name: 'Editions' }).click()

  await test.step('two lessons, of which the second holds three brushes, and a day that ends it', async () => {
    await page.getByRole('button', { name: 'New class kit' }).click()
    await page.getByLabel('Name', { exact: true }).fill('Shoreline Sketching, winter')
    await page.getByLabel('Days and times are those of').selectOption('Europe/Amsterdam')
    await page.getByRole('button', { name: 'Add a lesson' }).click()
    await page.getByRole('button', { name: 'Add a lesson' }).click()
    await page.getByLabel('Title of lesson 2').fill('Kelp in wind')
    await page.getByRole('button', { name: 'Brushes of Kelp in wind: 0' }).click()
    await page.getByLabel('Brushes of this lesson: find').fill('kelp edge')
    await page.getByRole('checkbox', { name: 'all 1 brush found' }).check()
    await page.getByLabel('Brushes of this lesson: find').fill('plume')
    await page.getByRole('checkbox', { name: 'all 1 brush found' }).check()
    await page.getByRole('button', { name: 'Done' }).click()
    await expect(page.getByRole('button', { name: 'Brushes of Kelp in wind: 2' })).toBeVisible()
    // one brush is in no lesson, and for nobody
    await page.getByLabel('Brushes of this edition: find').fill('down wisps')
    await page.getByRole('checkbox', { name: 'all 1 brush found' }).uncheck()
    await expect(page.getByText('Left out: Down wisps.')).toBeVisible()
    await page.getByRole('button', { name: 'Save', exact: true }).click()
    await expect(page.getByText('Nobody has it yet.')).toBeVisible()
  })

  await test.step('it is seen as its people will see it, now and when the lesson has opened', async () => {
    const look = async (moment: string) => {
      await page.getByRole('button', { name: 'See it as they will' }).click()
      const [opened] = await Promise.all([
        context.waitForEvent('page'),
        page.getByRole('menuitem', { name: moment }).click(),
      ])
      await expect(opened.getByText('This is how it looks to them')).toBeVisible()
      return opened
    }
    const now = await look('As it is now')
    await expect(now.getByText('Kelp edge')).toHaveCount(0)
    await expect(now.getByText('Kelp in wind')).toBeVisible()
    await now.close()
    const later = await look('When "Kelp in wind" has opened')
    await expect(later.getByRole('button', { name: 'Kelp edge', exact: true }).first()).toBeVisible()
    await expect(later.getByText('Down wisps')).toHaveCount(0)
    await later.close()
  })

  const edition = page.url()
  const link = await test.step('a student is given it', async () => {
    await page.getByRole('link', { name: 'Editions of Saltmarsh Sketching' }).click()
    await expect(page.getByText('33 of 34 brushes. A class: 0 of 2 lessons opened.')).toBeVisible()
    await page.getByRole('link', { name: 'Saltmarsh Sketching', exact: true }).click()
    await page.getByRole('button', { name: 'Hand out 1.0.0' }).click()
    await page.getByLabel('For whom').fill('Wilke Zand')
    await page.getByLabel('What of it').selectOption({ label: 'Shoreline Sketching, winter (class kit)' })
    await page.getByRole('button', { name: 'Make the link' }).click()
    return (await page.getByTestId('hand-out-link').textContent()) ?? ''
  })

  const phone = await browser.newContext({
    ...{ viewport: { width: 390, height: 844 }, hasTouch: true, isMobile: true, timezoneId: 'America/New_York' },
  })
  const theirs = await phone.newPage()
  await test.step('the student sees what comes when, and fetches what is open', async () => {
    await theirs.goto(link)
    const lessons = theirs.getByRole('region', { name: 'Shoreline Sketching, winter' })
    await expect(lessons.getByText('to come')).toHaveCount(2)
    await expect(lessons.getByText('where you are').first()).toBeVisible()
    await expect(theirs.getByText('Kelp edge')).toHaveCount(0)
    const all = theirs.getByRole('link', { name: /Download all 31 brushes/ })
    await expect(all).toBeVisible()
    const [download] = await Promise.all([theirs.waitForEvent('download'), all.click()])
    const names = execFileSync('unzip', ['-Z1', await download.path()], { encoding: 'utf8' })
    expect(names).toContain('Down soft.png')
    expect(names).not.toMatch(/Kelp edge|Plume|Down wisps/)
    expect(await theirs.evaluate(() => document.documentElement.scrollWidth <= innerWidth)).toBe(true)
  })

  await test.step('the teacher opens the lesson by hand, and the page that is open shows it', async () => {
    await page.goto(edition)
    const second = page.getByRole('listitem').filter({ has: page.getByLabel('Title of lesson 2') })
    await second.getByRole('button', { name: 'Open it now' }).click()
    await expect(second.getByText('● open')).toBeVisible()
    await page.getByRole('button', { name: 'Save', exact: true }).click()
    await expect(page.getByText('1 link gives it.')).toBeVisible()
    await theirs.reload()
    await expect(theirs.getByText('Opened since you fetched something last: Kelp in wind.')).toBeVisible()
    const all = theirs.getByRole('link', { name: /Download all 33 brushes/ })
    await expect(theirs.getByText('The files are being put together.')).toBeVisible()
    await expect(all).toBeVisible()
    await theirs.getByRole('button', { name: 'Kelp edge', exact: true }).first().click()
    await expect(theirs.getByRole('dialog')).toBeVisible()
  })

  await test.step('the same for the next term, and the end of this one, which is undone', async () => {
    await page.getByRole('link', { name: 'Editions of Saltmarsh Sketching' }).click()
    const line = page.getByRole('list', { name: 'Editions' }).getByRole('listitem').first()
    await line.getByRole('button', { name: /^More for/ }).click()
    await page.getByRole('menuitem', { name: 'The same for the next term' }).click()
    await page.getByLabel('First lesson on').fill('2027-03-22')
    await page.getByRole('button', { name: 'Make the kit' }).click()
    await expect(page.getByRole('heading', { name: 'Shoreline Sketching, winter, next term' })).toBeVisible()
    const days = page.getByLabel('Day', { exact: true })
    expect([await days.nth(0).inputValue(), await days.nth(1).inputValue()].sort()[0]).toBe('2027-03-22')
    await page.getByRole('link', { name: 'Editions of Saltmarsh Sketching' }).click()
    await page.getByRole('button', { name: 'More for Shoreline Sketching, winter', exact: true }).click()
    await page.getByRole('menuitem', { name: 'End the class' }).click()
    await expect(
      page.getByText('The links of "Shoreline Sketching, winter" have ended.', { exact: true }),
    ).toBeVisible()
    await theirs.goto(link)
    await expect(theirs.getByRole('alert')).toContainText('has ended')
    const said = page.getByRole('listitem').filter({ hasText: 'have ended.' })
    await said.getByRole('button', { name: 'Undo' }).click()
    await expect
      .poll(async () => {
        await theirs.goto(link)
        return theirs.getByText('For Wilke Zand').count()
      })
      .toBe(1)
  })
  await test.step('who is signed in here takes it into their library', async () => {
    await expect(theirs.getByRole('button', { name: 'Take into my library' })).toHaveCount(0)
    await page.goto(link)
    await page.getByRole('button', { name: 'Take into my library' }).click()
    await expect(page).toHaveURL(/\/gather$/)
    await expect(page.getByText('Saltmarsh Sketching 1.0.0.satchel.zip').first()).toBeVisible()
  })
  await phone.close()
})

/** Goes to something as who has no mouse does: from where the focus is, key by key. */
async function reach(page: Page, wanted: Locator, key = 'Tab'): Promise<void> {
  const MOST = 160
  // what cannot be pressed yet is passed over
  await expect(wanted).toBeEnabled()
  for (let n = 0; n < MOST; n++) {
    if (await wanted.evaluate((element) => element === document.activeElement)) return
    await page.keyboard.press(key)
  }
  throw new Error(`${wanted} is not reached by ${key}`)
}

test('the whole of a class by keys alone: the kit, its lesson, three people, a card, and the end', async ({ page }) => {
  test.setTimeout(600_000)
  await signInToDemo(page, satchel.url)
  const press = async (wanted: Locator, key = 'Enter') => {
    await reach(page, wanted)
    await page.keyboard.press(key)
  }
  const type = async (wanted: Locator, text: string) => {
    await reach(page, wanted)
    await page.keyboard.press('ControlOrMeta+a')
    await page.keyboard.type(text)
  }
  const button = (name: string | RegExp) => page.getByRole('button', { name, exact: true })
  const goTo = async (stage: string, key: string) => {
    await page.getByRole('heading', { level: 1 }).waitFor()
    // a key that is pressed before the page listens is lost on nobody: it is pressed again
    await expect(async () => {
      await page.keyboard.press(key)
      await expect(page.getByRole('heading', { level: 1, name: stage })).toBeVisible({ timeout: 3000 })
    }).toPass()
  }
  await goTo('Hand out', '6')
  await press(page.getByRole('link', { name: 'Saltmarsh Sketching' }).first())
  await press(page.getByRole('link', { name: 'Editions' }))
  await press(button('New class kit'))
  await type(page.getByLabel('Name', { exact: true }), 'By keys')
  await press(button('Add a lesson'))
  await type(page.getByLabel('Title of lesson 1'), 'Kelp')
  await press(button(/^Brushes of Kelp: 0/))
  await type(page.getByLabel('Brushes of this lesson: find'), 'kelp edge')
  await press(page.getByRole('checkbox', { name: 'all 1 brush found' }), 'Space')
  await press(button('Done'))
  await expect(button(/^Brushes of Kelp: 1/)).toBeVisible()
  // what was pressed has the focus again
  await reach(page, button('Save'), 'Tab')
  await page.keyboard.press('Enter')
  await expect(page.getByText('Nobody has it yet.')).toBeVisible()

  await goTo('Hand out', '6')
  await press(page.getByRole('link', { name: 'Saltmarsh Sketching' }).first())
  await press(page.getByRole('link', { name: /^People/ }))
  await press(button('Hand out to many'))
  await type(page.getByRole('textbox', { name: 'People', exact: true }), 'Isle Quickreed\nFenn Merrow\nHale Saltgrass')
  await reach(page, page.getByLabel('What of it'))
  await page.keyboard.type('By keys')
  await expect(page.getByLabel('What of it').locator('option:checked')).toHaveText('By keys (class kit)')
  await press(button('Make 3 links'))
  await expect(page.getByText('3 chosen')).toBeVisible()
  const list = page.getByRole('list', { name: 'Hand-outs' }).getByRole('listitem')
  await expect(list.filter({ hasText: 'By keys' })).toHaveCount(3)
  await press(button('Cards to print'))
  await expect(page.getByText('3 cards')).toBeVisible()
  // a page to print, with a way back
  await press(page.getByRole('link', { name: 'People' }))

  await goTo('Hand out', '6')
  await press(page.getByRole('link', { name: 'Saltmarsh Sketching' }).first())
  await press(page.getByRole('link', { name: 'Editions' }))
  const kit = page.getByRole('listitem').filter({ has: page.getByRole('link', { name: 'By keys' }) })
  await press(button('More for By keys'))
  await reach(page, page.getByRole('menuitem', { name: 'End the class' }), 'ArrowDown')
  await page.keyboard.press('Enter')
  await expect(page.getByText('The links of "By keys" have ended.', { exact: true })).toBeVisible()
  await press(button('Undo'))
  await expect(kit).toContainText('3')
})
