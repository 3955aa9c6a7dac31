import { defaultRecipe } from '@satchel/core/brush/recipe'
import { sql } from 'drizzle-orm'
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest'
import { member } from '../db/schema/all.ts'
import { gatherFiles, takeInFiles } from '../testing/gather.ts'
import { releaseAndDownload } from '../testing/release.ts'
import { type Person, sentenceOf, startTestServer, type TestServer } from '../testing/test-server.ts'
import { blotPng, waveTile } from '../testing/tips.ts'
import { encodePng } from '../workers/codec.ts'

/** Routes that anybody may ask: signing in, and the pages behind a link. */
const OPEN = /^\/api\/(session|h|auth)(\/|$)/
/** What one person's request may make anew without touching anything that is there. */
const MAKES = /^POST \/api\/(sets|packs|pockets|gathers)$/

type Ids = Record<
  | 'set'
  | 'brush'
  | 'tuft'
  | 'pack'
  | 'release'
  | 'handOut'
  | 'gather'
  | 'line'
  | 'material'
  | 'pocket'
  | 'item'
  | 'job'
  | 'blob',
  string
>

let server: TestServer
let owner: Person
let ids: Ids

beforeAll(async () => {
  server = await startTestServer(inject('databaseUrl'))
  owner = await server.owner()
  await takeInFiles(owner, {
    'Shore/blot.png': blotPng(1),
    'Shore/tuft.png': blotPng(2),
    'x/sand.png': encodePng(waveTile()),
  })
  await releaseAndDownload(server, owner)
  ids = await collectIds()
})
afterAll(() => server.close())

async function collectIds(): Promise<Ids> {
  type Rows = { id: string }[]
  const first = (rows: Rows | undefined) => rows?.[0]?.id ?? ''
  const { sets } = await owner.json<{ sets: Rows }>('/api/sets')
  const { brushes } = await owner.json<{ brushes: Rows }>('/api/brushes')
  const { packs } = await owner.json<{ packs: Rows }>('/api/packs')
  const pack = await owner.json<{ releases: Rows; handOuts: Rows }>(`/api/packs/${first(packs)}`)
  const { materials } = await owner.json<{ materials: Rows }>('/api/materials')
  await owner.post('/api/pockets', { name: 'Mine', setId: first(sets) })
  const { pockets } = await owner.json<{ pockets: { id: string; items: Rows }[] }>('/api/pockets')
  const { id: gather, ledger } = await gatherFiles(owner, { 'again/leaf.png': blotPng(3) })
  const { jobs } = await owner.json<{ jobs: Rows }>('/api/jobs')
  const brush = await owner.json<{ pictures: { blobSha: string }[] }>(`/api/brushes/${first(brushes)}`)
  return {
    set: first(sets), brush: first(brushes), tuft: brushes[1]?.id ?? '', pack: first(packs),
    release: first(pack.releases), handOut: first(pack.handOuts), gather, line: first(ledger.lines),
    material: first(materials), pocket: first(pockets), item: first(pockets[0]?.items), job: first(jobs),
    blob: brush.pictures[0]?.blobSha ?? '',
  } // biome-ignore format: a table
}

/** Every route of the server behind the sign-in, as the server itself lists them. */
function routes(): { method: string; path: string }[] {
  const all = server.parts.app.routes.filter(
    ({ method, path }) => method !== 'ALL' && path.startsWith('/api/') && !OPEN.test(path),
  )
  return [...new Map(all.map(({ method, path }) => [`${method} ${path}`, { method, path }])).values()]
}

/** The owner's own things in the place of a route's parameters. */
function fill(path: string): string {
  const kinds: [RegExp, keyof Ids][] = [
    [/^\/api\/sets\//, 'set'], [/^\/api\/brushes\//, 'brush'], [/^\/api\/packs\/hand-outs\//, 'handOut'],
    [/^\/api\/packs\//, 'pack'], [/^\/api\/gathers\//, 'gather'], [/^\/api\/materials\//, 'material'],
    [/^\/api\/pockets\//, 'pocket'], [/^\/api\/jobs\//, 'job'],
  ] // biome-ignore format: a table
  const kind = kinds.find(([begins]) => begins.test(path))?.[1]
  return path
    .replace(':id', kind ? ids[kind] : ':id')
    .replace(':itemId', ids.item)
    .replace(':ordinal', '1')
    .replace(':sha', ids.blob)
}

/** A body that the owner could send to a route with success; most need one. */
function bodyOf(key: string): object {
  const some = { ids: [ids.brush] }
  const bodies: Record<string, object> = {
    'POST /api/sets': { name: 'New' },
    'PATCH /api/sets/:id': { name: 'Theirs' },
    'POST /api/sets/:id/move': { afterId: null },
    'POST /api/sets/:id/copy': { name: 'Copy' },
    'POST /api/sets/:id/brushes': some,
    'POST /api/sets/:id/remove': some,
    'POST /api/brushes/bin': some,
    'POST /api/brushes/bring-back': some,
    'POST /api/brushes/tags': { ...some, add: ['theirs'] },
    'PUT /api/brushes/:id': { name: 'Theirs', maker: '', licence: '', tags: [], recipe: defaultRecipe(), from: 1 },
    'POST /api/brushes/:id/version': { ordinal: 1 },
    'PATCH /api/brushes/:id/versions/:ordinal': { label: 'theirs' },
    'POST /api/brushes/:id/copy': { name: 'Copy' },
    'POST /api/brushes/:id/tip': { tipFrom: ids.tuft, from: 1 },
    'POST /api/gathers/:id/decide': { ids: [ids.line], outcome: 'skip' },
    'POST /api/gathers/:id/shrink': { ids: [ids.line], smaller: true },
    'PATCH /api/materials/:id': { name: 'Theirs' },
    'POST /api/pockets': { name: 'Taken', setId: ids.set },
    'PATCH /api/pockets/:id': { name: 'Theirs' },
    'POST /api/pockets/:id/items': some,
    'PATCH /api/pockets/:id/items/:itemId': { label: 'theirs' },
    'POST /api/pockets/:id/items/:itemId/move': { afterId: null },
    'POST /api/packs': { title: 'New' },
    'PATCH /api/packs/:id': { title: 'Theirs' },
    'PUT /api/packs/:id/sets': { setIds: [] },
    'POST /api/packs/:id/releases': { version: '9.0.0', notes: '' },
    'POST /api/packs/:id/hand-outs': { releaseId: ids.release, name: 'Theirs' },
  }
  return bodies[key] ?? {}
}

async function ask(person: Person, { method, path }: { method: string; path: string }): Promise<Response> {
  const key = `${method} ${path}`
  const address = fill(path) + (path.endsWith('/files') ? '?path=x.png' : '')
  if (method === 'GET') return person.request(address)
  if (key.endsWith('/thumbnail')) {
    const form = new FormData()
    form.set('from', '1')
    form.set('thumbnail', '{"from":"frame","frame":0}')
    return person.request(address, { method, body: form })
  }
  if (path.endsWith('/files')) return person.request(address, { method, body: new Uint8Array(blotPng(9)) })
  return person.request(address, {
    method,
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify(bodyOf(key)),
  })
}

/** All rows of a workspace in every table, as text. */
async function rowsOf({ workspaceId }: Person): Promise<string> {
  const { db } = server.parts.deps
  const tables = await db.execute<{ name: string }>(
    sql`select table_name as name from information_schema.columns where column_name = 'workspace_id' and table_schema = 'public' order by 1`,
  )
  const texts: string[] = []
  for (const { name } of tables.rows) {
    const { rows } = await db.execute<{ row: string }>(
      sql`select t::text as row from ${sql.identifier(name)} t where workspace_id = ${workspaceId} order by 1`,
    )
    texts.push(...rows.map(({ row }) => `${name} ${row}`))
  }
  return texts.join('\n')
}

describe('the borders of a workspace', () => {
  it('are tried at every route that there is', () => {
    expect(routes().length).toBeGreaterThan(50)
    expect(Object.values(ids).every(Boolean)).toBe(true)
    for (const { path } of routes()) expect(fill(path), path).not.toContain(':')
  })

  it('are closed to those who are not signed in, at every route', async () => {
    const nobody: Person = { ...owner, request: (path, init) => fetch(`${server.url}${path}`, { ...init, headers: { origin: server.url, ...init?.headers } }) } // biome-ignore format: one person
    for (const route of routes()) expect((await ask(nobody, route)).status, `${route.method} ${route.path}`).toBe(401)
  })

  it('let a viewer look at everything and change nothing, at every route', async () => {
    const before = await rowsOf(owner)
    const viewer = await server.owner()
    const { db } = server.parts.deps
    await db.delete(member).where(sql`workspace_id = ${viewer.workspaceId}`)
    await db.execute(sql`insert into member (workspace_id, user_id, role)
      select ${owner.workspaceId}::uuid, id, 'viewer' from "user" order by created_at desc limit 1`)
    const seen = await rowsOf(owner)
    for (const route of routes()) {
      const key = `${route.method} ${route.path}`
      if (key === 'GET /api/workspace/events') continue // goes on for ever; tested with the workspace
      const response = await ask(viewer, route)
      if (route.method === 'GET') expect([200, 304, 422], key).toContain(response.status)
      else {
        expect(response.status, key).toBe(403)
        expect(await sentenceOf(response)).toBe(
          'You may look but not change things here; ask the owner to make you an editor.',
        )
      }
    }
    expect(await rowsOf(owner)).toBe(seen)
    expect(seen.split('\n').filter((row) => !row.startsWith('member '))).toEqual(
      before.split('\n').filter((row) => !row.startsWith('member ')),
    )
  })

  it('are closed to the owner of another workspace: nothing is shown, nothing changes, nothing is taken over', async () => {
    const stranger = await server.owner()
    const before = await rowsOf(owner)
    const answered: string[] = []
    for (const route of routes()) {
      const key = `${route.method} ${route.path}`
      if (key === 'GET /api/workspace/events') continue
      const response = await ask(stranger, route)
      if (!route.path.includes(':')) {
        // Lists and deeds on many at once answer, with nothing of the owner's.
        const text = await response.text()
        for (const id of Object.values(ids)) expect(text, key).not.toContain(id)
        if (!MAKES.test(key) && /^POST .*\/(bin|bring-back|tags)$/.test(key)) expect(text, key).toContain('"changed":0')
      } else if (![404, 409, 422].includes(response.status)) answered.push(`${key} ${response.status}`)
    }
    expect(answered).toEqual([])
    expect(await rowsOf(owner)).toBe(before)
    const theirs = await rowsOf(stranger)
    for (const [kind, id] of Object.entries(ids))
      expect(theirs.includes(id), `the stranger has the ${kind}`).toBe(false)
  })
})
