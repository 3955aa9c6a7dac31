import { sql } from 'drizzle-orm'
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest'
import { type Person, sentenceOf, startTestServer, type TestServer } from '../testing/test-server.ts'

let server: TestServer
let owner: Person
beforeAll(async () => {
  server = await startTestServer(inject('databaseUrl'))
  owner = await server.owner()
})
afterAll(() => server.close())

type Made = { id: string; token: string }
const make = (person: Person, scope: string, more: object = {}) =>
  person.post<Made>('/api/tokens', { name: 'Evening folder', scope, days: 7, ...more })
/** A request of a program: no cookies, no origin. */
const by =
  (token: string, more: Record<string, string> = {}) =>
  (path: string, method = 'GET', body?: unknown) =>
    fetch(`${server.url}${path}`, {
      method,
      headers: { authorization: `Bearer ${token}`, 'content-type': 'application/json', ...more },
      ...(body === undefined ? {} : { body: JSON.stringify(body) }),
    })

describe('tokens', () => {
  it('are shown once, listed, used in their person’s name, and opened nothing by once they have ended', async () => {
    const { id, token } = await make(owner, 'work')
    expect(token).toMatch(/^satchel_[\w-]{32}$/)
    const listed = await owner.json<{ tokens: object[] }>('/api/tokens')
    expect(listed.tokens).toEqual([
      expect.objectContaining({ id, name: 'Evening folder', scope: 'work', person: 'Test Owner', usedAt: null }),
    ])
    expect(JSON.stringify(listed)).not.toContain(token)
    const { rows } = await server.parts.deps.db.execute(sql`select * from api_token`)
    expect(JSON.stringify(rows)).not.toContain(token)

    const program = by(token)
    expect((await program('/api/sets', 'POST', { name: 'By hand' })).status).toBe(201)
    const { sets } = (await (await program('/api/sets')).json()) as { sets: { name: string; id: string }[] }
    expect(sets.map(({ name }) => name)).toEqual(['By hand'])
    await program(`/api/sets/${sets[0]?.id}`, 'DELETE')
    const audit = await owner.json<{ lines: { said: string; person: string }[] }>('/api/members/audit')
    expect(audit.lines[0]).toMatchObject({ said: 'Set deleted: By hand', person: 'Test Owner' })
    expect((await owner.json<{ tokens: { usedAt: string }[] }>('/api/tokens')).tokens[0]?.usedAt).toBeTruthy()

    const stream = program('/api/workspace/events').then((each) => each.text())
    await owner.post(`/api/tokens/${id}/end`)
    await stream // ended with it
    const over = await program('/api/sets')
    expect([over.status, await sentenceOf(over)]).toEqual([401, expect.stringContaining('has ended')])
    expect((await owner.request(`/api/tokens/${id}/end`, { method: 'POST' })).status).toBe(404)
  })

  it('come never as an owner, make no others, and say nothing of who is signed in', async () => {
    const { token } = await make(owner, 'work')
    const program = by(token)
    for (const path of ['/api/signing/export', '/api/members/invitations', '/api/tokens'])
      expect([path, (await program(path, 'POST', { role: 'viewer', note: '', days: 1 })).status]).toEqual([path, 403])
    expect(await (await program('/api/session')).json()).toMatchObject({ signedIn: false })
    // with somebody's cookies beside it, it is the token that counts, and pages behind no guard want the page's origin
    const both = by(token, { cookie: owner.cookie })
    expect((await both('/api/signing/export', 'POST')).status).toBe(403)
    expect((await both('/api/session/workspaces', 'POST', { name: 'Not from elsewhere' })).status).toBe(403)
    expect((await both('/api/auth/sign-out', 'POST', {})).status).toBe(403)
    expect((await owner.request('/api/sets')).status).toBe(200)
  })

  it('that look change nothing; those of whom is removed, or a viewer by now, do no more than that', async () => {
    const looks = by((await make(owner, 'read')).token)
    expect((await looks('/api/sets')).status).toBe(200)
    const refused = await looks('/api/sets', 'POST', { name: 'No' })
    expect([refused.status, await sentenceOf(refused)]).toEqual([403, expect.stringContaining('may look')])

    const other = await server.owner()
    const { db } = server.parts.deps
    await db.execute(sql`update member set workspace_id = ${owner.workspaceId}, role = 'curator'
      where workspace_id = ${other.workspaceId}`)
    const theirs = by((await make(other, 'work')).token)
    expect((await theirs('/api/sets', 'POST', { name: 'Theirs' })).status).toBe(201)
    const { members } = await owner.json<{ members: { id: string; role: string }[] }>('/api/members')
    const them = members.find(({ role }) => role === 'curator')?.id
    await owner.post(`/api/members/${them}`, { role: 'viewer' }, 'PATCH')
    expect((await theirs('/api/sets', 'POST', { name: 'Theirs' })).status).toBe(403)
    expect((await theirs('/api/sets')).status).toBe(200)
    await owner.post(`/api/members/${them}`, undefined, 'DELETE')
    expect((await theirs('/api/sets')).status).toBe(401)
  })

  it('of one member are not seen nor ended by another one, but by the owner', async () => {
    const other = await server.owner()
    await server.parts.deps.db.execute(sql`update member set workspace_id = ${owner.workspaceId}, role = 'curator'
      where workspace_id = ${other.workspaceId}`)
    const mine = await make(owner, 'work', { name: 'The owner’s' })
    const theirs = await make(other, 'work', { name: 'Theirs' })
    const names = async (person: Person) =>
      (await person.json<{ tokens: { name: string }[] }>('/api/tokens')).tokens.map(({ name }) => name)
    expect(await names(other)).toEqual(['Theirs'])
    expect(await names(owner)).toContain('Theirs')
    expect((await other.request(`/api/tokens/${mine.id}/end`, { method: 'POST' })).status).toBe(404)
    expect((await owner.request(`/api/tokens/${theirs.id}/end`, { method: 'POST' })).status).toBe(200)
    expect((await by(theirs.token)('/api/sets')).status).toBe(401)
  })

  it('end by themselves, are refused where they are none, and are not made without end', async () => {
    const { id, token } = await make(owner, 'read', { days: 1 })
    await server.parts.deps.db.execute(sql`update api_token set expires_at = now() where id = ${id}`)
    for (const wrong of [token, 'satchel_nothing', '', 'x'.repeat(5000)])
      expect([wrong.slice(0, 20), (await by(wrong)('/api/sets')).status]).toEqual([wrong.slice(0, 20), 401])
    const asked = { method: 'POST', headers: { 'content-type': 'application/json' } }
    for (const days of [0, 366, 1.5])
      expect(
        (await owner.request('/api/tokens', { ...asked, body: JSON.stringify({ name: 'T', scope: 'read', days }) }))
          .status,
      ).toBe(422)
    const one = () =>
      owner.request('/api/tokens', { ...asked, body: JSON.stringify({ name: 'T', scope: 'read', days: 1 }) })
    await Promise.all(Array.from({ length: 20 }, one))
    expect((await one()).status).toBe(429)
  })
})
