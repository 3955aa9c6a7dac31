import { readFile } from 'node:fs/promises'
import { base32 } from '@better-auth/utils/base32'
import { createOTP } from '@better-auth/utils/otp'
import { type BrowserContext, expect, type Page, test } from '@playwright/test'
import { openSatchel, openTune, type Satchel, signInToDemo, told } from './harness.ts'

let satchel: Satchel
test.beforeAll(async () => {
  satchel = await openSatchel({ demo: true, mailbox: true })
})
test.afterAll(() => satchel.close())

const PASSWORD = 'barges-tallow-nine'
const account = (page: Page) => page.getByRole('button', { name: /^Account of/ })

/** Makes an invitation on the page of members. */
async function invite(page: Page, note: string, role: string): Promise<string> {
  await page.goto(`${satchel.url}/members`)
  await page.getByRole('button', { name: 'Invite somebody' }).click()
  const dialog = page.getByRole('dialog', { name: 'Invite somebody' })
  await dialog.getByLabel('Whom it is for').fill(note)
  await dialog.getByLabel('They come as').selectOption(role)
  await dialog.getByRole('button', { name: 'Make the link' }).click()
  const link = await dialog.getByTestId('secret').textContent()
  await dialog.getByRole('button', { name: 'Done' }).click()
  return link ?? ''
}

/** Somebody who opens an invitation in a browser of their own, and makes an account. */
async function come(context: BrowserContext, link: string, name: string, email: string): Promise<Page> {
  const page = await context.newPage()
  await page.goto(link)
  await expect(page.getByRole('heading', { name: 'Join Tidewrack Studio' })).toBeVisible()
  await page.getByLabel('Your name').fill(name)
  await page.getByLabel('E-mail').fill(email)
  await page.getByLabel('Password').fill(PASSWORD)
  await page.getByRole('button', { name: 'Make an account and join' }).click()
  await expect(page.getByRole('heading', { level: 1, name: 'All brushes' })).toBeVisible()
  return page
}

test('somebody is invited, works beside the owner at one brush, may only look, and belongs there no more', async ({
  page,
  browser,
}) => {
  await signInToDemo(page, satchel.url)
  const link = await invite(page, 'Ida from the studio', 'curator')
  await expect(page.getByRole('region', { name: 'Invitations' })).toContainText('Ida from the studio')
  const theirs = await browser.newContext()
  const ida = await come(theirs, link, 'Ida Fenn', 'ida@fenn.example')

  // both are at one brush: each sees the other, and who saved it
  await openTune(page, satchel.url, 'Down soft')
  const address = page.url()
  await ida.goto(address)
  await expect(ida.getByText('Maren Sandholt is here too')).toBeVisible()
  await expect(page.getByText('Ida Fenn is here too')).toBeVisible()
  await ida.getByRole('textbox', { name: 'Maker' }).fill('Ida')
  await ida.keyboard.press('Tab')
  await expect(page.getByRole('textbox', { name: 'Maker' })).toHaveValue('Ida')
  await expect(page.getByText(/^saved by Ida Fenn/)).toBeVisible()

  // she may only look, and is told so in the window that she has open
  await page.goto(`${satchel.url}/members`)
  await expect(ida.getByText('Maren Sandholt is here too')).toHaveCount(0)
  await page.getByRole('button', { name: 'What to do about Ida Fenn' }).click()
  await page.getByRole('menuitem', { name: 'Make a viewer' }).click()
  await expect(told(page, 'Ida Fenn is a viewer now.')).toBeVisible()
  await expect(ida.getByText('you only look')).toBeVisible()

  await page.getByRole('button', { name: 'What to do about Ida Fenn' }).click()
  await page.getByRole('menuitem', { name: 'Remove' }).click()
  await page.getByRole('dialog').getByRole('button', { name: 'Remove' }).click()
  await expect(ida.getByRole('heading', { name: 'No workspace' })).toBeVisible()
  await ida.getByRole('button', { name: 'Sign out' }).click()
  await expect(ida.getByRole('heading', { name: 'Sign in' })).toBeVisible()
  await theirs.close()

  // a program is let in by a token, until that is ended
  await page.getByRole('button', { name: 'New token' }).click()
  const making = page.getByRole('dialog', { name: 'New token' })
  await making.getByLabel('What it is for').fill('Evening folder')
  await making.getByRole('button', { name: 'Make the token' }).click()
  const token = await making.getByTestId('secret').textContent()
  await making.getByRole('button', { name: 'Done' }).click()
  const program = () => fetch(`${satchel.url}/api/sets`, { headers: { authorization: `Bearer ${token}` } })
  expect((await program()).status).toBe(200)
  const tokens = page.getByRole('region', { name: 'Tokens' })
  await expect(tokens.getByText(/^Work, of Maren Sandholt, until/)).toBeVisible()
  await tokens.getByRole('button', { name: 'End the token Evening folder' }).click()
  await expect(tokens.getByText(/^None\./)).toBeVisible()
  expect((await program()).status).toBe(401)

  // all of it stands in the list, and in its file
  const done = page.getByRole('region', { name: 'What was done' })
  await done.getByLabel('Kind').selectOption('member')
  await expect(done.getByRole('listitem').first()).toContainText('Removed: Ida Fenn, viewer')
  const saving = page.waitForEvent('download')
  await done.getByRole('button', { name: 'As CSV' }).click()
  const csv = await readFile(await (await saving).path(), 'utf8')
  expect(
    csv
      .split('\r\n')
      .slice(0, 4)
      .map((line) => line.replace(/^[\d:.TZ-]+,/, '')),
  ).toEqual([
    'When (UTC),Who,Kind,What',
    'Maren Sandholt,Member,"Removed: Ida Fenn, viewer"',
    'Maren Sandholt,Member,"Role changed: Ida Fenn, curator to viewer"',
    'Ida Fenn,Member,"Joined: Ida Fenn, as curator"',
  ])
})

test('several workspaces are switched in one press, and other windows go along', async ({ page, context }) => {
  await signInToDemo(page, satchel.url)
  await account(page).click()
  await page.getByRole('button', { name: 'Another workspace' }).click()
  await page.getByLabel('Name of the workspace').fill('Dune Class')
  await page.getByRole('button', { name: 'Make it and go there' }).click()
  await account(page).click()
  const mine = page.getByRole('group', { name: 'Your workspaces' })
  await expect(mine.getByRole('button', { name: 'Dune Class' })).toHaveAttribute('aria-current', 'true')
  const other = await context.newPage()
  await other.goto(`${satchel.url}/members`)
  await expect(other.getByText('Dune Class, 1 member')).toBeVisible()

  await mine.getByRole('button', { name: 'Tidewrack Studio' }).click()
  await expect(page.getByRole('option', { name: /Down soft/ }).first()).toBeVisible()
  // a window that showed the other workspace does not go on in this one with what it holds
  await expect(other.getByRole('heading', { level: 1, name: 'All brushes' })).toBeVisible()
  await expect(other.getByRole('option', { name: /Down soft/ }).first()).toBeVisible()
})

test('one sees where one is signed in, and ends it there', async ({ page, browser }) => {
  await signInToDemo(page, satchel.url)
  const elsewhere = await browser.newContext()
  const other = await elsewhere.newPage()
  await signInToDemo(other, satchel.url)
  await account(page).click()
  await page.getByRole('button', { name: 'Where you are signed in' }).click()
  const dialog = page.getByRole('dialog', { name: 'Where you are signed in' })
  await expect(dialog.getByText('this one')).toBeVisible()
  // the latest first: the other window's, then those of journeys before
  await dialog.getByRole('button', { name: 'End', exact: true }).first().click()
  await expect(told(page, 'That sign-in has ended.')).toBeVisible()
  await expect(other.getByRole('heading', { name: 'Sign in' })).toBeVisible()
  await elsewhere.close()
})

test('a second step of signing in is turned on, asked for, and got round by a recovery code; a forgotten password comes by mail', async ({
  browser,
}) => {
  const context = await browser.newContext()
  const page = await context.newPage()
  const signIn = async (password: string) => {
    await page.goto(`${satchel.url}/sign-in`)
    await page.getByLabel('E-mail').fill('runa@tidewrack.example')
    await page.getByLabel('Password').fill(password)
    await page.getByRole('button', { name: 'Sign in' }).click()
  }
  const signOut = async () => {
    await account(page).click()
    await page.getByRole('button', { name: 'Sign out' }).click()
    await expect(page.getByRole('heading', { name: 'Sign in' })).toBeVisible()
  }
  await signIn('saltmarsh-demo')
  await account(page).click()
  await page.getByRole('button', { name: 'Second step of signing in' }).click()
  const dialog = page.getByRole('dialog', { name: 'Second step of signing in' })
  await dialog.getByLabel('Your password').fill('saltmarsh-demo')
  await dialog.getByRole('button', { name: 'Go on' }).click()
  await expect(dialog.getByRole('img', { name: /What your app has to know/ })).toBeVisible()
  const secret = new TextDecoder().decode(base32.decode((await dialog.getByTestId('secret').textContent()) ?? ''))
  await dialog.getByLabel('Code that the app shows now').fill('000000')
  await dialog.getByRole('button', { name: 'Turn it on' }).click()
  await expect(dialog.getByText(/That code is not right/)).toBeVisible()
  await dialog.getByLabel('Code that the app shows now').fill(await createOTP(secret).totp())
  await dialog.getByRole('button', { name: 'Turn it on' }).click()
  const shown = dialog.getByTestId('codes').getByRole('listitem')
  await expect(shown).toHaveCount(10)
  const codes = await shown.allTextContents()
  await dialog.getByRole('button', { name: 'I have kept them' }).click()

  await signOut()
  await signIn('saltmarsh-demo')
  await expect(page.getByRole('heading', { name: 'One more step' })).toBeVisible()
  await page.getByLabel('Code').fill(codes[0] ?? '')
  await page.getByRole('button', { name: 'Go on' }).click()
  await expect(page.getByRole('heading', { level: 1, name: 'All brushes' })).toBeVisible()

  await signOut()
  await page.getByRole('button', { name: 'I have forgotten my password' }).click()
  await page.getByLabel('E-mail').fill('runa@tidewrack.example')
  await page.getByRole('button', { name: 'Send me the link' }).click()
  await expect(page.getByText('a mail with a link is on its way')).toBeVisible()
  const box = await context.newPage()
  await box.goto(satchel.mailbox?.page ?? '')
  const letter = box.getByRole('listitem').filter({ hasText: 'Another password for Gentle Satchel' })
  await expect(async () => {
    await box.reload()
    await expect(letter).toBeVisible({ timeout: 2_000 })
  }).toPass()
  await letter.getByRole('link').click()
  await page.goto((await box.locator('pre').getByRole('link').first().getAttribute('href')) ?? '')
  await page.getByLabel('New password').fill('barges-tallow-nine')
  await page.getByRole('button', { name: 'Change password' }).click()
  await expect(page.getByRole('heading', { name: 'Sign in' })).toBeVisible()
  await signIn('barges-tallow-nine')
  await page.getByLabel('Code').fill(codes[1] ?? '')
  await page.getByRole('button', { name: 'Go on' }).click()
  await expect(page.getByRole('heading', { level: 1, name: 'All brushes' })).toBeVisible()
  await context.close()
})
