import { mkdtempSync, rmSync } from 'node:fs'
import type { AddressInfo } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import type { ServerType } from '@hono/node-server'
import { sql } from 'drizzle-orm'
import pg from 'pg'
import { createWorkspace } from '../db/members.ts'
import { createLog } from '../log.ts'
import type { AccessLimitOptions } from '../people/limits.ts'
import { assembleServer, listen, type RunningParts, type ServerOptions } from '../server.ts'
import { TEMPLATE } from './postgres-setup.ts'

const here = (path: string) => fileURLToPath(new URL(path, import.meta.url))

export type Person = {
  workspaceId: string
  cookie: string
  /** A request with this person's cookies, from the page's own origin. */
  request(path: string, init?: RequestInit): Promise<Response>
  json<Body>(path: string, init?: RequestInit): Promise<Body>
  post<Body>(path: string, body?: unknown, method?: string): Promise<Body>
  upload(gatherId: string, path: string, bytes: Uint8Array): Promise<Response>
}

export type TestServer = {
  url: string
  parts: RunningParts
  /** What listens. */
  listener: ServerType
  owner(email?: string): Promise<Person>
  /** What it has written down so far, a line each. */
  logged(): Record<string, unknown>[]
  close(): Promise<void>
}

const PASSWORD = 'marsh-samphire-9'

/** A whole server on a new database of its own, listening on a free port. */
export async function startTestServer(
  databaseUrl: string,
  options: {
    signInsPerMinute?: number
    trustedProxies?: string
    limits?: AccessLimitOptions
    workspaceGb?: number
    mailing?: ServerOptions['mailing']
    exchanges?: readonly string[]
  } = {},
): Promise<TestServer> {
  const name = `t${process.pid}_${Date.now()}`
  const admin = new pg.Client({ connectionString: databaseUrl })
  await admin.connect()
  // a cluster that a test has started for itself has no template: there it is migrated
  const { rowCount } = await admin.query('select from pg_database where datname = $1', [TEMPLATE])
  await admin.query(`create database ${name}${rowCount ? ` template ${TEMPLATE}` : ''}`)
  await admin.end()
  const folder = mkdtempSync(join(tmpdir(), 'satchel-server-'))
  const probe = await listen({ fetch: () => new Response() } as never, { host: '127.0.0.1', port: 0 })
  const { port } = probe.address() as AddressInfo
  await new Promise((done) => probe.close(done))
  const url = `http://127.0.0.1:${port}`
  const watch = watchLog()
  const parts = await assembleServer({
    starters: false,
    strictConnections: true,
    // other tests run beside these, and would starve what gives way
    niceness: 0,
    databaseUrl: databaseUrl.replace(/\/[^/]+$/, `/${name}`),
    cacheFolder: folder,
    migrationsFolder: here('../../drizzle'),
    workerFile: here('../../dist/worker.mjs'),
    origin: url,
    secret: 'a-secret-for-tests-only-0123456789abcdef',
    ...options,
    signInsPerMinute: options.signInsPerMinute ?? 10_000,
    log: watch.log,
  })
  const server = await listen(parts.app, { host: '127.0.0.1', port })
  // Tests block the loop for longer than idle connections are kept: they would be closed under the next request.
  if ('keepAliveTimeout' in server) server.keepAliveTimeout = 0
  let people = 0
  return {
    url,
    parts,
    listener: server,
    logged: () => watch.lines.map((line) => JSON.parse(line)),
    async owner(email = `owner${++people}@test.example`) {
      const { user } = await parts.deps.auth.api.signUpEmail({
        body: { name: 'Test Owner', email, password: PASSWORD },
      })
      const workspaceId = await createWorkspace(parts.deps.db, `Workspace of ${email}`, user.id)
      const cookie = await signIn(url, email, PASSWORD)
      return createPerson(url, workspaceId, cookie, watch.keepSecret)
    },
    async close() {
      // Where the test ended the database, what it knows itself must do.
      const sessions = await parts.deps.db.execute(sql`select token from session`).catch(() => ({ rows: [] }))
      const told = watch.findSecret(sessions.rows.map(({ token }) => String(token)))
      if ('closeAllConnections' in server) server.closeAllConnections()
      await new Promise((done) => server.close(done))
      await parts.close()
      rmSync(folder, { recursive: true, force: true })
      if (told) throw new Error(`a secret stands in the log: ${told}`)
    },
  }
}

export async function signIn(url: string, email: string, password: string): Promise<string> {
  const response = await fetch(`${url}/api/auth/sign-in/email`, {
    method: 'POST',
    headers: { origin: url, 'content-type': 'application/json' },
    body: JSON.stringify({ email, password }),
  })
  if (!response.ok) throw new Error(`sign-in answered ${response.status}`)
  return response.headers
    .getSetCookie()
    .map((cookie) => cookie.split(';')[0])
    .join('; ')
}

/** The log of a test server: nothing that is secret may ever stand in it, whatever the test is about. */
function watchLog() {
  const lines: string[] = []
  const secrets = [PASSWORD]
  const write = (line: string) => {
    lines.push(line)
    if (process.env.SATCHEL_LOG) process.stdout.write(line)
  }
  return {
    lines,
    log: createLog(process.env.SATCHEL_LOG ?? 'info', { write }),
    keepSecret: (secret: string) => void secrets.push(secret),
    findSecret: (more: readonly string[]) =>
      lines.find((line) => [...secrets, ...more].some((secret) => line.includes(secret))),
  }
}

function createPerson(url: string, workspaceId: string, cookie: string, keepSecret: (secret: string) => void): Person {
  const request: Person['request'] = (path, init = {}) =>
    fetch(`${url}${path}`, { ...init, headers: { origin: url, cookie, ...init.headers } })
  const json = async <Body>(path: string, init?: RequestInit): Promise<Body> => {
    const response = await request(path, init)
    if (!response.ok) throw new Error(`${path} answered ${response.status}: ${await response.text()}`)
    const body = (await response.json()) as Body
    const link = (body as { link?: unknown } | null)?.link
    if (typeof link === 'string') keepSecret(link.split('/').at(-1) ?? link)
    return body
  }
  return {
    workspaceId,
    cookie,
    request,
    json,
    post: (path, body, method = 'POST') =>
      json(path, {
        method,
        headers: { 'content-type': 'application/json' },
        body: body === undefined ? null : JSON.stringify(body),
      }),
    upload: (gatherId, path, bytes) =>
      request(`/api/gathers/${gatherId}/files?path=${encodeURIComponent(path)}`, {
        method: 'PUT',
        body: new Uint8Array(bytes),
      }),
  }
}

/**
 * Waits until `check` gives something; a job runs on its own time. What works for jobs gives way to all else on the machine,
 * other tests too: the bound only says when to give up.
 */
export async function until<Result>(
  check: () => Promise<Result | undefined | false>,
  withinMs = 240_000,
): Promise<Result> {
  const end = Date.now() + withinMs
  for (;;) {
    const result = await check()
    if (result) return result
    if (Date.now() > end) throw new Error('it did not come about in time')
    await new Promise((done) => setTimeout(done, 50))
  }
}

/** The sentence of a refusal. */
export async function sentenceOf(response: Response): Promise<string> {
  const body = (await response.json()) as { title: string }
  return body.title
}
