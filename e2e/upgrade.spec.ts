import { type APIRequestContext, expect, type Page, test } from '@playwright/test'
import { wholePlan } from '@satchel/core/editions/plan'
import { seriousProblems } from './axe.ts'
import { makeFirstOwner, openSatchel, type Satchel, signInToDemo, told } from './harness.ts'

let satchel: Satchel
/** The library of a colleague, on a server of its own. */
let other: Satchel
test.beforeAll(async () => {
  ;[satchel, other] = await Promise.all([openSatchel({ demo: true }), openSatchel({ demo: false })])
})
test.afterAll(() => Promise.all([satchel.close(), other.close()]))

type Brush = {
  id: string
  name: string
  version: number
  recipe: { mark: { sizePx: number }; path: { spacingPct: number } }
}

/** The maker's side of it: what is asked of their server by its API. */
class Maker {
  readonly #request: APIRequestContext
  readonly #url: string
  #packId = ''
  #releaseId = ''
  #editionId = ''
  constructor(request: APIRequestContext, url: string) {
    this.#request = request
    this.#url = url
  }
  async #ask<Body>(path: string, data?: unknown, method = data === undefined ? 'GET' : 'POST'): Promise<Body> {
    const answer = await this.#request.fetch(this.#url + path, {
      method,
      headers: { origin: this.#url },
      ...(data === undefined ? {} : { data }),
    })
    expect(answer.ok(), `${method} ${path}`).toBe(true)
    return (await answer.json()) as Body
  }
  async pack(setName: string): Promise<void> {
    const { sets } = await this.#ask<{ sets: { id: string; name: string }[] }>('/api/sets')
    const { id } = await this.#ask<{ id: string }>('/api/packs', {
      ...{ title: 'Weeds of the shore', maker: 'Tidewrack Studio', licence: 'CC-BY-4.0' },
    })
    this.#packId = id
    const setIds = sets.filter(({ name }) => name === setName).map(({ id: set }) => set)
    await this.#ask(`/api/packs/${id}/sets`, { setIds }, 'PUT')
  }
  async tune(name: string, sizePx: number, spacingPct?: number): Promise<void> {
    const { brushes } = await this.#ask<{ brushes: { id: string; name: string }[] }>(
      `/api/brushes?q=${encodeURIComponent(name)}`,
    )
    const found = brushes.find((brush) => brush.name === name)
    const {
      recipe,
      version: from,
      ...rest
    } = await this.#ask<Brush & Record<string, unknown>>(`/api/brushes/${found?.id}`)
    const { maker, licence, tags } = rest
    const path = { ...recipe.path, ...(spacingPct ? { spacingPct } : {}) }
    const tuned = { ...recipe, path, mark: { ...recipe.mark, sizePx } }
    await this.#ask(`/api/brushes/${found?.id}`, { name, maker, licence, tags, recipe: tuned, from }, 'PUT')
  }
  /** An edition of the pack for a class that lasts for years. @returns Where it is cut. */
  async classKit(): Promise<string> {
    const kit = { zone: 'UTC', lessons: [], lastDay: '2031-01-31' }
    const plan = { ...wholePlan(), kit }
    const { id } = await this.#ask<{ id: string }>(`/api/packs/${this.#packId}/editions`, {
      name: 'Evening class',
      plan,
    })
    this.#editionId = id
    return `${this.#url}/hand-out/${this.#packId}/editions/${id}`
  }
  /** What somebody who has the class kit fetches as one file. */
  async fetchKit(): Promise<Buffer> {
    const { link } = await this.#ask<{ link: string }>(`/api/packs/${this.#packId}/hand-outs`, {
      ...{ releaseId: this.#releaseId, editionId: this.#editionId, name: 'A student' },
    })
    const page = `${this.#url}/api/h/${link.split('/').at(-1)}`
    await expect
      .poll(async () => ((await (await this.#request.get(page)).json()) as { files: string }).files)
      .toBe('ready')
    return (await this.#request.get(`${page}/download?as=satchel`)).body()
  }
  /** A release of the pack. @returns Its Satchel pack. */
  async release(version: string): Promise<Buffer> {
    const { id } = await this.#ask<{ id: string }>(`/api/packs/${this.#packId}/releases`, { version, notes: '' })
    await expect
      .poll(async () => {
        const { releases } = await this.#ask<{ releases: { id: string; state: string }[] }>(
          `/api/packs/${this.#packId}`,
        )
        return releases.find((each) => each.id === id)?.state
      })
      .toBe('ready')
    this.#releaseId = id
    const { link } = await this.#ask<{ link: string }>(`/api/packs/${this.#packId}/hand-outs`, {
      releaseId: id,
      name: 'A colleague',
    })
    const answer = await this.#request.get(`${this.#url}/api/h/${link.split('/').at(-1)}/download?as=satchel`)
    return answer.body()
  }
}

/** Lays a file into the ledger and waits until it is read. */
async function gather(page: Page, url: string, name: string, buffer: Buffer): Promise<void> {
  await page.goto(`${url}/gather`)
  await page.getByTestId('choose-files').setInputFiles({ name, mimeType: 'application/zip', buffer })
  await expect(page.getByTestId('ledger-summary')).toBeVisible()
  await expect(page.getByRole('button', { name: /^Take in [1-9]/ })).toBeEnabled()
}

test('a colleague takes a pack in, tunes it, and takes the newer release: theirs, mine, and back again', async ({
  page,
  browser,
}) => {
  test.setTimeout(600_000)
  await signInToDemo(page, satchel.url)
  const maker = new Maker(page.request, satchel.url)
  await maker.pack('Kelp & Wrack')
  const first = await maker.release('1.0.0')
  await maker.tune('Kelp edge', 90, 60)
  await maker.tune('Bladder wrack', 77)
  const second = await maker.release('1.1.0')

  const context = await browser.newContext()
  const theirs = await context.newPage()
  await makeFirstOwner(theirs, other.url)
  await test.step('the pack comes in as a set', async () => {
    await gather(theirs, other.url, 'Weeds 1.0.0.satchel.zip', first)
    await theirs.getByRole('button', { name: /^Take in/ }).click()
    await expect(theirs).toHaveURL(/\/sort$/)
  })
  await test.step('one of its brushes is tuned', async () => {
    const colleague = new Maker(theirs.request, other.url)
    await colleague.tune('Kelp edge', 24)
  })
  await test.step('the newer release says what follows, and what both have changed', async () => {
    await gather(theirs, other.url, 'Weeds 1.1.0.satchel.zip', second)
    const packs = theirs.getByRole('region', { name: 'Packs that you have' })
    await expect(packs).toContainText('Weeds of the shore 1.1.0 (you have 1.0.0)')
    await expect(packs).toContainText('1 newer')
    await expect(packs).toContainText('1 changed in the same place')
    await expect(theirs.getByText('size: yours stays unless you choose theirs')).toBeVisible()
    expect(await seriousProblems(theirs)).toEqual([])
    await packs.getByRole('link', { name: 'Look at 1 brush changed by both' }).click()
    const brush = theirs.getByRole('article', { name: 'Kelp edge' })
    await expect(brush.getByRole('img')).toHaveCount(3)
    await expect(brush.getByText('theirs comes: 60 %')).toBeVisible()
    const mine = brush.getByRole('radio', { name: 'Yours: 24 px' })
    await expect(mine).toBeChecked()
    await expect
      .poll(() =>
        brush.getByRole('img').evaluateAll((all) => all.every((one) => (one as HTMLImageElement).naturalWidth > 0)),
      )
      .toBe(true)
    expect(await seriousProblems(theirs)).toEqual([])
    // by keys alone: to theirs, and to all of mine
    await mine.focus()
    await theirs.keyboard.press('ArrowRight')
    await expect(brush.getByRole('radio', { name: 'Theirs: 90 px' })).toBeChecked()
    await brush.getByText('Yours as it is').click()
    await expect(brush.getByRole('radio', { name: 'Yours as it is' })).toBeChecked()
    await theirs.getByRole('link', { name: 'Gather' }).last().click()
    await expect(theirs.getByText('all of yours stays')).toBeVisible()
  })
  const sizeOf = async (name: string) => {
    const { brushes } = (await (await theirs.request.get(`${other.url}/api/brushes`)).json()) as { brushes: Brush[] }
    const id = brushes.find((brush) => brush.name === name)?.id
    return ((await (await theirs.request.get(`${other.url}/api/brushes/${id}`)).json()) as Brush).recipe.mark.sizePx
  }
  await test.step('taken in, the one follows and the other stays; undone, both are as before', async () => {
    const before = await sizeOf('Bladder wrack')
    await theirs.getByRole('button', { name: 'Take in 2 brushes' }).click()
    const said = theirs.getByRole('listitem').filter({ hasText: 'Taken in: 1 brush brought up to date, 1 brush kept' })
    await expect(said).toBeVisible()
    expect([await sizeOf('Kelp edge'), await sizeOf('Bladder wrack')]).toEqual([24, 77])
    await said.getByRole('button', { name: 'Undo' }).click()
    await expect(told(theirs, 'Taken back: 1 brush is as before.')).toBeVisible()
    expect([await sizeOf('Kelp edge'), await sizeOf('Bladder wrack')]).toEqual([24, before])
  })
  await context.close()
})

test('a class brings a setup card: it is laid out where that is wished, and put back as it was', async ({
  page,
  browser,
}) => {
  test.setTimeout(600_000)
  await signInToDemo(page, satchel.url)
  const maker = new Maker(page.request, satchel.url)
  await maker.pack('Shell Stamps')
  await maker.release('1.0.0')
  await test.step('the card is made with the class kit', async () => {
    await page.goto(await maker.classKit())
    await page.getByRole('radio', { name: 'One of its own, with fixed sizes' }).check()
    await page.getByRole('button', { name: 'Put brushes in' }).click()
    await page.getByLabel('Brushes of the pocket: find').fill('limpet')
    await page.getByRole('checkbox', { name: /^all \d+ brush(es)? found$/ }).check()
    await page.getByRole('button', { name: 'Done' }).click()
    await page.getByRole('checkbox', { name: 'A setup card goes with it' }).check()
    await expect(page.getByRole('checkbox', { name: 'all other sets of theirs' })).toBeChecked()
    await page.getByRole('button', { name: 'Save', exact: true }).click()
    await expect(page.getByText('Nobody has it yet.')).toBeVisible()
    // nothing lies half under the head that stays
    await page.evaluate(() => scrollTo(0, 0))
    expect(await seriousProblems(page)).toEqual([])
  })
  const kit = await maker.fetchKit()
  const context = await browser.newContext()
  const theirs = await context.newPage()
  await theirs.goto(`${other.url}/sign-in`)
  await theirs.getByLabel('E-mail').fill('ida@marsh.example')
  await theirs.getByLabel('Password').fill('samphire-and-salt')
  await theirs.getByRole('button', { name: 'Sign in' }).click()
  await theirs.waitForURL('**/sort')
  const rack = theirs.getByRole('navigation', { name: 'Sets' })
  await expect(rack.getByText('Kelp & Wrack')).toBeVisible()
  await test.step('it is offered beside the brushes, and ticked', async () => {
    await gather(theirs, other.url, 'Evening class.satchel.zip', kit)
    const card = theirs.getByRole('checkbox', { name: /^Set up by the card of/ })
    await expect(card).not.toBeChecked()
    await expect(
      theirs.getByText(/all of your other sets out of sight; put back as it was after 31 January 2031/),
    ).toBeVisible()
    await card.check()
    await expect(card).toBeChecked()
    expect(await seriousProblems(theirs)).toEqual([])
    await theirs.getByRole('button', { name: /^Take in/ }).click()
    await expect(theirs).toHaveURL(/\/sort$/)
  })
  const strip = theirs.getByRole('region', { name: 'Pocket' })
  const setUp = strip.getByRole('button', { name: 'Set up for Weeds of the shore' })
  await test.step('the pocket lies at hand, and other sets are out of sight', async () => {
    await expect(strip.getByText('Limpet').first()).toBeVisible()
    await expect(rack.getByText('Shell Stamps')).toBeVisible()
    await expect(rack.getByText('Kelp & Wrack')).toHaveCount(0)
  })
  await test.step('what putting back does is shown before, and then done', async () => {
    await setUp.click()
    const dialog = theirs.getByRole('dialog', { name: 'How your rack is set up' })
    await expect(dialog.getByText('1 set is shown again: Kelp & Wrack')).toBeVisible()
    expect(await seriousProblems(theirs)).toEqual([])
    await dialog.getByRole('button', { name: 'As it was before Weeds of the shore' }).click()
    await expect(dialog).toHaveCount(0)
    await expect(rack.getByText('Kelp & Wrack')).toBeVisible()
    await expect(setUp).toHaveCount(0)
  })
  await context.close()
})
