import { execFile, spawn } from 'node:child_process'
import { once } from 'node:events'
import { mkdirSync, mkdtempSync, renameSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { createInterface } from 'node:readline'
import { fileURLToPath } from 'node:url'
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest'
import { type Person, startTestServer, type TestServer } from '../testing/test-server.ts'
import { blotPng } from '../testing/tips.ts'

/** The command line as it is built. */
const SHELL = fileURLToPath(new URL('../../../cli/dist/main.mjs', import.meta.url))

let server: TestServer
let owner: Person
let folder: string
beforeAll(async () => {
  server = await startTestServer(inject('databaseUrl'))
  owner = await server.owner()
  folder = mkdtempSync(join(tmpdir(), 'satchel-shell-'))
})
afterAll(async () => {
  rmSync(folder, { recursive: true, force: true })
  await server.close()
})

const tokenTo = async (scope: string) =>
  (await owner.post<{ token: string }>('/api/tokens', { name: 'Shell', scope, days: 1 })).token

/** Runs a command of the shell. @returns What it printed, and its exit code. */
const run = (token: string, ...args: string[]) =>
  new Promise<{ out: string; said: string; code: number }>((done) => {
    const env = { ...process.env, SATCHEL_AT: server.url, SATCHEL_TOKEN: token }
    execFile(process.execPath, [SHELL, 'workspace', ...args], { env }, (error, out, said) =>
      done({ out, said, code: error ? Number(error.code) : 0 }),
    )
  })
const json = async (token: string, ...args: string[]) => {
  const { out, said, code } = await run(token, ...args, '--json')
  expect([code, said]).toEqual([0, ''])
  return JSON.parse(out)
}

describe('the shell, by a token', () => {
  it('gathers a folder, lists, measures, releases and hands out', async () => {
    const token = await tokenTo('work')
    mkdirSync(join(folder, 'Evening', 'Reeds'), { recursive: true })
    writeFileSync(join(folder, 'Evening', 'blot.png'), blotPng(1))
    writeFileSync(join(folder, 'Evening', 'Reeds', 'reed.png'), blotPng(2))
    writeFileSync(join(folder, 'Evening', 'broken.png'), 'no picture')
    writeFileSync(join(folder, 'Evening', '.hidden.png'), blotPng(3))
    const gathered = await json(token, 'gather', join(folder, 'Evening'), '--take')
    expect(gathered).toMatchObject({ files: 3, take: 2, taken: 2 })
    expect(gathered.refuse + gathered.skip).toBe(1)
    const listed = await json(token, 'list')
    expect(listed.map(({ name }: { name: string }) => name).sort()).toEqual(['blot', 'reed'])
    expect((await run(token, 'list', '--find', 'reed')).out).toContain('reed (')
    expect(await json(token, 'fit')).toMatchObject({ state: 'done' })

    const { sets } = await owner.json<{ sets: { id: string }[] }>('/api/sets')
    const { id } = await owner.post<{ id: string }>('/api/packs', {
      title: 'Shore Kit',
      maker: 'Wren',
      licence: 'CC0-1.0',
    })
    await owner.post(`/api/packs/${id}/sets`, { setIds: sets.map((set) => set.id) }, 'PUT')
    const none = await run(token, 'hand-out', 'Shore Kit', 'Wren')
    expect([none.code, none.said]).toEqual([2, expect.stringContaining('has no release')])
    expect(await json(token, 'release', 'Shore Kit', '1.0.0', '--notes', 'First.')).toMatchObject({ version: '1.0.0' })
    const { out, code } = await run(token, 'hand-out', 'Shore Kit', 'Wren')
    expect([code, out.trim()]).toEqual([0, expect.stringMatching(new RegExp(`^${server.url}/h/[\\w-]+$`))])
    expect((await fetch(out.trim().replace('/h/', '/api/h/'))).status).toBe(200)
  })

  it('follows a folder, also after it was killed in the middle', async () => {
    const token = await tokenTo('work')
    const sketches = join(folder, 'Sketches')
    mkdirSync(sketches)
    writeFileSync(join(sketches, 'fern.png'), blotPng(21))
    const nothing = { changed: 0, fresh: 0, found: 0, renamed: 0, gone: 0, refused: 0 }
    const lookOnce = async () => {
      const { folder: _, ...counts } = await json(token, 'watch', sketches, '--once')
      return counts
    }
    expect(await lookOnce()).toEqual({ ...nothing, fresh: 1 })
    const { id } = await owner.json<{ id: string }>('/api/gathers/current')
    await owner.post(`/api/gathers/${id}/take`)

    const running = spawn(process.execPath, [SHELL, 'watch', sketches, '--json', '--at', server.url], { env: { ...process.env, SATCHEL_TOKEN: token } }) // biome-ignore format: one program
    const said = createInterface({ input: running.stdout })
    const next = async () => JSON.parse((await once(said, 'line'))[0] as string) as object
    try {
      writeFileSync(join(sketches, 'fern.png'), blotPng(22))
      expect(await next()).toMatchObject({ ...nothing, changed: 1 })
      writeFileSync(join(sketches, 'moss.png'), blotPng(23))
      renameSync(join(sketches, 'fern.png'), join(sketches, 'bracken.png'))
      expect(await next()).toMatchObject({ renamed: 1, fresh: 1 })
    } finally {
      running.kill('SIGKILL')
    }
    writeFileSync(join(sketches, 'bracken.png'), blotPng(24))
    expect(await lookOnce()).toEqual({ ...nothing, changed: 1 })
    const { brushes } = await owner.json<{ brushes: { id: string; name: string }[] }>('/api/brushes?q=fern')
    const fern = await owner.json<{ version: number }>(`/api/brushes/${brushes[0]?.id}`)
    expect([brushes.map(({ name }) => name), fern.version]).toEqual([['fern'], 3])
    const { id: left } = await owner.json<{ id: string }>('/api/gathers/current')
    await owner.post(`/api/gathers/${left}/cancel`)
  })

  it('says in a sentence what is refused, and changes nothing', async () => {
    const looks = await tokenTo('read')
    const refused = await run(looks, 'gather', folder)
    expect([refused.code, refused.said]).toEqual([1, expect.stringContaining('This token may look')])
    // what others have put into the ledger is not taken in along the way
    const { id } = await owner.post<{ id: string }>('/api/gathers')
    await owner.upload(id, 'Waits/wren.png', blotPng(9))
    const busy = await run(await tokenTo('work'), 'gather', folder, '--take')
    expect([busy.code, busy.said]).toEqual([1, expect.stringContaining('other files wait in the ledger')])
    const unknown = await run(looks, 'release', 'No such pack', '1.0.0')
    expect([unknown.code, unknown.said]).toEqual([1, expect.stringContaining('there is no pack "No such pack"')])
    const wrong = await run('satchel_nothing', 'list')
    expect([wrong.code, wrong.said]).toEqual([1, expect.stringContaining('This token has ended')])
    const nothing = await run(looks, 'gather', join(folder, 'not-there'))
    expect([nothing.code, nothing.said]).toEqual([1, expect.stringContaining('no such file')])
  })
})
