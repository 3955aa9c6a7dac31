import { fileURLToPath } from 'node:url'
import { expect, type Page, test } from '@playwright/test'
import { build } from 'esbuild'
import { openSatchel, type Satchel, signInToDemo, told, withFolder } from './harness.ts'

let satchel: Satchel
test.beforeAll(async () => {
  satchel = await openSatchel({ demo: true })
})
test.afterAll(() => satchel.close())

type InFolder = Record<string, string>

/** What lies in that folder, as text. */
const readFolder = (page: Page): Promise<InFolder> =>
  page.evaluate(async () => {
    const found: Record<string, string> = {}
    const walk = async (folder: FileSystemDirectoryHandle, before: string) => {
      for await (const [name, entry] of folder as unknown as AsyncIterable<[string, FileSystemHandle]>)
        if (entry.kind === 'directory') await walk(entry as FileSystemDirectoryHandle, `${before}${name}/`)
        else found[before + name] = await (await (entry as FileSystemFileHandle).getFile()).text()
    }
    await walk(await (await navigator.storage.getDirectory()).getDirectoryHandle('Brushes', { create: true }), '')
    return found
  })

const writeInFolder = (page: Page, path: string, text: string) =>
  page.evaluate(
    async ([place = '', content = '']) => {
      const parts = place.split('/')
      const name = parts.pop() ?? ''
      let folder = await (await navigator.storage.getDirectory()).getDirectoryHandle('Brushes', { create: true })
      for (const part of parts) folder = await folder.getDirectoryHandle(part, { create: true })
      const file = await (await folder.getFileHandle(name, { create: true })).createWritable()
      await file.write(content)
      await file.close()
    },
    [path, text],
  )

const removeInFolder = (page: Page, path: string) =>
  page.evaluate(async (place) => {
    const parts = place.split('/')
    const name = parts.pop() ?? ''
    let folder = await (await navigator.storage.getDirectory()).getDirectoryHandle('Brushes')
    for (const part of parts) folder = await folder.getDirectoryHandle(part)
    await folder.removeEntry(name)
  }, path)

/** An install that is written, and waits on its page to be put somewhere; so many brushes of the demo. */
async function prepareInstall(page: Page, name: string, destinationId: string, count: number) {
  const headers = { origin: satchel.url }
  const { ids } = await (await page.request.get(`${satchel.url}/api/brushes/ids`)).json()
  const data = { name, destinationId, brushIds: ids.slice(0, count) }
  const { id } = await (await page.request.post(`${satchel.url}/api/installs`, { headers, data })).json()
  const stateOf = async () => (await (await page.request.get(`${satchel.url}/api/installs/${id}`)).json()).state
  await expect.poll(stateOf, { timeout: 180_000 }).toBe('ready')
  await page.goto(`${satchel.url}/fit/installs`)
  return page.getByRole('article').filter({ has: page.getByRole('heading', { name, exact: true }) })
}

test('a real folder: conflicts, verify, drift, repair, up to date, and as it was', async ({ page }) => {
  await withFolder(page, 'Brushes')
  await signInToDemo(page, satchel.url)
  const card = await prepareInstall(page, 'Real', 'shearwater', 3)
  await writeInFolder(page, 'notes.txt', 'mine')
  await writeInFolder(page, 'Chart Inks/Broad nib.png', 'somebody else’s picture')
  const before = await readFolder(page)
  await card.getByRole('button', { name: 'Into a folder of this computer' }).click()
  await expect(card.getByText('1 name is taken by something else: Chart Inks/Broad nib.png')).toBeVisible()
  await card.getByText('replace, and give it back later').click()
  await card.getByRole('button', { name: 'Put them into "Brushes"' }).click()
  await expect(card.getByText(/\d+ files in "Brushes", a folder of this computer/)).toBeVisible()
  const put = await readFolder(page)
  expect(Object.keys(put)).toEqual(
    expect.arrayContaining(['notes.txt', 'Chart Inks/Broad nib.png', 'Chart Inks/Broad nib.tune']),
  )
  expect(put['Chart Inks/Broad nib.png']).not.toBe(before['Chart Inks/Broad nib.png'])
  // it is still known after the page was left
  await page.reload()
  await card.getByRole('button', { name: 'Verify' }).click()
  await expect(card.getByText('Read back: every file is as it was written.')).toBeVisible()
  await expect(card.getByText(/^The app finds \d+ brushes, and each of them paints\. Likeness \d+/)).toBeVisible()
  await writeInFolder(page, 'Chart Inks/Broad nib.tune', 'changed')
  await card.getByRole('button', { name: 'Verify' }).click()
  await expect(card.getByText('Chart Inks/Broad nib.tune is changed')).toBeVisible()
  await card.getByRole('button', { name: 'Repair' }).click()
  await expect(card.getByText('1 file written again.', { exact: true })).toBeVisible()
  expect(await readFolder(page)).toEqual(put)
  await card.getByRole('button', { name: 'Bring up to date' }).click()
  await expect(card.getByText('Nothing has changed since.', { exact: true })).toBeVisible()
  await card.getByRole('button', { name: 'Take out' }).click()
  await expect(card.getByText(/is taken out/)).toBeVisible()
  // the edit that the repair had covered is theirs, too
  expect(await readFolder(page)).toEqual({ ...before, 'Chart Inks/Broad nib.tune': 'changed' })
  await removeInFolder(page, 'Chart Inks/Broad nib.tune')
  // keeping both goes under another name, and leaves theirs alone
  await card.getByRole('button', { name: 'Into a folder of this computer' }).click()
  await card.getByRole('button', { name: 'Put them into "Brushes"' }).click()
  await expect(card.getByText(/\d+ files in "Brushes"/)).toBeVisible()
  const both = await readFolder(page)
  expect(both['Chart Inks/Broad nib.png']).toBe(before['Chart Inks/Broad nib.png'])
  expect(Object.keys(both)).toContain('Chart Inks/Broad nib 2.png')
  // after the class, with whatever else is chosen
  await page.getByLabel('Choose "Real"', { exact: true }).check()
  await page.getByRole('button', { name: 'Take 1 out' }).click()
  await expect(page.getByText('1 install taken out.', { exact: true })).toBeVisible()
  await expect(card.getByRole('button', { name: 'Into a folder of this computer' })).toBeVisible()
  expect(await readFolder(page)).toEqual(before)
})

test('a real folder that is full, closed, changed meanwhile, or left in the middle is as it was', async ({ page }) => {
  await withFolder(page, 'Brushes')
  await signInToDemo(page, satchel.url)
  const card = await prepareInstall(page, 'Broken', 'shearwater', 3)
  await writeInFolder(page, 'Chart Inks/Broad nib.png', 'theirs')
  const before = await readFolder(page)
  const putIn = async () => {
    await card.getByRole('button', { name: 'Into a folder of this computer' }).click()
    await card.getByText('replace, and give it back later').click()
    await card.getByRole('button', { name: 'Put them into "Brushes"' }).click()
  }
  for (const [fault, sentence] of [
    ['QuotaExceededError', 'There is no room left in "Brushes"'],
    ['NoModificationAllowedError', '"Brushes" may not be changed'],
  ] as const) {
    // the third file that is written into it cannot be; what was kept of others counts as one
    await page.evaluate((name) => {
      const { createWritable } = FileSystemFileHandle.prototype
      let count = 0
      FileSystemFileHandle.prototype.createWritable = function (options) {
        if (++count !== 3) return createWritable.call(this, options)
        FileSystemFileHandle.prototype.createWritable = createWritable
        throw new DOMException('as on a bad day', name)
      }
    }, fault)
    await putIn()
    await expect(page.getByText(sentence).first()).toBeVisible()
    expect(await readFolder(page), fault).toEqual(before)
    await page.reload()
  }
  // somebody writes there between looking and putting
  await card.getByRole('button', { name: 'Into a folder of this computer' }).click()
  await expect(card.getByText('1 name is taken by something else')).toBeVisible()
  const { installs } = await (await page.request.get(`${satchel.url}/api/installs`)).json()
  const { files: written } = await (await page.request.get(`${satchel.url}/api/installs/${installs[0].id}`)).json()
  await writeInFolder(page, written.at(-1).path, 'theirs, too')
  const later = await readFolder(page)
  await card.getByText('pass the brush over').click()
  await card.getByRole('button', { name: 'Put them into "Brushes"' }).click()
  await expect(page.getByText(/was changed by somebody else just now/).first()).toBeVisible()
  expect(await readFolder(page)).toEqual(later)
  // the page goes while a file is on its way
  await page.reload()
  let files = 0
  await page.route('**/api/installs/*/file?*', (route) => (++files < 3 ? route.continue() : undefined))
  await putIn()
  await expect.poll(() => files).toBe(3)
  expect(await readFolder(page)).not.toEqual(later)
  await page.unrouteAll({ behavior: 'ignoreErrors' })
  await page.reload()
  await expect(card.getByText('Putting it into "Brushes" was broken off in the middle.')).toBeVisible()
  await card.getByRole('button', { name: 'Put "Brushes" back as it was' }).click()
  await expect(card.getByRole('button', { name: 'Into a folder of this computer' })).toBeVisible()
  expect(await readFolder(page)).toEqual(later)
})

test('installs over one another and over a person’s files: named, moved, let go, and given back in any order', async ({
  page,
}) => {
  await withFolder(page, 'Brushes')
  await signInToDemo(page, satchel.url)
  await prepareInstall(page, 'Under', 'shearwater', 1)
  const { installs } = await (await page.request.get(`${satchel.url}/api/installs`)).json()
  const { files } = await (await page.request.get(`${satchel.url}/api/installs/${installs[0].id}`)).json()
  const path: string = files[0].path
  await prepareInstall(page, 'Over', 'shearwater', 2)
  const card = (name: string) =>
    page.getByRole('article').filter({ has: page.getByRole('heading', { name, exact: true }) })
  await writeInFolder(page, path, 'theirs')
  const before = await readFolder(page)
  const put = async (name: string) => {
    await card(name).getByRole('button', { name: 'Into a folder of this computer' }).click()
    const replace = card(name).getByText('replace, and give it back later')
    await expect(card(name).getByRole('button', { name: 'Put them into "Brushes"' })).toBeVisible()
    if (await replace.isVisible()) await replace.click()
    await card(name).getByRole('button', { name: 'Put them into "Brushes"' }).click()
    await expect(card(name).getByText(/put into "Brushes"\./)).toBeVisible()
  }
  await put('Under')
  const under = await readFolder(page)
  expect(under[path]).not.toBe('theirs')
  await writeInFolder(page, path, 'edited')
  await put('Over')
  await card('Under').getByRole('button', { name: 'Verify' }).click()
  // both bring the same bytes: what one of them has put there is as the other has written it
  await expect(card('Under').getByText('Read back: every file is as it was written.')).toBeVisible()
  expect((await readFolder(page))[path]).toBe(under[path])
  await card('Under').getByText('"Brushes" lies elsewhere now, or is gone').click()
  await expect(card('Under').getByText(/of yours that it has covered/)).toBeHidden()
  await card('Under').getByRole('button', { name: 'Show where it is now' }).click()
  await expect(card('Under').getByText('It is looked after in "Brushes" from now on.')).toBeVisible()
  for (const name of ['Under', 'Over']) {
    await card(name).getByRole('button', { name: 'Take out' }).click()
    await expect(card(name).getByRole('button', { name: 'Into a folder of this computer' })).toBeVisible()
  }
  // what they had edited lies where it lay, and what lay there first beside it
  const beside = path.replace(/(\.\w+)$/, ' 2$1')
  expect(await readFolder(page)).toEqual({ ...before, [path]: 'edited', [beside]: 'theirs' })
  // let go, it is left where it is
  await put('Under')
  await card('Under').getByText('"Brushes" lies elsewhere now, or is gone').click()
  await card('Under').getByRole('button', { name: 'Let go of it' }).click()
  await expect(card('Under').getByText(/is looked after no more/)).toBeVisible()
  expect((await readFolder(page))[path]).toBe(under[path])
})

/** What an app does that goes to its next version: its folder gets another name. */
const moveInFolder = async (page: Page, from: string, to: string) => {
  const all = await page.evaluate(
    async ([before = '', after = '']) => {
      const root = await (await navigator.storage.getDirectory()).getDirectoryHandle('Brushes')
      const copy = async (source: FileSystemDirectoryHandle, target: FileSystemDirectoryHandle): Promise<number> => {
        let count = 0
        for await (const [name, entry] of source as unknown as AsyncIterable<[string, FileSystemHandle]>)
          if (entry.kind === 'directory')
            count += await copy(
              entry as FileSystemDirectoryHandle,
              await target.getDirectoryHandle(name, { create: true }),
            )
          else {
            const file = await (await target.getFileHandle(name, { create: true })).createWritable()
            await file.write(await (entry as FileSystemFileHandle).getFile())
            await file.close()
            count++
          }
        return count
      }
      const count = await copy(
        await root.getDirectoryHandle(before),
        await root.getDirectoryHandle(after, { create: true }),
      )
      await root.removeEntry(before, { recursive: true })
      return count
    },
    [from, to],
  )
  expect(all).toBeGreaterThan(0)
}

test('loose ends of a real folder are found, mended and undone; the install follows and is taken out whole', async ({
  page,
}) => {
  await withFolder(page, 'Brushes')
  await signInToDemo(page, satchel.url)
  await page.evaluate(async () => {
    await (await navigator.storage.getDirectory()).removeEntry('Brushes', { recursive: true }).catch(() => undefined)
  })
  const card = await prepareInstall(page, 'Tablet', 'sanderling', 3)
  await card.getByRole('button', { name: 'Into a folder of this computer' }).click()
  await card.getByRole('button', { name: 'Put them into "Brushes"' }).click()
  await expect(card.getByText(/put into "Brushes"\./)).toBeVisible()
  const [root = ''] = Object.keys(await readFolder(page))[0]?.split('/') ?? []
  await moveInFolder(page, root, `${root} next`)
  const moved = await readFolder(page)
  await page.goto(`${satchel.url}/fit/loose-ends?app=sanderling`)
  await page.getByRole('button', { name: 'A folder of this computer' }).click()
  await expect(
    page.getByText(/In "Brushes", a folder of this computer, as Sanderling reads it: \d+ references lead/),
  ).toBeVisible()
  await page.getByRole('button', { name: /^Mend all \d+ sure ones$/ }).click()
  await expect(told(page, /^\d+ references mended\.$/)).toBeVisible()
  await expect(page.getByText('No loose ends')).toBeVisible()
  // undone, all is as it was before
  await page.getByRole('region', { name: 'Mended before' }).getByRole('button', { name: 'Undo' }).click()
  await expect(page.getByRole('list', { name: 'Loose ends' })).toBeVisible()
  expect(await readFolder(page)).toEqual(moved)
  // broken off after the first of three settings: three were kept before, and the second cannot be written
  await page.evaluate(() => {
    const { createWritable } = FileSystemFileHandle.prototype
    let count = 0
    FileSystemFileHandle.prototype.createWritable = function (options) {
      if (++count !== 5) return createWritable.call(this, options)
      FileSystemFileHandle.prototype.createWritable = createWritable
      throw new DOMException('as on a bad day', 'QuotaExceededError')
    }
  })
  await page.getByRole('button', { name: 'Mend all 3 sure ones' }).click()
  await page.getByRole('button', { name: 'Mend all 2 sure ones' }).click()
  await expect(page.getByText('No loose ends')).toBeVisible()
  await page.goto(`${satchel.url}/fit/installs`)
  await card.getByRole('button', { name: 'Take out' }).click()
  await expect(card.getByText(/is taken out; "Brushes" is as it was/)).toBeVisible()
  expect(await readFolder(page)).toEqual({})
})

test('the law of placing holds in folders of the browser, whatever breaks off', async ({ page }) => {
  test.setTimeout(180_000)
  await signInToDemo(page, satchel.url)
  const entryPoints = [fileURLToPath(new URL('../web/src/real-folder/placing-in-page.ts', import.meta.url))]
  const { outputFiles } = await build({ entryPoints, bundle: true, write: false, format: 'iife', target: 'es2022' })
  await page.evaluate(outputFiles[0]?.text ?? '')
  const broken = await page.evaluate(
    (runs) => (window as unknown as { tryInBrowser: (runs: number) => Promise<string | undefined> }).tryInBrowser(runs),
    40,
  )
  expect(broken).toBeUndefined()
})
