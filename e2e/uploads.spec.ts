import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { expect, type Page, type Request, test } from '@playwright/test'
import { ZipWriter } from '@satchel/core/formats/zip/write'
import { UPLOAD_PIECE_BYTES } from '@satchel/core/limits'
import { makeFirstOwner, openSatchel, type Satchel } from './harness.ts'
import { packOfTips } from './tips.ts'

let satchel: Satchel
const folder = mkdtempSync(join(tmpdir(), 'satchel-uploads-'))
const zip = join(folder, 'heavy library.zip')
test.beforeAll(async () => {
  satchel = await openSatchel({ demo: false })
  const writer = new ZipWriter()
  const ballast = new Uint8Array(5 * UPLOAD_PIECE_BYTES).map((_, i) => (i * 2_654_435_761) >>> 24)
  const parts = [...writer.add('sketchbook.bin', ballast, 'store'), ...writer.add('tips.zip', packOfTips(), 'store')]
  writeFileSync(zip, Buffer.concat([...parts, ...writer.finish()]))
})
test.afterAll(async () => {
  await satchel.close()
  rmSync(folder, { recursive: true })
})

const isPiece = (request: Request) => request.method() === 'PATCH' && request.url().includes('/uploads/')
const atOf = (request: Request) => Number(new URL(request.url()).searchParams.get('at'))

/** Ends the server at once when the piece that begins at a byte is on its way. @returns When it is dead. */
function killAt(page: Page, at: number): Promise<void> {
  let isDead = false
  return new Promise((done) => {
    void page.route(/\/uploads\/[^/]+\?at=/, async (route) => {
      if (isDead || atOf(route.request()) !== at) return route.fallback()
      isDead = true
      await satchel.kill()
      await route.abort('connectionfailed')
      done()
    })
  })
}

test('a large file goes on where it stopped: by itself when the server comes back, and after a reload', async ({
  page,
}) => {
  await makeFirstOwner(page, satchel.url)
  const pieces: number[] = []
  page.on('request', (request) => isPiece(request) && pieces.push(atOf(request)))
  const choose = () => page.getByTestId('choose-files').setInputFiles(zip)

  await test.step('the server is killed at the third piece; the page says so and goes on by itself', async () => {
    const dead = killAt(page, 2 * UPLOAD_PIECE_BYTES)
    const deadAgain = dead.then(async () => {
      await expect(page.getByText('it stops for now and goes on by itself')).toBeVisible()
      const next = killAt(page, 4 * UPLOAD_PIECE_BYTES)
      await satchel.start()
      return next
    })
    await choose()
    await deadAgain
    expect(pieces).toEqual([0, 1, 2, 2, 3, 4].map((n) => n * UPLOAD_PIECE_BYTES))
  })

  await test.step('left while it is broken off, the file is chosen again and goes on from there', async () => {
    await page.goto('about:blank')
    await satchel.start()
    pieces.length = 0
    await page.goto(`${satchel.url}/gather`)
    const inPart = page.getByRole('region', { name: 'Files that came in part' })
    await expect(inPart).toContainText('"heavy library.zip" stopped at 16 MiB of')
    await choose()
    await expect(page.getByTestId('ledger-summary')).toHaveText(/^150 to take, /, { timeout: 180_000 })
    await expect(inPart).toHaveCount(0)
    expect(pieces[0]).toBe(4 * UPLOAD_PIECE_BYTES)
  })

  await test.step('what is not wanted any more is let go', async () => {
    const dead = killAt(page, UPLOAD_PIECE_BYTES)
    writeFileSync(join(folder, 'other.zip'), new Uint8Array(2 * UPLOAD_PIECE_BYTES))
    await page.getByTestId('choose-files').setInputFiles(join(folder, 'other.zip'))
    await dead
    await page.goto('about:blank')
    await satchel.start()
    await page.goto(`${satchel.url}/gather`)
    await page.getByRole('button', { name: 'Let it go' }).click()
    await expect(page.getByText('"other.zip" stopped at')).toHaveCount(0)
  })
})
