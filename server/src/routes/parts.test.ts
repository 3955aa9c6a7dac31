import { execFileSync } from 'node:child_process'
import { randomUUID } from 'node:crypto'
import { existsSync, mkdtempSync, readFileSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { sql } from 'drizzle-orm'
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest'
import { takeInFiles } from '../testing/gather.ts'
import { type Person, startTestServer, type TestServer, until } from '../testing/test-server.ts'
import { blotPng } from '../testing/tips.ts'

type Page = {
  sets: { name: string; brushes: string[] }[]
  brushes: { id: string; name: string; frames: number }[]
  apps: { id: string; name: string; folder: string; files: number; bytes: number; refused: number; reasons: string[] }[]
  open: { files: number; bytes: number } | null
  satchel: { bytes: number } | null
}
type Arrives = {
  brushes: { id: string; files: number; bytes: number; arrives: { likeness: number; left: string[] } | null }[]
  sets: { files: number; bytes: number }[]
}

let server: TestServer
let person: Person
let packId = ''
let token = ''
let page: Page
const at = (path: string) => `${server.url}/api/h/${token}${path}`
const ask = async <Body>(path: string) => (await (await fetch(at(path))).json()) as Body
async function take(query: string) {
  const answer = await fetch(at(`/download${query}`))
  const name = decodeURIComponent(
    /filename="?([^";]+)"?/.exec(answer.headers.get('content-disposition') ?? '')?.[1] ?? '',
  )
  return { status: answer.status, name, url: answer.url, bytes: Buffer.from(await answer.arrayBuffer()) }
}
function unpack(zip: Uint8Array): { folder: string; paths: string[] } {
  const folder = mkdtempSync(join(tmpdir(), 'part-'))
  writeFileSync(join(folder, 'd.zip'), zip)
  execFileSync('unzip', ['-q', 'd.zip'], { cwd: folder })
  const listed = execFileSync('unzip', ['-Z1', 'd.zip'], { cwd: folder, encoding: 'utf8' })
  return { folder, paths: listed.trim().split('\n') }
}
async function release(version: string): Promise<string> {
  const { id } = await person.post<{ id: string }>(`/api/packs/${packId}/releases`, { version, notes: '' })
  await until(async () => {
    const { releases } = await person.json<{ releases: { id: string; state: string }[] }>(`/api/packs/${packId}`)
    return releases.find((each) => each.id === id)?.state === 'ready'
  }, 120_000)
  return id
}
async function handOut(releaseId: string, more: object = {}): Promise<string> {
  const wish = { releaseId, name: 'Ida', ...more }
  const { link } = await person.post<{ link: string }>(`/api/packs/${packId}/hand-outs`, wish)
  return link.split('/').at(-1) ?? ''
}
let releaseId = ''

beforeAll(async () => {
  server = await startTestServer(inject('databaseUrl'))
  person = await server.owner()
  await takeInFiles(person, {
    'Reeds/one.png': blotPng(1, 120),
    'Reeds/two.png': blotPng(2, 90),
    'Sand/three.png': blotPng(3),
  })
  const { sets } = await person.json<{ sets: { id: string; starter: boolean }[] }>('/api/sets')
  const own = sets.filter(({ starter }) => !starter).map(({ id }) => id)
  packId = (await person.post<{ id: string }>('/api/packs', { title: 'Shore', licence: 'CC0-1.0' })).id
  await person.post(`/api/packs/${packId}/sets`, { setIds: own }, 'PUT')
  await person.request(`/api/packs/${packId}`, {
    method: 'PATCH',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ destinationIds: ['dunlin', 'sanderling'] }),
  })
  releaseId = await release('1.0.0')
  token = await handOut(releaseId)
  page = await ask<Page>('')
}, 180_000)
afterAll(() => server.close())

describe('the right files for an app', () => {
  it('are told before they are fetched: how many, how large, and why it may not work', () => {
    expect(page.apps.map(({ name }) => name)).toEqual(['Dunlin', 'Sanderling'])
    for (const { files, bytes, refused, reasons } of page.apps) {
      expect(files).toBeGreaterThanOrEqual(3)
      expect(bytes).toBeGreaterThan(0)
      expect(refused).toBe(0)
      expect(reasons.length).toBeGreaterThanOrEqual(3)
    }
    expect(page.open?.files).toBe(6)
  })

  it('are a zip with that app alone, its steps and its licence; the signed checksums hold for it', async () => {
    const { name, bytes } = await take('?as=app.dunlin')
    expect(name).toBe('Shore 1.0.0, for Dunlin.zip')
    const { folder, paths } = unpack(bytes)
    const [dunlin] = page.apps
    expect(paths.filter((path) => path.startsWith('Apps/'))).toHaveLength(dunlin?.files ?? 0)
    expect(paths.every((path) => !path.startsWith('Apps/') || path.startsWith(`${dunlin?.folder}/`))).toBe(true)
    expect(paths.filter((path) => path.startsWith('Reeds/'))).toEqual([])
    const sums = execFileSync('sha256sum', ['-c', '--ignore-missing', 'SHA256SUMS'], { cwd: folder, encoding: 'utf8' })
    // all but the sums themselves, their signature and its key
    expect(
      sums
        .trim()
        .split('\n')
        .filter((line) => line.endsWith(': OK')),
    ).toHaveLength(paths.length - 3)
    const signed = paths.filter((path) => /^(RELEASED\.)?(SHA256SUMS\.sig|SIGNER\.pem)$/.test(path))
    expect(signed).toHaveLength(4)
    const text = readFileSync(join(folder, 'STEPS.txt'), 'utf8')
    expect(text).toContain('Shore, release 1.0.0, for Dunlin')
    expect(existsSync(join(folder, 'LICENSE.txt'))).toBe(true)
  })

  it('can be one set or one brush, as large as was said', async () => {
    const { brushes, sets } = await ask<Arrives>('/arrives?as=app.dunlin')
    const reeds = page.sets.findIndex(({ name }) => name === 'Reeds')
    const set = unpack((await take(`?as=app.dunlin&of=set.${reeds}`)).bytes)
    expect(set.paths.filter((path) => path.startsWith('Apps/'))).toHaveLength(sets[reeds]?.files ?? 0)
    for (const { id, arrives, files } of brushes) {
      expect(arrives?.likeness, id).toBeGreaterThan(0)
      const one = await take(`?as=open&of=brush.${id}`)
      expect(unpack(one.bytes).paths.filter((path) => /\.(png|gbr)$/.test(path))).toHaveLength(2)
      expect(files).toBeGreaterThanOrEqual(1)
    }
  })

  it('of one file alone are that file, with no archive around it', async () => {
    const { name, bytes } = await take('?as=satchel&of=all')
    // and whose copy it is
    expect(bytes.length - (page.satchel?.bytes ?? 0)).toBeGreaterThan(0)
    expect(bytes.length - (page.satchel?.bytes ?? 0)).toBeLessThan(5000)
    const whole = unpack((await take('')).bytes)
    expect(bytes.equals(readFileSync(join(whole.folder, name)))).toBe(true)
  })

  it('can be gone on with after a break, byte for byte, and count once', async () => {
    const { bytes, url } = await take('?as=app.sanderling')
    const middle = Math.floor(bytes.length / 2)
    for (const [first, last] of [
      [0, middle],
      [middle + 1, bytes.length - 1],
    ] as const) {
      const answer = await fetch(url, { headers: { range: `bytes=${first}-${last}` } })
      expect(answer.status).toBe(206)
      expect(Buffer.from(await answer.arrayBuffer()).equals(bytes.subarray(first, last + 1))).toBe(true)
    }
    const again = await take('?as=app.sanderling')
    expect(again.bytes.equals(bytes)).toBe(true)
    // counted once the last byte is out, which is after it has come
    const counted = async () => {
      const { rows } = await server.parts.deps.db.execute<{ state: string; n: number }>(
        sql`select state, count(*)::int as n from delivery where app = 'Sanderling' group by 1`,
      )
      return rows
    }
    await until(async () => (await counted()).every(({ state }) => state === 'sent'))
    expect(await counted()).toEqual([{ state: 'sent', n: 2 }])
  })

  it.each([
    '?as=',
    '?as=app.',
    '?as=app.knot',
    '?as=open&of=set.99',
    '?as=open&of=brush.x',
    '?as=satchel&of=set.0',
    '?as=../x',
    '?as=open&of=set.1%00',
  ])('are not there for %s, and nothing is counted', async (query) => {
    const count = async () => {
      const { rows } = await server.parts.deps.db.execute<{ n: number }>(sql`select count(*)::int as n from delivery`)
      return rows[0]?.n
    }
    const before = await count()
    const { status } = await take(query)
    expect([404, 422]).toContain(status)
    expect(await count()).toBe(before)
  })

  it('each count against a limit', async () => {
    const limited = await handOut(releaseId, { downloadLimit: 1 })
    const first = await fetch(`${server.url}/api/h/${limited}/download?as=open`)
    expect(first.status).toBe(200)
    await first.arrayBuffer()
    expect((await fetch(`${server.url}/api/h/${limited}/download?as=app.dunlin`)).status).toBe(410)
  })

  it('of a release that was built before they were noted are all of it, and that is said', async () => {
    const { db } = server.parts.deps
    await db.execute(sql`update release set contents_sha = null where id = ${releaseId}`)
    try {
      const old = await ask<Page>('')
      expect([old.apps, old.open, old.satchel]).toEqual([[], null, null])
      expect((await take('?as=open')).status).toBe(409)
      expect((await take('')).status).toBe(200)
    } finally {
      const sha = sql`(select sha256 from blob where media_type = 'application/json' limit 1)`
      await db.execute(sql`update release set contents_sha = ${sha} where id = ${releaseId}`)
    }
  })
})

it('a brush shows its frames, and no more than it has', async () => {
  const [brush] = page.brushes
  const answer = await fetch(at(`/brushes/${brush?.id}/frames/0`))
  expect(answer.headers.get('content-type')).toBe('image/png')
  expect((await fetch(at(`/brushes/${brush?.id}/frames/1`))).status).toBe(404)
  expect((await fetch(at(`/brushes/${brush?.id}/frames/9999`))).status).toBe(404)
  expect((await fetch(at(`/brushes/${randomUUID()}/frames/0`))).status).toBe(404)
})

describe('a note to the maker', () => {
  const write = (body: object, of = token) =>
    fetch(`${server.url}/api/h/${of}/notes`, {
      method: 'POST',
      headers: { 'content-type': 'application/json', origin: server.parts.deps.origin },
      body: JSON.stringify(body),
    })
  type Note = { id: string; name: string; app: string; text: string; version: string; readAt: string | null }
  const notes = async () => (await person.json<{ notes: Note[] }>(`/api/packs/${packId}/hand-outs/notes`)).notes

  it('takes no account, arrives once however often it is sent, and can be done with', async () => {
    const note = { sentId: randomUUID(), app: 'Dunlin', text: '  One paints square.  ' }
    const answers = await Promise.all(Array.from({ length: 5 }, () => write(note)))
    expect(answers.map(({ status }) => status)).toEqual([201, 201, 201, 201, 201])
    const [only, ...others] = await notes()
    expect(others).toEqual([])
    expect(only).toMatchObject({
      name: 'Ida',
      app: 'Dunlin',
      text: 'One paints square.',
      version: '1.0.0',
      readAt: null,
    })
    await person.post(`/api/packs/hand-outs/note/${only?.id}`, { isRead: true }, 'PUT')
    expect((await notes())[0]?.readAt).not.toBeNull()
    await person.post(`/api/packs/hand-outs/note/${only?.id}`, { isRead: false }, 'PUT')
    expect((await notes())[0]?.readAt).toBeNull()
  })

  it('is of a few words at least, of a link that works, and no more than twenty of one', async () => {
    expect((await write({ sentId: randomUUID(), app: '', text: '   ' })).status).toBe(422)
    expect((await write({ sentId: randomUUID(), app: '', text: 'x'.repeat(2001) })).status).toBe(422)
    expect((await write({ sentId: randomUUID(), app: '', text: 'x' }, 'nobody')).status).toBe(404)
    const many = await handOut(releaseId)
    const all = await Promise.all(
      Array.from({ length: 24 }, (_, n) => write({ sentId: randomUUID(), app: '', text: `Note ${n}` }, many)),
    )
    expect(all.filter(({ status }) => status === 201)).toHaveLength(20)
    expect(all.filter(({ status }) => status === 429)).toHaveLength(4)
  })
})
