import { expect, test } from '@playwright/test'
import { openSatchel, type Satchel, signInToDemo } from './harness.ts'

const BUILT = { timeout: 240_000 }

let satchel: Satchel
test.beforeAll(async () => {
  satchel = await openSatchel({ demo: true })
})
test.afterAll(() => satchel.close())

test('a pack is composed, checked, mended, released, changed, told apart, released anew and recalled', async ({
  page,
}) => {
  await signInToDemo(page, satchel.url)
  const headers = { origin: satchel.url }
  const api = async (path: string) => (await page.request.get(`${satchel.url}/api/${path}`)).json()

  await test.step('it is composed of sets in an order and of a single brush', async () => {
    await page.goto(`${satchel.url}/hand-out`)
    await page.getByRole('button', { name: 'New pack' }).first().click()
    await page.getByLabel('Title').fill('Harbour')
    await page.getByRole('button', { name: 'Make the pack' }).click()
    await page.getByRole('button', { name: /^Add the set Ropework,/ }).click()
    await page.getByRole('button', { name: /^Add the set Shell Stamps,/ }).click()
    const sets = page.getByRole('list', { name: 'Sets, in this order' }).getByRole('listitem')
    await expect(sets).toHaveText([/^Ropework/, /^Shell Stamps/])
    await page.getByRole('button', { name: 'Shell Stamps: earlier' }).click()
    await expect(sets).toHaveText([/^Shell Stamps/, /^Ropework/])
    await page.getByLabel('Add a single brush').fill('kelp edge')
    await page.getByRole('button', { name: /^Add the brush Kelp edge,/ }).click()
    await expect(page.getByRole('list', { name: 'Single brushes, in this order' })).toContainText('Kelp edge')
    await expect(page.getByTestId('pack-count')).toContainText('1 of them single, the others of 2 sets')
    await page.getByRole('link', { name: 'All of them, and a note on each' }).click()
    await page.getByLabel('Note on Kelp edge').fill('Draw it in one go.')
    const saved = page.waitForResponse((response) => response.url().includes('/notes/') && response.ok())
    await page.getByLabel('Note on Kelp edge').blur()
    await saved
    await page.reload()
    await expect(page.getByLabel('Note on Kelp edge')).toHaveValue('Draw it in one go.')
  })

  const { packs } = await api('packs')
  const packId = packs.find(({ title }: { title: string }) => title === 'Harbour').id
  const pack = () => api(`packs/${packId}`)

  await test.step('its check list is looked through, a kind mended and undone, one let pass', async () => {
    // two brushes whose maker nobody names, and a licence that forbids what the pack allows
    const { brushes } = await api(`packs/${packId}/brushes`)
    const change = async (id: string, to: object) => {
      const { name, maker, licence, tags, recipe, version } = await api(`brushes/${id}`)
      const data = { name, maker, licence, tags, recipe, ...to, from: version }
      expect((await page.request.put(`${satchel.url}/api/brushes/${id}`, { headers, data })).ok()).toBe(true)
    }
    await change(brushes[1].id, { maker: '' })
    await change(brushes[2].id, { maker: '' })
    await change(brushes[3].id, { licence: 'CC-BY-NC-4.0' })
    await page.goto(`${satchel.url}/hand-out/${packId}/check`)
    await page.getByRole('button', { name: 'Look at what is left' }).click()
    await expect(page.getByRole('button', { name: 'Look at what is left' })).toBeHidden(BUILT)
    await expect(page.getByText('Looking at pixels')).toBeHidden(BUILT)
    const makers = page.getByRole('article', { name: 'Brushes without a maker' })
    await expect(makers.getByText('Nobody is named as its maker.')).toHaveCount(2)
    await makers.getByRole('button', { name: 'Take the maker of the pack: all 2' }).click()
    await expect(makers).toBeHidden()
    await page.getByRole('button', { name: 'Undo' }).click()
    await expect(makers.getByText('Nobody is named as its maker.')).toHaveCount(2)
    const licences = page.getByRole('article', { name: 'Licences that do not go together' })
    await licences.getByRole('button', { name: 'Let pass' }).click()
    await page.getByLabel('Why it is right as it is').fill('The maker allows it; her letter is in the studio.')
    await page.getByRole('button', { name: 'Let it pass' }).click()
    await expect(licences.getByText('Let pass: The maker allows it')).toBeVisible()
  })

  await test.step('it is released, changed, and what changed is shown with its strokes', async () => {
    await page.goto(`${satchel.url}/hand-out/${packId}`)
    await page.getByRole('button', { name: /^Release \d+ brushes/ }).click()
    await expect(page.getByLabel('Version')).toHaveValue('1.0.0')
    await page.getByRole('button', { name: 'Release it' }).click()
    await expect(page.getByRole('button', { name: 'Hand out 1.0.0' })).toBeVisible(BUILT)
    const first = await pack()
    expect(first.releases[0].letPass).toMatchObject([{ reason: 'The maker allows it; her letter is in the studio.' }])
    const { brushes } = await api(`packs/${packId}/brushes`)
    const { name, maker, licence, tags, recipe, version } = await api(`brushes/${brushes[0].id}`)
    const larger = { ...recipe, mark: { ...recipe.mark, sizePx: 150 } }
    const data = { name, maker, licence, tags, recipe: larger, from: version }
    expect((await page.request.put(`${satchel.url}/api/brushes/${brushes[0].id}`, { headers, data })).ok()).toBe(true)
    await page.getByRole('button', { name: 'Take Ropework out of the pack' }).click()
    await expect(page.getByRole('button', { name: /^Add the set Ropework,/ })).toBeVisible()
    await page.getByRole('link', { name: 'What changed until now' }).click()
    await expect(page.getByRole('region', { name: 'Gone' })).toBeVisible()
    await page
      .getByRole('region', { name: 'Changed' })
      .getByRole('button', { name: /^Kelp edge/ })
      .click()
    for (const word of ['before', 'after', 'where they differ'])
      await expect(page.getByRole('img', { name: `Strokes of Kelp edge: ${word}` })).toHaveJSProperty('complete', true)
    await expect(page.getByText('150 px')).toBeVisible()
  })

  await test.step('the next one is proposed by what is gone, and the first is recalled', async () => {
    await page.goto(`${satchel.url}/hand-out/${packId}`)
    await page.getByRole('button', { name: /^Release \d+ brushes/ }).click()
    await expect(page.getByLabel('Version')).toHaveValue('2.0.0')
    await expect(page.getByText('something is gone or renamed')).toBeVisible()
    await expect(page.getByLabel('What is new')).toHaveValue(/Gone: .*\n.*"Ropework"/)
    await page.getByRole('button', { name: 'Release it' }).click()
    await expect(page.getByRole('button', { name: 'Hand out 2.0.0' })).toBeVisible(BUILT)
    await page.getByRole('button', { name: 'Hand out 1.0.0' }).click()
    await page.getByLabel('For whom').fill('Ida')
    // an older one is handed out as it is
    await expect(page.getByLabel('When a newer one is out')).toHaveValue('stay')
    await page.getByRole('button', { name: 'Make the link' }).click()
    const link = (await page.getByTestId('hand-out-link').textContent())?.trim() ?? ''
    await page.getByRole('button', { name: 'Done' }).click()
    await page.getByRole('button', { name: 'Recall 1.0.0' }).click()
    await page.getByLabel('Why, for those who have it').fill('Kelp edge was too small.')
    await page.getByRole('button', { name: 'Recall 1.0.0 for good' }).click()
    await expect(page.getByText('Kelp edge was too small.')).toBeVisible()
    await expect(page.getByRole('button', { name: 'Hand out 1.0.0' })).toBeHidden()
    await page.goto(link)
    await expect(page.getByRole('alert')).toContainText('Release 1.0.0 was recalled: Kelp edge was too small.')
  })
})

test('the signing key is shown, and another one takes its place when that is asked for twice', async ({ page }) => {
  await signInToDemo(page, satchel.url)
  await page.getByRole('button', { name: /^Account of/ }).click()
  await page.getByRole('button', { name: 'Signing key' }).click()
  const fingerprint = page.getByTestId('fingerprint')
  const before = (await fingerprint.textContent()) ?? ''
  expect(before).toMatch(/^([0-9a-f]{4} ){15}[0-9a-f]{4}$/)
  const exported = page.waitForEvent('download')
  await page.getByRole('button', { name: 'Export it' }).click()
  expect((await exported).suggestedFilename()).toBe('signing-key.pem')
  await page.getByRole('button', { name: 'Make a new key' }).click()
  await page.getByRole('button', { name: 'Sign with a new key' }).click()
  await expect(fingerprint).not.toHaveText(before)
  await expect(page.getByText(before)).toBeVisible()
  // back to the one that people know
  await page.getByLabel('A signing key that was exported').setInputFiles(await (await exported).path())
  await expect(fingerprint).toHaveText(before)
})
