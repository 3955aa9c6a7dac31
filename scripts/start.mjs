// Brings up database and server together, and takes both down again.
import { fork, spawn } from 'node:child_process'
import { randomBytes, randomUUID } from 'node:crypto'
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs'
import { createServer } from 'node:net'
import { networkInterfaces } from 'node:os'
import { dirname, join, resolve } from 'node:path'
import { fileURLToPath } from 'node:url'
import { parseArgs } from 'node:util'
import { buildIfNeeded } from './build-if-needed.mjs'
import { SetupError, startPostgres } from './postgres.mjs'

const root = resolve(dirname(fileURLToPath(import.meta.url)), '..')
const DEFAULT_PORT = 4860
const USAGE = `./start [--port N] [--network] [--empty] [--dev]
  --port N   serve on this port (default ${DEFAULT_PORT})
  --network  serve for phones and computers of this network too, not for this one alone
  --empty    start without demo data; the first visit makes the owner
  --dev      reload page and server when a source file changes`

async function main() {
  const options = readOptions()
  if (options.help) return console.log(USAGE)
  const port = options.port
  await checkPortFree(port)
  const address = options.network ? networkAddress() : '127.0.0.1'
  const data = resolve(root, process.env.SATCHEL_DATA ?? 'data')
  mkdirSync(data, { recursive: true })
  if (existsSync(join(data, 'secret.restoring')))
    throw new SetupError('A backup was being restored here, and that broke off: run ./satchel restore again first.')
  buildIfNeeded(root)
  const postgres = await startPostgres(join(data, 'postgres'), { keepUp: true })
  // mails go to a stand-in on this machine, unless somebody says where else
  const origin = process.env.SATCHEL_ORIGIN ?? `http://${address}:${port}`
  const mailbox = process.env.SATCHEL_SMTP ? undefined : await startMailbox(join(data, 'mailbox'), origin)
  const kiosk = await startKiosk(data, { origin, isDemo: !options.empty })
  // others are reached where somebody says which
  const exchange = process.env.SATCHEL_EXCHANGES ? undefined : await startExchange(join(data, 'exchange'))
  const serverPort = options.dev ? port + 1 : port
  if (options.dev) await checkPortFree(serverPort).catch((error) => postgres.stop().then(() => Promise.reject(error)))
  const env = {
    ...process.env,
    NODE_ENV: options.dev ? 'development' : 'production',
    SATCHEL_DATABASE_URL: postgres.url,
    SATCHEL_CACHE: join(data, 'cache'),
    SATCHEL_SECRET: secretOf(join(data, 'secret')),
    SATCHEL_PORT: String(serverPort),
    SATCHEL_ORIGIN: origin,
    SATCHEL_KIOSK: kiosk.page,
    ...(exchange ? { SATCHEL_EXCHANGES: exchange.page } : {}),
    ...(options.empty ? {} : { SATCHEL_KIOSK_ID: kiosk.id, SATCHEL_KIOSK_SECRET: kiosk.secret }),
    ...(options.network ? { SATCHEL_HOST: '0.0.0.0' } : {}),
    SATCHEL_DEMO: options.empty ? '0' : '1',
    ...(options.dev ? { SATCHEL_HOSTS: `127.0.0.1:${serverPort}` } : {}),
    SATCHEL_LOG_FILE: join(data, 'server.log'),
    ...(mailbox
      ? {
          SATCHEL_SMTP: mailbox.smtp,
          SATCHEL_MAIL_FROM: process.env.SATCHEL_MAIL_FROM ?? 'Tidewrack Studio <hello@tidewrack.example>',
          SATCHEL_MAILBOX: mailbox.page,
          SATCHEL_BOUNCES: 'bounces@tidewrack.example',
        }
      : {}),
    SATCHEL_LOG: process.env.SATCHEL_LOG ?? (options.dev ? 'info' : 'warn'),
  }
  const children = [
    startServer(env, options.dev),
    ...(mailbox ? [mailbox.child] : []),
    kiosk.child,
    ...(exchange ? [exchange.child] : []),
  ]
  if (options.dev)
    children.push(
      spawn('npx', ['vite', '--port', String(port), '--strictPort', '--host', '127.0.0.1'], {
        cwd: join(root, 'web'),
        stdio: 'inherit',
        env: { ...env, SATCHEL_API: `http://127.0.0.1:${serverPort}` },
      }),
    )

  let stopping = false
  const stop = async (code) => {
    if (stopping) return
    stopping = true
    await Promise.all(children.map(endChild))
    await postgres.stop()
    process.exit(code)
  }
  process.on('SIGINT', () => stop(0))
  process.on('SIGTERM', () => stop(0))
  children[0].on('message', (message) => {
    if (message === 'ready')
      greet(env.SATCHEL_ORIGIN, { ...options, mailbox: mailbox?.page, kiosk: kiosk.page, exchange: exchange?.page })
  })
  for (const child of children) child.on('exit', (code) => stop(code ?? 1))
}

function readOptions() {
  try {
    const { values } = parseArgs({
      options: {
        port: { type: 'string' },
        network: { type: 'boolean' },
        empty: { type: 'boolean' },
        dev: { type: 'boolean' },
        help: { type: 'boolean', short: 'h' },
      },
    })
    const port = values.port === undefined ? DEFAULT_PORT : Number(values.port)
    if (!Number.isInteger(port) || port < 1 || port > 65535)
      throw new SetupError(`--port takes a number from 1 to 65535, not "${values.port}".`)
    if (values.network && values.dev)
      throw new SetupError('--network and --dev do not go together; leave one of them out.')
    return { ...values, port }
  } catch (error) {
    if (error instanceof SetupError) throw error
    throw new SetupError(`${error.message}\n${USAGE}`)
  }
}

/** The address by which other machines of the network reach this one. */
function networkAddress() {
  const addresses = Object.values(networkInterfaces()).flat()
  const found = addresses.find(({ family, internal }) => family === 'IPv4' && !internal)
  if (!found) throw new SetupError('This machine is in no network just now; connect it, or start without --network.')
  return found.address
}

function checkPortFree(port) {
  return new Promise((done, fail) => {
    const probe = createServer()
    probe.once('error', (error) => {
      if (error.code === 'EADDRINUSE')
        fail(new SetupError(`Port ${port} is in use by another program; stop it or choose another with --port.`))
      else if (error.code === 'EACCES')
        fail(new SetupError(`Port ${port} needs more rights than this account has; choose one above 1023 with --port.`))
      else fail(error)
    })
    probe.listen(port, '127.0.0.1', () => probe.close(done))
  })
}

/** A secret of this install, made once: it signs the session cookies. */
function secretOf(file) {
  if (!existsSync(file)) writeFileSync(file, randomBytes(32).toString('hex'), { mode: 0o600 })
  return readFileSync(file, 'utf8').trim()
}

/** The stand-in mailbox, once it listens. */
function startMailbox(folder, origin) {
  const child = fork(join(root, 'server/dist/mailbox.mjs'), {
    env: { ...process.env, SATCHEL_MAILBOX_FOLDER: folder, SATCHEL_MAILBOX_RETURNS: `${origin}/api/bounces` },
    stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
    detached: true,
  })
  return new Promise((done, fail) => {
    child.once('message', ({ smtp, page }) => done({ child, smtp, page }))
    child.once('exit', (code) => fail(new SetupError(`The stand-in mailbox ended with ${code}.`)))
  })
}

/** The stand-in exchange, once it listens; at the same port as before, by which what came from it is known. */
async function startExchange(folder) {
  mkdirSync(folder, { recursive: true })
  const file = join(folder, 'port')
  const known = existsSync(file) ? Number(readFileSync(file, 'utf8')) : undefined
  const isFree =
    known &&
    (await checkPortFree(known).then(
      () => true,
      () => false,
    ))
  const child = fork(join(root, 'server/dist/exchange.mjs'), {
    env: {
      ...process.env,
      SATCHEL_EXCHANGE_FOLDER: folder,
      SATCHEL_EXCHANGE_STOCK: '1',
      SATCHEL_EXCHANGE_PORT: isFree ? String(known) : '0',
    },
    stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
    detached: true,
  })
  const page = await new Promise((done, fail) => {
    child.once('message', (message) => done(message.page))
    child.once('exit', (code) => fail(new SetupError(`The stand-in exchange ended with ${code}.`)))
  })
  writeFileSync(file, new URL(page).port)
  return { child, page }
}

/** The stand-in shop, once it listens; in the demo it tells the server of its sales. */
function startKiosk(data, { origin, isDemo }) {
  const folder = join(data, 'kiosk')
  mkdirSync(folder, { recursive: true })
  const known = (name, make) => {
    const file = join(folder, name)
    if (!existsSync(file)) writeFileSync(file, make(), { mode: 0o600 })
    return readFileSync(file, 'utf8').trim()
  }
  const id = known('id', randomUUID)
  const secret = known('secret', () => `whsec_${randomBytes(32).toString('base64')}`)
  const demo = {
    SATCHEL_KIOSK_TELLS: `${origin}/api/sales/${id}`,
    SATCHEL_KIOSK_SECRET: secret,
    SATCHEL_KIOSK_DEMO: '1',
  }
  const child = fork(join(root, 'server/dist/kiosk.mjs'), {
    env: { ...process.env, SATCHEL_KIOSK_FOLDER: folder, ...(isDemo ? demo : {}) },
    stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
    detached: true,
  })
  return new Promise((done, fail) => {
    child.once('message', ({ page }) => done({ child, page, id, secret }))
    child.once('exit', (code) => fail(new SetupError(`The stand-in shop ended with ${code}.`)))
  })
}

function startServer(env, dev) {
  const stdio = ['ignore', 'inherit', 'inherit', 'ipc']
  if (!dev) return fork(join(root, 'server/dist/main.mjs'), { env, stdio, detached: true })
  return spawn(process.execPath, ['server/watch.mjs'], { env, stdio, cwd: root, detached: true })
}

function endChild(child) {
  if (child.exitCode !== null || child.signalCode !== null) return undefined
  return new Promise((done) => {
    child.once('exit', done)
    child.kill('SIGTERM')
  })
}

function greet(origin, { empty, mailbox, kiosk, exchange }) {
  console.log(`\nGentle Satchel is at ${origin}`)
  if (mailbox) console.log(`Mails that it sends stay on this machine, and are shown at ${mailbox}`)
  console.log(`A small shop to try selling with is at ${kiosk}`)
  if (exchange) console.log(`An exchange with six makers to try taking and sharing with is at ${exchange}`)
  if (empty) console.log('The first visit makes the owner.')
  else console.log('Demo sign-in: maren@tidewrack.example with the password saltmarsh-demo')
  console.log('Ctrl-C stops it.\n')
}

main().catch((error) => {
  console.error(error instanceof SetupError ? error.message : error)
  process.exit(1)
})
