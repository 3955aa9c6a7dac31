import { type ChildProcess, fork, spawnSync } from 'node:child_process'
import {
  chmodSync,
  closeSync,
  fstatSync,
  ftruncateSync,
  mkdtempSync,
  openSync,
  readFileSync,
  rmSync,
  writeSync,
} from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { freePort, startPostgres } from '../../../scripts/postgres.mjs'
import { signIn } from './test-server.ts'

const MAIN = fileURLToPath(new URL('../../dist/main.mjs', import.meta.url))
const OWNER = { name: 'Ida', workspace: 'Marsh', email: 'ida@marsh.example', password: 'samphire-and-salt' }

export type WholeServer = Awaited<ReturnType<typeof startWholeServer>>

const mount = (...args: string[]) => spawnSync('mount', args, { stdio: 'ignore' }).status === 0

/** Whether a small disk can be laid into a folder here: only the system's administrator may. */
export function canMountDisks(): boolean {
  const folder = mkdtempSync(join(tmpdir(), 'satchel-disk-'))
  const can = mount('-t', 'tmpfs', '-o', 'size=1m', 'tmpfs', folder)
  if (can) spawnSync('umount', ['-l', folder])
  rmSync(folder, { recursive: true })
  return can
}

/**
 * The built server as a process of its own, on a cluster of its own; either can be stopped, killed and started again.
 * @param options.diskMb Where all of it lies on a disk of its own, of so many MB, that can be filled.
 */
export async function startWholeServer({ diskMb }: { diskMb?: number } = {}) {
  const folder = mkdtempSync(join(tmpdir(), 'satchel-drill-'))
  if (diskMb && !mount('-t', 'tmpfs', '-o', `size=${diskMb}m`, 'tmpfs', folder)) throw new Error('no disk was mounted')
  chmodSync(folder, 0o755)
  const ballast = join(folder, 'ballast')
  const postgresPort = await freePort()
  let postgres = await startPostgres(join(folder, 'postgres'), { port: postgresPort, durable: true })
  const port = await freePort()
  const url = `http://127.0.0.1:${port}`
  const cacheFolder = join(folder, 'cache')
  const lines: Record<string, unknown>[] = []
  let child: ChildProcess | undefined
  let cookie = ''

  async function start(more: Record<string, string> = {}): Promise<void> {
    const started = fork(MAIN, {
      stdio: ['ignore', 'pipe', 'pipe', 'ipc'],
      env: {
        ...process.env,
        NODE_ENV: 'production',
        SATCHEL_DATABASE_URL: postgres.url,
        SATCHEL_CACHE: cacheFolder,
        SATCHEL_ORIGIN: url,
        SATCHEL_SECRET: 'drill-secret-0123456789abcdef0123456789',
        SATCHEL_PORT: String(port),
        SATCHEL_LOG: 'info',
        SATCHEL_SIGN_INS_PER_MINUTE: '1000',
        ...more,
      },
    })
    child = started
    let rest = ''
    started.stdout?.on('data', (chunk: Buffer) => {
      const all = (rest + chunk.toString()).split('\n')
      rest = all.pop() ?? ''
      for (const line of all) if (line.startsWith('{')) lines.push(JSON.parse(line))
    })
    started.stderr?.on('data', (chunk: Buffer) => lines.push({ level: 60, msg: chunk.toString() }))
    await new Promise<void>((done, fail) => {
      started.once('message', () => done())
      started.once('exit', (code) =>
        fail(new Error(`the server ended with ${code}: ${JSON.stringify(lines.slice(-3))}`)),
      )
    })
  }

  const end = (signal: NodeJS.Signals): Promise<number> => {
    const began = performance.now()
    if (!child || child.exitCode !== null || child.signalCode !== null) return Promise.resolve(0)
    return new Promise((done) => {
      child?.once('exit', () => done(performance.now() - began))
      child?.kill(signal)
    })
  }
  const request = (path: string, init: RequestInit = {}) =>
    fetch(`${url}${path}`, { ...init, headers: { origin: url, cookie, ...init.headers } })
  const send = async <Body>(path: string, method: string, body?: unknown): Promise<Body> => {
    const answer = await request(path, {
      method,
      ...(body === undefined ? {} : { headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) }),
    })
    if (!answer.ok) throw new Error(`${path} answered ${answer.status}: ${await answer.text()}`)
    return (await answer.json()) as Body
  }

  await start()
  await send('/api/session/owner', 'POST', OWNER)
  cookie = await signIn(url, OWNER.email, OWNER.password)
  return {
    url,
    cacheFolder,
    /** All that it has written down. */
    lines,
    start,
    /** Ends the server. @returns How long that took, ms. */
    end,
    isAlive: () => child?.exitCode === null && child.signalCode === null,
    request,
    json: <Body>(path: string) => send<Body>(path, 'GET'),
    post: <Body>(path: string, body?: unknown) => send<Body>(path, 'POST', body),
    /** Signs in anew, as after a year. */
    async signIn() {
      cookie = await signIn(url, OWNER.email, OWNER.password)
    },
    database: {
      stop: () => postgres.stop(),
      async kill() {
        const pid = Number(readFileSync(join(folder, 'postgres/cluster/postmaster.pid'), 'utf8').split('\n')[0])
        process.kill(pid, 'SIGKILL')
        await postgres.stop()
      },
      isUp: () => postgres.isUp(),
      async start() {
        postgres = await startPostgres(join(folder, 'postgres'), { port: postgresPort, durable: true })
      },
    },
    disk: {
      /** Fills it to the last byte, and leaves `spareBytes` of it. */
      fill(spareBytes = 0) {
        const file = openSync(ballast, 'a')
        const piece = Buffer.alloc(1024 * 1024, 7)
        for (let size = piece.length; size >= 4096; size /= 2)
          try {
            while (true) writeSync(file, piece, 0, size)
          } catch (error) {
            if ((error as NodeJS.ErrnoException).code !== 'ENOSPC') throw error
          }
        if (spareBytes > 0) ftruncateSync(file, Math.max(0, fstatSync(file).size - spareBytes))
        closeSync(file)
      },
      free: () => rmSync(ballast, { force: true }),
    },
    async close() {
      await end('SIGTERM')
      await postgres.stop()
      if (diskMb) spawnSync('umount', ['-l', folder])
      rmSync(folder, { recursive: true, force: true })
    },
  }
}
