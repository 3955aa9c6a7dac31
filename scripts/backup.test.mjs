// The drill of docs/recovery.md, and what can go wrong with a backup.
import { execFileSync, fork, spawn, spawnSync } from 'node:child_process'
import { createHash } from 'node:crypto'
import {
  chmodSync,
  cpSync,
  existsSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  statSync,
  writeFileSync,
} from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { freePort, startPostgres } from './postgres.mjs'

const folder = mkdtempSync(join(tmpdir(), 'satchel-backup-'))
chmodSync(folder, 0o755)
const data = join(folder, 'data')
const file = join(folder, 'kept.backup')
const sha = (bytes) => createHash('sha256').update(bytes).digest('hex')
const satchel = (args, env = {}) =>
  spawnSync('./satchel', args, { encoding: 'utf8', env: { ...process.env, SATCHEL_DATA: data, ...env } })

/** The built server on the data folder, as ./start runs it. */
async function serve(port, env = {}, umask = 0o022) {
  if (!existsSync(data)) execFileSync('mkdir', ['-p', data])
  const postgres = await startPostgres(join(data, 'postgres'))
  const secret = join(data, 'secret')
  if (!existsSync(secret)) writeFileSync(secret, 'a-secret-of-this-install-0123456789abcdef', { mode: 0o600 })
  const url = `http://127.0.0.1:${port}`
  const before = process.umask(umask)
  const child = fork('server/dist/main.mjs', {
    stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
    env: {
      ...process.env,
      NODE_ENV: 'production',
      SATCHEL_DATABASE_URL: postgres.url,
      SATCHEL_CACHE: join(data, 'cache'),
      SATCHEL_SECRET: readFileSync(secret, 'utf8'),
      SATCHEL_PORT: String(port),
      SATCHEL_ORIGIN: url,
      SATCHEL_LOG: 'error',
      SATCHEL_DEMO: '0',
      ...env,
    },
  })
  process.umask(before)
  await new Promise((done, fail) => {
    child.once('message', done)
    child.once('exit', (code) => fail(new Error(`the server ended with ${code}`)))
  })
  let cookie = ''
  const ask = async (path, method = 'GET', body) => {
    const response = await fetch(url + path, {
      method,
      headers: { origin: url, cookie, ...(body ? { 'content-type': 'application/json' } : {}) },
      ...(body ? { body: JSON.stringify(body) } : {}),
    })
    const set = response.headers.getSetCookie()
    if (set.length > 0) cookie = set.map((each) => each.split(';')[0]).join('; ')
    if (!response.ok) throw new Error(`${path} answered ${response.status}: ${await response.text()}`)
    return response
  }
  return {
    ask,
    json: async (...args) => (await ask(...args)).json(),
    cookie: () => cookie,
    takeCookie: (value) => {
      cookie = value
    },
    async stop() {
      child.removeAllListeners('exit')
      const ended = new Promise((done) => child.once('exit', done))
      child.kill('SIGTERM')
      await ended
      await postgres.stop()
    },
  }
}

/** Has a file made. @returns Its hash. */
async function fetchFile(server, wanted) {
  const { id } = await server.json('/api/parcels', 'POST', { wanted })
  for (;;) {
    const { parcels } = await server.json('/api/parcels')
    const { fileName, lost } = parcels.find((parcel) => parcel.id === id)
    if (lost) throw new Error(lost)
    if (fileName) break
    await new Promise((done) => setTimeout(done, 100))
  }
  return sha(Buffer.from(await (await server.ask(`/api/parcels/${id}/file`)).arrayBuffer()))
}
/** One of each kind of file: a zip, a PDF, a picture, the library. */
const fetchAll = (server, setId) =>
  Promise.all(
    [
      { kind: 'set', setId },
      { kind: 'setSheet', setId, paper: 'letter' },
      { kind: 'setPicture', setId },
      { kind: 'library' },
    ].map((wanted) => fetchFile(server, wanted)),
  )

let port
let known
beforeAll(async () => {
  port = await freePort()
  const server = await serve(port)
  await server.ask('/api/session/owner', 'POST', {
    ...{ name: 'Ida', workspace: 'Marsh', email: 'ida@marsh.example', password: 'samphire-and-salt' },
  })
  // what comes with the product comes a moment later
  const findStarter = async () => (await server.json('/api/sets')).sets.find((set) => set.starter)
  let starter = await findStarter()
  while (!starter) starter = await findStarter()
  const { id: own } = await server.json('/api/sets', 'POST', { name: 'Mine' })
  const { brushes } = await server.json(`/api/brushes?setId=${starter.id}&sort=set`)
  await server.ask(`/api/sets/${own}/brushes`, 'POST', { ids: brushes.slice(0, 2).map(({ id }) => id) })
  const { id } = await server.json('/api/packs', 'POST', { title: 'Shore', licence: 'CC0-1.0' })
  await server.ask(`/api/packs/${id}/sets`, 'PUT', { setIds: [own] })
  const release = await server.json(`/api/packs/${id}/releases`, 'POST', { version: '1.0.0', notes: '' })
  for (;;) {
    const { releases } = await server.json(`/api/packs/${id}`)
    if (releases[0].state === 'failed') throw new Error(releases[0].lost)
    if (releases[0].state === 'ready') break
    await new Promise((done) => setTimeout(done, 100))
  }
  const { link } = await server.json(`/api/packs/${id}/hand-outs`, 'POST', { releaseId: release.id, name: 'Tom' })
  const token = link.split('/').at(-1)
  const zip = Buffer.from(await (await server.ask(`/api/h/${token}/download`)).arrayBuffer())
  const key = await server.json('/api/signing/export', 'POST', {})
  known = {
    token,
    zip: sha(zip),
    key: sha(key.pem),
    cookie: server.cookie(),
    sets: (await server.json('/api/sets')).sets,
  }
  known.setId = own
  known.files = await fetchAll(server, own)
  // while the server runs
  const kept = satchel(['backup', file])
  expect([kept.status, kept.stderr]).toEqual([0, ''])
  expect(kept.stdout).toContain('checked')
  await server.stop()
}, 240_000)
afterAll(() => rmSync(folder, { recursive: true, force: true }))

describe('a backup', () => {
  it('is for nobody else to read, leaves nothing beside it, and can be looked at again', () => {
    expect(statSync(file).mode & 0o777).toBe(0o600)
    expect(readdirSync(folder).sort()).toEqual(['data', 'kept.backup'])
    expect(satchel(['backup', file, '--check'])).toMatchObject({ status: 0, stdout: `${file} is whole.\n` })
  })

  it('of a server that does not run is whole, too', () => {
    const other = join(folder, 'still.backup')
    expect(satchel(['backup', other]).status).toBe(0)
    expect(satchel(['backup', other, '--check']).status).toBe(0)
    rmSync(other)
  })

  it.each([
    ['cut short', (bytes) => bytes.subarray(0, Math.floor(bytes.length * 0.7))],
    [
      'one byte of it changed',
      (bytes) =>
        Buffer.concat([
          bytes.subarray(0, bytes.length / 2),
          Buffer.from([bytes[Math.floor(bytes.length / 2)] ^ 1]),
          bytes.subarray(bytes.length / 2 + 1),
        ]),
    ],
    ['something else', () => Buffer.from('no backup at all')],
    ['empty', () => Buffer.alloc(0)],
  ])('that is %s is refused, and the library stays', (_what, spoil) => {
    const spoilt = join(folder, 'spoilt')
    writeFileSync(spoilt, spoil(readFileSync(file)))
    for (const args of [
      ['backup', spoilt, '--check'],
      ['restore', spoilt, '--force'],
    ]) {
      const { status, stderr } = satchel(args)
      expect([status, stderr]).toEqual([1, `${spoilt} is no backup of Gentle Satchel, or not whole; choose another.\n`])
    }
    rmSync(spoilt)
    expect(existsSync(join(data, 'secret.restoring'))).toBe(false)
  })

  it('does not cover what is there unless it is told to', () => {
    const { status, stderr } = satchel(['restore', file])
    expect([status, stderr]).toEqual([1, expect.stringContaining('Add --force')])
  })

  it('says what it cannot do', () => {
    const says = (args, env) => {
      const { status, stderr } = satchel(args, env)
      return [status, stderr]
    }
    expect(says(['backup'])).toEqual([2, expect.stringContaining('It takes one file.')])
    expect(says(['backup', join(folder, 'none', 'x')])).toEqual([1, expect.stringContaining('Nothing can be written')])
    expect(says(['backup', join(folder, 'x')], { SATCHEL_DATA: join(folder, 'nothing') })).toEqual([
      1,
      expect.stringContaining('There is no library'),
    ])
    expect(says(['restore', join(folder, 'x'), '--force'])).toEqual([1, expect.stringContaining('is not there')])
  })

  it('that is killed leaves no half file in its place', async () => {
    const other = join(folder, 'killed.backup')
    const child = spawn('./satchel', ['backup', other], {
      env: { ...process.env, SATCHEL_DATA: data },
      stdio: 'ignore',
      detached: true,
    })
    const ended = new Promise((done) => child.once('exit', done))
    // as soon as anything of it is written
    while (!readdirSync(folder).some((name) => name.startsWith('.killed')))
      await new Promise((done) => setTimeout(done, 5))
    process.kill(-child.pid, 'SIGKILL')
    await ended
    expect(existsSync(other)).toBe(false)
    for (const name of readdirSync(folder).filter((each) => each.startsWith('.killed')))
      rmSync(join(folder, name), { recursive: true })
  })
})

describe('the drill', () => {
  it('lose the data folder, restore, everything is there: accounts, keys and links too', async () => {
    rmSync(data, { recursive: true, force: true })
    const back = satchel(['restore', file])
    expect([back.status, back.stderr]).toEqual([0, ''])
    expect(back.stdout).toContain('with 1 account.')
    // in another time zone and language, with files that nobody else may read
    const elsewhere = { TZ: 'Pacific/Auckland', LANG: 'tr_TR.UTF-8', LC_ALL: 'tr_TR.UTF-8' }
    const server = await serve(port, elsewhere, 0o077)
    // who was signed in still is
    server.takeCookie(known.cookie)
    expect((await server.json('/api/sets')).sets).toEqual(known.sets)
    // the link that was given still leads to the very same file
    const zip = Buffer.from(await (await server.ask(`/api/h/${known.token}/download`)).arrayBuffer())
    expect(sha(zip)).toBe(known.zip)
    expect(sha((await server.json('/api/signing/export', 'POST', {})).pem)).toBe(known.key)
    // what is made anew there is the same, byte for byte: nothing of it was kept but the database
    expect(await fetchAll(server, known.setId)).toEqual(known.files)
    await server.ask('/api/auth/sign-in/email', 'POST', { email: 'ida@marsh.example', password: 'samphire-and-salt' })
    // a running server is not restored over
    const over = satchel(['restore', file, '--force'])
    expect([over.status, over.stderr]).toEqual([1, expect.stringContaining('is running on this data folder')])
    await server.ask('/api/sets', 'POST', { name: 'Since then' })
    await server.stop()
  }, 120_000)

  it('restored over another state, that one goes, and a restore that broke off is told and can be done again', async () => {
    const old = readFileSync(join(data, 'secret'), 'utf8')
    cpSync(join(data, 'secret'), join(data, 'secret.restoring'))
    const start = spawnSync('node', ['scripts/start.mjs', '--port', String(await freePort()), '--empty'], {
      encoding: 'utf8',
      env: { ...process.env, SATCHEL_DATA: data },
    })
    expect([start.status, start.stderr]).toEqual([1, expect.stringContaining('run ./satchel restore again')])
    expect(satchel(['backup', join(folder, 'x')]).status).toBe(1)
    expect(satchel(['restore', file, '--force']).status).toBe(0)
    expect(existsSync(join(data, 'secret.restoring'))).toBe(false)
    expect(readFileSync(join(data, 'secret'), 'utf8')).toBe(old)
    const server = await serve(port)
    server.takeCookie(known.cookie)
    expect((await server.json('/api/sets')).sets).toEqual(known.sets)
    await server.stop()
  }, 120_000)
})
