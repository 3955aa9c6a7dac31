import { type ChildProcess, fork } from 'node:child_process'
import { readdirSync, readFileSync } from 'node:fs'
import { createServer } from 'node:net'
import { join } from 'node:path'
import { setTimeout as pause } from 'node:timers/promises'
import pg from 'pg'
import type { BenchOptions } from './options.ts'

export type Served = Awaited<ReturnType<typeof serve>>
export type ServePlace = Pick<BenchOptions, 'root' | 'folder' | 'databaseUrl'>

/**
 * The built server as a process of its own, with an owner signed in.
 * @param name Of its database and of its cache: each has its own.
 */
export async function serve(
  { root, folder, databaseUrl }: ServePlace,
  name: string,
  more: Record<string, string> = {},
) {
  const admin = new pg.Client({ connectionString: databaseUrl })
  await admin.connect()
  await admin.query(`create database ${name}`)
  await admin.end()
  const url = databaseUrl.replace(/\/[^/]+$/, `/${name}`)
  const cacheFolder = join(folder, name)
  const { origin, child } = await startServer(root, { url, cacheFolder, more })
  const database = new pg.Client({ connectionString: url })
  await database.connect()
  let cookie = ''
  const ask = async (path: string, init: RequestInit = {}) => {
    const response = await fetch(`${origin}${path}`, { ...init, headers: { origin, cookie, ...init.headers } })
    if (!response.ok) throw new Error(`${path} answered ${response.status}: ${await response.text()}`)
    cookie ||= response.headers
      .getSetCookie()
      .map((each) => each.split(';')[0])
      .join('; ')
    return response
  }
  const json = async (path: string, init?: RequestInit) => (await ask(path, init)).json()
  const post = (path: string, body: object = {}, method = 'POST') =>
    json(path, { method, headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) })
  await post('/api/session/owner', {
    name: 'Bench',
    workspace: 'Bench',
    email: 'bench@test.example',
    password: 'barges-tallow-nine-51',
  })
  return {
    origin,
    url,
    cacheFolder,
    database,
    /** What the owner is signed in by. */
    cookie: () => cookie,
    ask,
    json,
    post,
    peakMib: () => statusMib(child.pid ?? 0, 'VmHWM'),
    /** Memory of the server and of the processes that work for it, MiB. */
    nowMib: () => [child.pid ?? 0, ...childrenOf(child.pid ?? 0)].map((pid) => statusMib(pid, 'VmRSS')),
    async close() {
      await database.end()
      await ended(child)
    },
  }
}

/** One more built server as a process of its own, on a database that may serve others too; it ends with this process. */
export async function startServer(
  root: string,
  { url, cacheFolder, more }: { url: string; cacheFolder: string; more: Record<string, string> },
): Promise<{ origin: string; child: ChildProcess }> {
  const port = await freePort()
  const child = fork(join(root, 'server/dist/main.mjs'), {
    stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
    env: {
      ...process.env,
      NODE_ENV: 'production',
      SATCHEL_DATABASE_URL: url,
      SATCHEL_CACHE: cacheFolder,
      SATCHEL_DEMO: '0',
      SATCHEL_SECRET: 'bench-secret-0123456789abcdef0123456789',
      SATCHEL_PORT: String(port),
      SATCHEL_LOG: 'error',
      ...more,
    },
  })
  process.once('exit', () => child.kill())
  await new Promise((done) => child.once('message', done))
  return { origin: `http://127.0.0.1:${port}`, child }
}

/**
 * Uploads pictures into a new ledger and waits until they are read.
 * @param everyMs How often is asked: each time all lines are counted. @param told What is asked for, each time.
 */
export async function gather(
  { ask, json, post }: Served,
  files: Record<string, Uint8Array>,
  everyMs = 100,
  told?: (files: { read: number; total: number }) => void,
): Promise<string> {
  const { id } = await post('/api/gathers')
  for (const [path, body] of Object.entries(files))
    await ask(`/api/gathers/${id}/files?path=${path}`, { method: 'PUT', body: new Uint8Array(body) })
  for (;;) {
    const { reading, files } = await json(`/api/gathers/${id}`)
    told?.(files)
    if (!reading && files.read === files.total) return id
    await pause(everyMs)
  }
}

/** What the system says of a process that may be gone by now. */
function statusMib(pid: number, what: 'VmHWM' | 'VmRSS'): number {
  try {
    const [, kib = '0'] = new RegExp(`${what}:\\s+(\\d+)`).exec(readFileSync(`/proc/${pid}/status`, 'utf8')) ?? []
    return Number(kib) / 1024
  } catch {
    return 0
  }
}

function childrenOf(pid: number): number[] {
  return readdirSync('/proc')
    .filter((name) => /^\d+$/.test(name))
    .map(Number)
    .filter((each) => {
      try {
        // pid (name) state parent
        return readFileSync(`/proc/${each}/stat`, 'utf8').split(') ').at(-1)?.split(' ')[1] === String(pid)
      } catch {
        return false
      }
    })
}

const freePort = (): Promise<number> =>
  new Promise((done) => {
    const probe = createServer().listen(0, '127.0.0.1', () => {
      const address = probe.address()
      probe.close(() => done(typeof address === 'object' ? (address?.port ?? 0) : 0))
    })
  })

const ended = (child: ChildProcess) =>
  new Promise((done) => {
    child.once('exit', done)
    child.kill()
  })
