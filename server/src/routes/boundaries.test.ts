import { sql } from 'drizzle-orm'
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest'
import { member } from '../db/schema/all.ts'
import { type EveryRoute, type Ids, startWithAll } from '../testing/every-route.ts'
import { type Person, sentenceOf, type TestServer } from '../testing/test-server.ts'

/** What one person's request may make anew without touching anything that is there. */
const MAKES = /^POST \/api\/(sets|packs|pockets|gathers|shops|members\/invitations)$/

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
      if (route.method === 'GET') expect([200, 304, 422], key).toContain(response.status)
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
})
