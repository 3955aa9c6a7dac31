import { readdirSync } from 'node:fs'
import { type APIRequestContext, expect, type Page, test } from '@playwright/test'
import { openSatchel, type Satchel, signInToDemo, told } from './harness.ts'

let satchel: Satchel
test.beforeAll(async () => {
  satchel = await openSatchel({ demo: true, mailbox: true })
})
test.afterAll(() => satchel.close())

/** Gives the demo's release to people, and shows them. */
async function giveTo(page: Page, lines: string[]) {
  await page.goto(`${satchel.url}/hand-out`)
  await page.getByRole('link', { name: 'Saltmarsh Sketching' }).first().click()
  await page.getByRole('link', { name: 'People' }).click()
  await page.getByRole('button', { name: 'Hand out to many' }).click()
  await page.getByRole('textbox', { name: 'People', exact: true }).fill(lines.join('\n'))
  await page.getByRole('button', { name: `Make ${lines.length} links` }).click()
  await expect(page.getByText(`${lines.length} chosen`)).toBeVisible()
}

test('people are written to; their letters lead to the brushes; who wants no more gets none, and what comes back is told', async ({
  page,
  browser,
}) => {
  await signInToDemo(page, satchel.url)
  await giveTo(page, [
    'Ebba Lowtide, ebba@class.example',
    'Jory Wrackham, jory@gone.example',
    'Lune Estuary, lune@late.example',
  ])

  await test.step('the words are changed, and read as they will read', async () => {
    await page.getByRole('button', { name: 'Write to them' }).click()
    const read = page.getByRole('region', { name: 'As it will read' })
    await expect(read.getByText('Saltmarsh Sketching: your link')).toBeVisible()
    // nothing is said of an edition, nor of an end that there is not
    await expect(read.getByText(/release 1\.0\.0\.$/)).toBeVisible()
    await page.getByRole('textbox', { name: 'Text', exact: true }).fill('Dear {name},\n\nhere you are: {lnk}')
    await page.getByRole('button', { name: 'Send 3 mails' }).click()
    await expect(page.getByText('The mail needs their link', { exact: false })).toBeVisible()
    await page.getByRole('textbox', { name: 'Text', exact: true }).fill('Dear {name},\n\nhere you are: {link}')
    await expect(read.getByText(/^Dear (Ebba|Jory|Lune)/)).toBeVisible()
    await page.getByRole('button', { name: 'Send 3 mails' }).click()
    await expect(page.getByText('3 mails on their way.', { exact: true })).toBeVisible()
  })

  await test.step('what came back is told', async () => {
    const line = (name: string) =>
      page.getByRole('list', { name: 'Hand-outs' }).getByRole('listitem').filter({ hasText: name })
    await expect(line('Ebba Lowtide')).toContainText('mailed')
    await expect(line('Jory Wrackham')).toContainText('mail came back')
    await expect(line('Jory Wrackham')).toContainText('No such mailbox')
    // taken first, and sent back a moment later
    await expect(line('Lune Estuary')).toContainText('There is nobody of this name any more')
  })

  const reader = await browser.newContext()
  const letters = await reader.newPage()
  await test.step('a letter leads to the brushes, and says how to get no more', async () => {
    await letters.goto(satchel.mailbox?.page ?? '')
    await letters.getByRole('listitem').filter({ hasText: 'ebba@class.example' }).getByRole('link').click()
    const text = letters.locator('pre')
    await expect(text).toContainText('Dear Ebba Lowtide,')
    const stop = /No more mails, please: (\S+)/.exec((await text.textContent()) ?? '')?.[1] ?? ''
    await text.getByRole('link').first().click()
    await expect(letters.getByText('For Ebba Lowtide')).toBeVisible()
    await letters.goto(stop)
    await letters.getByRole('button', { name: 'Send me no more mails' }).click()
    await expect(letters.getByRole('heading', { name: 'No more mails will come.' })).toBeVisible()
    const line = page.getByRole('list', { name: 'Hand-outs' }).getByRole('listitem').filter({ hasText: 'Ebba Lowtide' })
    await expect(line).toContainText('wants no mails')
    await page.getByRole('button', { name: 'Write to them' }).click()
    await page.getByRole('button', { name: 'Send 3 mails' }).click()
    await expect(told(page, 'Left out: Ebba Lowtide wants no more mails.')).toBeVisible()
  })
  await reader.close()
})

type Given = { id: string; email: string; mail: { state: string } | null }

test('killed in the middle of mailing: nobody is written to twice, and of whom it is not known that is said', async ({
  page,
}) => {
  await signInToDemo(page, satchel.url)
  const ask: APIRequestContext = page.request
  const post = async (path: string, data: object) => {
    const answer = await ask.post(`${satchel.url}/api${path}`, { data, headers: { origin: satchel.url } })
    expect(answer.ok(), await answer.text()).toBe(true)
    return answer.json()
  }
  const { packs } = await (await ask.get(`${satchel.url}/api/packs`)).json()
  const pack = await (await ask.get(`${satchel.url}/api/packs/${packs[0].id}`)).json()
  const people = Array.from({ length: 300 }, (_, n) => ({ name: `Reader ${n}`, email: `r${n}@many.example`, note: '' }))
  const wish = { releaseId: pack.releases[0].id, batchId: crypto.randomUUID(), people }
  const { ids } = await post(`/packs/${pack.id}/hand-outs/many`, wish)
  const came = () => readdirSync(satchel.mailbox?.folder ?? '').filter((name) => name.endsWith('.eml')).length
  const before = came()
  const words = { kind: 'link', subject: 'Brushes', body: '{link}', ids, actId: crypto.randomUUID() }
  await post(`/packs/${pack.id}/mails`, words)
  await expect.poll(came, { intervals: [5] }).toBeGreaterThan(before + 20)
  await satchel.kill()
  const atKill = came()
  expect(atKill).toBeLessThan(before + 300)
  await satchel.start()
  const states = async () => {
    const { handOuts } = await (await ask.get(`${satchel.url}/api/packs/${pack.id}/people`)).json()
    return (handOuts as Given[]).filter(({ email }) => email.endsWith('@many.example')).map(({ mail }) => mail?.state)
  }
  await expect
    .poll(async () => (await states()).filter((state) => state === 'sent' || state === 'unsure').length)
    .toBe(300)
  const unsure = (await states()).filter((state) => state === 'unsure').length
  // the one that was on its way when the server was lost, if any
  expect(unsure).toBeLessThanOrEqual(1)
  const arrived = came() - before
  expect(arrived).toBeGreaterThanOrEqual(300 - unsure)
  expect(arrived).toBeLessThanOrEqual(300)
})

test('whose a copy is, is told of a download, of one file of it under another name, and not of what somebody changed', async ({
  page,
  request,
}) => {
  await signInToDemo(page, satchel.url)
  await giveTo(page, ['Wim Saltpan, wim@class.example', 'Odd Culvert, odd@class.example'])
  const told = (await tellLinks(page)).find(({ name }) => name === 'Wim Saltpan')
  const answer = await request.get(`${satchel.url}/api/h/${told?.link?.split('/').at(-1)}/download`)
  const zip = await answer.body()
  await page.getByRole('button', { name: 'Whose copy is this?' }).press('Enter')
  const dialog = page.getByRole('dialog', { name: 'Whose copy is this?' })
  const show = (files: Parameters<ReturnType<Page['getByLabel']>['setInputFiles']>[0]) =>
    dialog.getByLabel('A copy', { exact: true }).setInputFiles(files)
  const file = (name: string, buffer: Buffer) => ({ name, mimeType: 'application/octet-stream', buffer })
  const readme = (text: string) => Buffer.from(text)

  await show([file('what-is-this.bin', zip), file('nothing.txt', readme('Nothing is said here.\n'))])
  await expect(dialog.getByRole('region', { name: 'what-is-this.bin' })).toContainText(
    'Issued to Wim Saltpan (wim@class.example), Saltmarsh Sketching 1.0.0.',
  )
  await expect(dialog.getByRole('region', { name: 'nothing.txt' })).toContainText('It does not say.')

  // its README's, found in the archive as they lie there: the end of a packed text is not packed
  const lines = /Issued to: .*\nRelease: .*\nCopy: .*\nSigned: .{86}\n/.exec(zip.toString('latin1'))?.[0] ?? ''
  await show([file('found on the web.txt', readme(`\n${lines.replace('Wim Saltpan', 'Odd Culvert')}`))])
  const changed = dialog.getByRole('region', { name: 'found on the web.txt' })
  await expect(changed).toContainText('What it says was changed since')
  await dialog.getByRole('link', { name: 'People of Saltmarsh Sketching' }).click()
  await expect(page.getByRole('heading', { name: 'People' })).toBeVisible()
})

/** The links of those who are chosen on the page. */
async function tellLinks(page: Page): Promise<{ name: string; link: string | null }[]> {
  const asked = page.waitForResponse((response) => response.url().endsWith('/api/packs/hand-outs/links'))
  await page.getByRole('button', { name: 'Copy the links' }).press('Enter')
  return ((await (await asked).json()) as { links: { name: string; link: string | null }[] }).links
}
