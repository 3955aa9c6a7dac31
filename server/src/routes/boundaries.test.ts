import { sql } from 'drizzle-orm'
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest'
import { member } from '../db/schema/all.ts'
import { type EveryRoute, type Ids, startWithAll } from '../testing/every-route.ts'
import { type Person, sentenceOf, type TestServer } from '../testing/test-server.ts'

/** What one person's request may make anew without touching anything that is there. */
const MAKES = /^POST \/api\/(sets|packs|pockets|gathers|shops|tokens|members\/invitations)$/

let server: TestServer
let owner: Person
let ids: Ids
let every: EveryRoute

beforeAll(async () => {
  ;({ server, owner, ids, every } = await startWithAll(inject('databaseUrl')))
})
afterAll(() => server.close())

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

/** Routes that lead on to an exchange: none is reached from here. */
const atExchange = (key: string) => key.startsWith('GET /api/exchanges/:host/')

describe('the borders of a workspace', () => {
  it('are tried at every route that there is', () => {
    expect(every.routes.length).toBeGreaterThan(50)
    expect(Object.values(ids).every(Boolean)).toBe(true)
    for (const { path } of every.routes) expect(every.fill(path), path).not.toContain(':')
  })

  it('are closed to those who are not signed in, at every route', async () => {
    const nobody: Person = {
      ...owner,
      request: (path, init) =>
        fetch(`${server.url}${path}`, { ...init, headers: { origin: server.url, ...init?.headers } }),
    }
    for (const route of every.routes)
      expect((await every.ask(nobody, route)).status, `${route.method} ${route.path}`).toBe(401)
  })

  it('let a viewer look at everything and change nothing, at every route', async () => {
    const before = await rowsOf(owner)
    const viewer = await server.owner()
    const { db } = server.parts.deps
    await db.delete(member).where(sql`workspace_id = ${viewer.workspaceId}`)
    await db.execute(sql`insert into member (workspace_id, user_id, role)
      select ${owner.workspaceId}::uuid, id, 'viewer' from "user" order by created_at desc limit 1`)
    const seen = await rowsOf(owner)
    for (const route of every.routes) {
      const key = `${route.method} ${route.path}`
      if (key === 'GET /api/workspace/events') continue // goes on for ever; tested with the workspace
      const response = await every.ask(viewer, route)
      if (route.method === 'GET') expect(atExchange(key) ? [404, 422] : [200, 304, 422], key).toContain(response.status)
      else {
        expect(response.status, key).toBe(403)
        expect(await sentenceOf(response)).toBe(
          'You may look but not change things here; ask the owner to make you a curator.',
        )
      }
    }
    expect(await rowsOf(owner)).toBe(seen)
    expect(seen.split('\n').filter((row) => !row.startsWith('member '))).toEqual(
      before.split('\n').filter((row) => !row.startsWith('member ')),
    )
  })

  it('are closed to a token that has ended, and let one that looks change nothing, at every route', async () => {
    const by = (token: string): Person => ({
      ...owner,
      request: (path, init) =>
        fetch(`${server.url}${path}`, { ...init, headers: { ...init?.headers, authorization: `Bearer ${token}` } }),
    })
    const make = (scope: string) =>
      owner.post<{ id: string; token: string }>('/api/tokens', { name: 'Theirs', scope, days: 1 })
    const [ended, looks] = [await make('work'), await make('read')]
    await owner.post(`/api/tokens/${ended.id}/end`)
    const before = await rowsOf(owner)
    for (const route of every.routes) {
      const key = `${route.method} ${route.path}`
      expect([key, (await every.ask(by(ended.token), route)).status]).toEqual([key, 401])
      if (key === 'GET /api/workspace/events') continue
      const { status } = await every.ask(by(looks.token), route)
      if (route.method === 'GET') expect(atExchange(key) ? [404, 422] : [200, 304, 403, 422], key).toContain(status)
      else expect([key, status]).toEqual([key, 403])
    }
    const withoutUse = (rows: string) => rows.split('\n').filter((row) => !row.startsWith('api_token '))
    expect(withoutUse(await rowsOf(owner))).toEqual(withoutUse(before))
  })

  it('are closed to a sign-in that has ended, and to who belongs there no more, at every route', async () => {
    const [left, removed] = [await server.owner(), await server.owner()]
    await left.post('/api/auth/sign-out', {})
    await server.parts.deps.db.delete(member).where(sql`workspace_id = ${removed.workspaceId}`)
    const before = await rowsOf(owner)
    for (const route of every.routes) {
      const key = `${route.method} ${route.path}`
      expect([key, (await every.ask(left, route)).status]).toEqual([key, 401])
      expect([key, (await every.ask(removed, route)).status]).toEqual([key, 403])
    }
    expect(await rowsOf(owner)).toBe(before)
  })

  it('are closed to the owner of another workspace: nothing is shown, nothing changes, nothing is taken over', async () => {
    const stranger = await server.owner()
    const before = await rowsOf(owner)
    const answered: string[] = []
    for (const route of every.routes) {
      const key = `${route.method} ${route.path}`
      if (key === 'GET /api/workspace/events') continue
      const response = await every.ask(stranger, route)
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

  // the last of all: what a curator may do is done
  it('are closed to curators where something is the owner’s alone, and nowhere else', async () => {
    const curator = await server.owner()
    const { db } = server.parts.deps
    await db.execute(sql`update member set workspace_id = ${owner.workspaceId}, role = 'curator'
      where workspace_id = ${curator.workspaceId}`)
    const refused: string[] = []
    for (const route of every.routes) {
      const key = `${route.method} ${route.path}`
      if (key === 'GET /api/workspace/events') continue
      const { status } = await every.ask(curator, route)
      expect([key, status]).not.toEqual([key, 401])
      if (status === 403) refused.push(key)
    }
    expect(refused.sort()).toEqual([
      'DELETE /api/members/:personId',
      'PATCH /api/members/:personId',
      'POST /api/library',
      'POST /api/members/:personId/hand-over',
      'POST /api/members/invitations',
      'POST /api/members/invitations/:id/end',
      'POST /api/signing/export',
      'POST /api/signing/import',
      'POST /api/signing/rotate',
      'PUT /api/workspace/name',
    ])
  })
})
