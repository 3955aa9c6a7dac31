import { type ChildProcess, execFile, fork } from 'node:child_process'
import { chmodSync, mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { promisify } from 'node:util'
import { expect, type Locator, type Page } from '@playwright/test'
import { freePort, startPostgres } from '../scripts/postgres.mjs'

const MAIN = fileURLToPath(new URL('../server/dist/main.mjs', import.meta.url))
const KIOSK = fileURLToPath(new URL('../server/dist/kiosk.mjs', import.meta.url))
const EXCHANGE = fileURLToPath(new URL('../server/dist/exchange.mjs', import.meta.url))
const MAILBOX = fileURLToPath(new URL('../server/dist/mailbox.mjs', import.meta.url))

export type Server = {
  url: string
  /** Ends the server at once, as a power cut would; `start` brings it up again on the same data. */
  kill(): Promise<void>
  start(): Promise<void>
  /** Ends it as it wishes: what runs comes to its end first. */
  stop(): Promise<void>
  /** Lets it stand still as a whole, and go on. */
  pause(): void
  goOn(): void
}
export type Satchel = Server & {
  databaseUrl: string
  /** Its caches and scratch files. */
  cacheFolder: string
  /** A second server on the same data, for the same pages. */
  join(): Promise<Server>
  /** The page of the stand-in mailbox, and the folder of its letters; where one was asked for. */
  mailbox?: { page: string; folder: string }
  /** The page of the stand-in shop, where one was asked for. */
  kiosk?: { page: string }
  /** The page of the stand-in exchange, where one was asked for. */
  exchange?: { page: string }
  /** Ends all of it; what it holds goes, unless it is kept. */
  close(options?: { keep?: boolean }): Promise<void>
}

/** Names the folder of a database that holds the demo library, and is stopped. */
export const TEMPLATE = 'SATCHEL_E2E_DEMO'

type Opening = {
  /** Whether it holds the demo library. */
  demo: boolean
  /** Where it lies; by default in a folder of its own. */
  folder?: string
  /** Whether its mails go to a stand-in mailbox; else it sends none. */
  mailbox?: boolean
  /** Whether there is a stand-in shop; it knows nobody to tell its sales to. */
  kiosk?: boolean
  /** Whether there is a stand-in exchange, with what its six makers share. */
  exchange?: boolean
}

function makeFolder(): string {
  const folder = mkdtempSync(join(tmpdir(), 'satchel-e2e-'))
  chmodSync(folder, 0o755)
  return folder
}

/** The built server on a database, folder and port of its own. */
export async function openSatchel({
  demo,
  folder = makeFolder(),
  mailbox = false,
  kiosk = false,
  exchange = false,
}: Opening): Promise<Satchel> {
  const template = process.env[TEMPLATE]
  if (demo && template) await promisify(execFile)('cp', ['-a', join(template, 'postgres'), join(folder, 'postgres')])
  const postgres = await startPostgres(join(folder, 'postgres'), { durable: false })
  const letters = join(folder, 'letters')
  const origin = `http://127.0.0.1:${await freePort()}`
  const box = mailbox ? await startMailbox(letters, origin) : undefined
  const shop = kiosk ? await startKiosk(join(folder, 'kiosk')) : undefined
  const shed = exchange ? await startExchange(join(folder, 'exchange')) : undefined
  const servers: Server[] = []
  const add = async (url: string, cacheFolder: string) => {
    const server = createServer(url, {
      SATCHEL_DATABASE_URL: postgres.url,
      SATCHEL_CACHE: cacheFolder,
      SATCHEL_ORIGIN: origin,
      SATCHEL_DEMO: demo ? 'library' : '0',
      ...(box
        ? {
            SATCHEL_SMTP: box.smtp,
            SATCHEL_MAILBOX: box.page,
            SATCHEL_MAIL_FROM: FROM,
            SATCHEL_BOUNCES: 'bounces@tidewrack.example',
          }
        : {}),
      ...(shop ? { SATCHEL_KIOSK: shop.page } : {}),
      ...(shed ? { SATCHEL_EXCHANGES: shed.page } : {}),
    })
    servers.push(server)
    await server.start()
    return server
  }
  const cacheFolder = join(folder, 'cache')
  const first = await add(origin, cacheFolder)
  return {
    ...first,
    databaseUrl: postgres.url,
    cacheFolder,
    ...(box ? { mailbox: { page: box.page, folder: letters } } : {}),
    ...(shop ? { kiosk: { page: shop.page } } : {}),
    ...(shed ? { exchange: { page: shed.page } } : {}),
    join: async () => add(`http://127.0.0.1:${await freePort()}`, join(folder, `cache${servers.length}`)),
    async close({ keep = false } = {}) {
      for (const server of servers) await server.stop()
      await end(box?.child, 'SIGTERM')
      await end(shop?.child, 'SIGTERM')
      await end(shed?.child, 'SIGTERM')
      await postgres.stop()
      if (!keep) rmSync(folder, { recursive: true, force: true })
    },
  }
}

const FROM = 'Tidewrack Studio <hello@tidewrack.example>'

/** The built stand-in mailbox, once it listens. */
function startMailbox(folder: string, origin: string): Promise<{ child: ChildProcess; smtp: string; page: string }> {
  const child = fork(MAILBOX, {
    stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
    env: { ...process.env, SATCHEL_MAILBOX_FOLDER: folder, SATCHEL_MAILBOX_RETURNS: `${origin}/api/bounces` },
  })
  return new Promise((done, fail) => {
    child.once('message', (told) => done({ child, ...(told as { smtp: string; page: string }) }))
    child.once('exit', (code) => fail(new Error(`the mailbox ended with ${code}`)))
  })
}

/** The built stand-in shop, once it listens. */
function startKiosk(folder: string): Promise<{ child: ChildProcess; page: string }> {
  const child = fork(KIOSK, {
    stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
    env: { ...process.env, SATCHEL_KIOSK_FOLDER: folder },
  })
  return new Promise((done, fail) => {
    child.once('message', (told) => done({ child, ...(told as { page: string }) }))
    child.once('exit', (code) => fail(new Error(`the shop ended with ${code}`)))
  })
}

/** The built stand-in exchange with what its six makers share, once it listens. */
function startExchange(folder: string): Promise<{ child: ChildProcess; page: string }> {
  const child = fork(EXCHANGE, {
    stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
    env: { ...process.env, SATCHEL_EXCHANGE_FOLDER: folder, SATCHEL_EXCHANGE_STOCK: '1' },
  })
  return new Promise((done, fail) => {
    child.once('message', (told) => done({ child, ...(told as { page: string }) }))
    child.once('exit', (code) => fail(new Error(`the exchange ended with ${code}`)))
  })
}

function createServer(url: string, env: Record<string, string>): Server {
  let child: ChildProcess | undefined
  return {
    url,
    async start() {
      const started = fork(MAIN, {
        stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
        env: {
          ...process.env,
          NODE_ENV: 'production',
          ...env,
          SATCHEL_SECRET: 'e2e-secret-0123456789abcdef0123456789ab',
          SATCHEL_PORT: new URL(url).port,
          SATCHEL_HOSTS: new URL(url).host, // a second one is asked by its own name
          SATCHEL_LOG: 'error',
          SATCHEL_SIGN_INS_PER_MINUTE: '1000',
        },
      })
      child = started
      await new Promise<void>((done, fail) => {
        started.once('message', () => done())
        started.once('exit', (code) => fail(new Error(`the server ended with ${code}`)))
      })
    },
    kill: () => end(child, 'SIGKILL'),
    stop: () => end(child, 'SIGTERM'),
    pause: () => void child?.kill('SIGSTOP'),
    goOn: () => void child?.kill('SIGCONT'),
  }
}

function end(child: ChildProcess | undefined, signal: NodeJS.Signals): Promise<void> {
  if (!child || child.exitCode !== null || child.signalCode !== null) return Promise.resolve()
  return new Promise((done) => {
    child.once('exit', () => done())
    child.kill(signal)
    child.kill('SIGCONT') // one that stands still hears nothing else
  })
}

export async function signInToDemo(page: Page, url: string): Promise<void> {
  await page.goto(`${url}/sign-in`)
  await page.getByLabel('E-mail').fill('maren@tidewrack.example')
  await page.getByLabel('Password').fill('saltmarsh-demo')
  await page.getByRole('button', { name: 'Sign in' }).click()
  await page.waitForURL('**/sort')
}

export async function makeFirstOwner(page: Page, url: string): Promise<void> {
  await page.goto(url)
  await page.getByLabel('Your name').fill('Ida Slikker')
  await page.getByLabel('Name of the workspace').fill('Marsh Workshop')
  await page.getByLabel('E-mail').fill('ida@marsh.example')
  await page.getByLabel('Password').fill('samphire-and-salt')
  await page.getByRole('button', { name: 'Make the workspace' }).click()
  await page.waitForURL('**/gather')
}

/** Opens the first brush that is found by a name, once its strokes are painted. @returns The strokes. */
export async function openTune(page: Page, url: string, name: string): Promise<Locator> {
  const id = await page.evaluate(async (q) => {
    const { brushes } = await (await fetch(`/api/brushes?q=${encodeURIComponent(q)}`)).json()
    return brushes[0].id
  }, name)
  await page.goto(`${url}/tune/${id}`)
  const strokes = page.getByTestId('paint-area')
  await settled(strokes)
  return strokes
}

/** Waits until the canvas shows what it is meant to by now: pictures, size and recipe, all of them. */
export async function settled(strokes: Locator): Promise<void> {
  await expect
    .poll(() =>
      strokes.evaluate(async ({ dataset }: HTMLElement) => {
        // a line that has come below makes it smaller: two frames later it knows
        await new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done)))
        return dataset.wanted !== undefined && dataset.wanted === dataset.shown
      }),
    )
    .toBe(true)
}

/** Waits until a view has what it shows. */
export async function fetched(page: Page): Promise<void> {
  await expect(page.getByRole('heading').first()).toBeVisible()
  await expect(page.getByText(/^Fetching .* …$/)).toHaveCount(0)
}

/** The browser's private files stand for a folder of this computer: they give a handle without a dialog. */
export const withFolder = (page: Page, name: string): Promise<unknown> =>
  page.addInitScript((folder) => {
    Object.assign(window, {
      showDirectoryPicker: async () =>
        (await navigator.storage.getDirectory()).getDirectoryHandle(folder, { create: true }),
    })
  }, name)

/**
 * A message at the foot of a page. It is read out from a copy of its own for a second: text alone would find both.
 * Found by what it is made of, as an open dialog hides the roles of all that is beside it.
 */
export const told = (page: Page, text: string | RegExp): Locator =>
  page.locator('[role=region][aria-label^=Notifications]').getByText(text)
