import { sql } from 'drizzle-orm'
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest'
import { takeInFiles } from '../testing/gather.ts'
import { type Person, sentenceOf, signIn, startTestServer, type TestServer, until } from '../testing/test-server.ts'
import { blotPng } from '../testing/tips.ts'
import { AUDITED, NOT_AUDITED } from './noted.ts'

const PASSWORD = 'marsh-samphire-9'
let server: TestServer
let n = 0
beforeAll(async () => {
  server = await startTestServer(inject('databaseUrl'))
})
afterAll(() => server.close())

type Invited = { id: string; link: string }
const tokenOf = ({ link }: Invited) => link.split('/').at(-1) ?? ''
const invite = (owner: Person, role = 'curator', note = 'Ida') =>
  owner.post<Invited>('/api/members/invitations', { role, note, days: 7 })
/** A request without anybody's cookies. */
const open = (path: string, body?: unknown) =>
  fetch(`${server.url}/api/invitations/${path}`, {
    method: body === undefined ? 'GET' : 'POST',
    headers: { origin: server.url, 'content-type': 'application/json' },
    ...(body === undefined ? {} : { body: JSON.stringify(body) }),
  })
const cookieOf = (response: Response) =>
  response.headers
    .getSetCookie()
    .map((cookie) => cookie.split(';')[0])
    .join('; ')
const askAs =
  (cookie: string) =>
  (path: string, method = 'GET', body?: unknown, headers: Record<string, string> = {}) =>
    fetch(`${server.url}${path}`, {
      method,
      headers: { origin: server.url, cookie, 'content-type': 'application/json', ...headers },
      ...(body === undefined ? {} : { body: JSON.stringify(body) }),
    })

/** Somebody new who takes an invitation by making an account. */
async function join(owner: Person, role = 'curator', name = 'Ida Fenn') {
  const email = `joined${++n}@test.example`
  const response = await open(`${tokenOf(await invite(owner, role, name))}/account`, {
    ...{ name, email, password: PASSWORD },
  })
  expect(response.status).toBe(201)
  const ask = askAs(cookieOf(response))
  const { members } = await owner.json<{ members: { id: string; email: string }[] }>('/api/members')
  return { email, ask, id: members.find((each) => each.email === email)?.id ?? '' }
}
const audit = async (owner: Person) =>
  (await owner.json<{ lines: { person: string; kind: string; said: string }[] }>('/api/members/audit')).lines.map(
    ({ person, kind, said }) => `${person} · ${kind} · ${said}`,
  )
const rolesOf = async (owner: Person) =>
  Object.fromEntries(
    (await owner.json<{ members: { name: string; role: string }[] }>('/api/members')).members.map((each) => [
      each.name,
      each.role,
    ]),
  )

describe('members', () => {
  it('come by an invitation, do what their role says, and everything of it stands in the audit list', async () => {
    const owner = await server.owner()
    const invited = await invite(owner, 'viewer', 'Ida from the studio')
    const page = await (await open(tokenOf(invited))).json()
    expect(page).toMatchObject({ role: 'viewer', invitedBy: 'Test Owner', you: null })
    expect(JSON.stringify(await owner.json('/api/members'))).not.toContain(tokenOf(invited))

    const email = 'ida@test.example'
    const joined = await open(`${tokenOf(invited)}/account`, { name: 'Ida Fenn', email, password: PASSWORD })
    expect(joined.status).toBe(201)
    const ida = askAs(cookieOf(joined))
    expect(await (await ida('/api/session')).json()).toMatchObject({
      ...{ signedIn: true, role: 'viewer', workspaceId: owner.workspaceId },
      workspaces: [{ id: owner.workspaceId, role: 'viewer' }],
    })
    expect((await ida('/api/sets', 'POST', { name: 'Hers' })).status).toBe(403)
    const { members, invitations } = await owner.json<{ members: { id: string; name: string }[]; invitations: [] }>(
      '/api/members',
    )
    expect(invitations).toEqual([])
    const id = members.find(({ name }) => name === 'Ida Fenn')?.id
    await owner.post(`/api/members/${id}`, { role: 'curator' }, 'PATCH')
    expect((await ida('/api/sets', 'POST', { name: 'Hers' })).status).toBe(201)
    expect((await ida('/api/members')).status).toBe(200)
    expect(await (await ida('/api/members')).json()).toMatchObject({ invitations: [] })

    await owner.post(`/api/members/${id}/hand-over`)
    expect(await rolesOf(owner)).toEqual({ 'Ida Fenn': 'owner', 'Test Owner': 'curator' })
    expect((await owner.request('/api/signing/export', { method: 'POST' })).status).toBe(403)
    expect((await ida('/api/signing/export', 'POST')).status).toBe(200)
    await owner.post('/api/session/leave', { id: owner.workspaceId })
    expect((await owner.request('/api/sets')).status).toBe(403)
    expect(await owner.json('/api/session')).toMatchObject({ signedIn: false, without: { name: 'Test Owner' } })
    const { lines } = (await (await ida('/api/members/audit')).json()) as {
      lines: { person: string; kind: string; said: string }[]
    }
    expect(lines.map(({ person, kind, said }) => `${person} · ${kind} · ${said}`)).toEqual([
      'Test Owner · member · Left: Test Owner',
      'Ida Fenn · key · Signing key exported',
      'Test Owner · member · Workspace handed over: to Ida Fenn',
      'Test Owner · member · Role changed: Ida Fenn, viewer to curator',
      'Ida Fenn · member · Joined: Ida Fenn, as viewer',
      'Test Owner · member · Invited: Ida from the studio, as viewer',
    ])
  })

  it('one joins by an invitation, however many try at once', async () => {
    const owner = await server.owner()
    const token = tokenOf(await invite(owner))
    const tries = await Promise.all(
      [0, 1, 2, 3, 4].map((each) =>
        open(`${token}/account`, { name: `Bo ${each}`, email: `bo${each}@test.example`, password: PASSWORD }),
      ),
    )
    expect(tries.map(({ status }) => status).sort()).toEqual([201, 404, 404, 404, 404])
    expect(Object.keys(await rolesOf(owner))).toHaveLength(2)
    // and who was too late keeps no account that leads nowhere
    const { rows } = await server.parts.deps.db.execute(
      sql`select email from "user" where email like 'bo_@test.example'`,
    )
    expect(rows).toHaveLength(1)
  })

  it('an invitation that has ended, is too old or was never made leads nowhere', async () => {
    const owner = await server.owner()
    const [ended, old] = [await invite(owner), await invite(owner)]
    await owner.post(`/api/members/invitations/${ended.id}/end`)
    await server.parts.deps.db.execute(sql`update invitation set expires_at = now() where id = ${old.id}`)
    const newcomer = { name: 'Cy', email: 'cy@test.example', password: PASSWORD }
    for (const token of [tokenOf(ended), tokenOf(old), 'never-made', 'x'.repeat(600)])
      for (const answer of [await open(token), await open(`${token}/account`, newcomer)]) {
        expect(answer.status).toBe(404)
        expect(await sentenceOf(answer)).toContain('open no more')
      }
    expect((await owner.json<{ invitations: [] }>('/api/members')).invitations).toEqual([])
    expect((await owner.request(`/api/members/invitations/${ended.id}/end`, { method: 'POST' })).status).toBe(404)
    await expect(signIn(server.url, 'cy@test.example', PASSWORD)).rejects.toThrow('401')
  })

  it('somebody who has an account joins with it, goes on there, and switches back', async () => {
    const [ann, ben] = [await server.owner('ann@test.example'), await server.owner('ben@test.example')]
    const token = tokenOf(await invite(ann))
    const taken = await open(`${token}/account`, { name: 'Ben', email: 'ben@test.example', password: PASSWORD })
    expect([taken.status, await sentenceOf(taken)]).toEqual([409, expect.stringContaining('sign in with it')])
    expect((await open(`${token}/join`, {})).status).toBe(401)

    const stream = ben.request('/api/workspace/events').then((each) => each.text())
    await ben.post(`/api/invitations/${token}/join`, {})
    expect(await stream).toContain(ben.workspaceId)
    const { workspaceId, workspaces } = await ben.json<{ workspaceId: string; workspaces: { id: string }[] }>(
      '/api/session',
    )
    expect(workspaceId).toBe(ann.workspaceId)
    expect(workspaces.map(({ id }) => id).sort()).toEqual([ann.workspaceId, ben.workspaceId].sort())
    // another sign-in of the same person stays where it was
    const elsewhere = askAs(await signIn(server.url, 'ben@test.example', PASSWORD))
    expect(await (await elsewhere('/api/session')).json()).toMatchObject({ workspaceId: ben.workspaceId })

    // a window that still shows the other workspace changes nothing in this one
    const old = { 'x-satchel-workspace': ben.workspaceId }
    const refused = await askAs(ben.cookie)('/api/sets', 'POST', { name: 'Mine' }, old)
    expect([refused.status, await sentenceOf(refused)]).toEqual([409, expect.stringContaining('another workspace')])
    await ben.post('/api/session/workspace', { id: ben.workspaceId })
    expect((await askAs(ben.cookie)('/api/sets', 'POST', { name: 'Mine' }, old)).status).toBe(201)
    expect(await ann.json('/api/sets')).toEqual({ sets: [] })
    const stranger = await server.owner()
    expect(
      (
        await stranger.request('/api/session/workspace', {
          method: 'POST',
          headers: { 'content-type': 'application/json' },
          body: JSON.stringify({ id: ann.workspaceId }),
        })
      ).status,
    ).toBe(404)
  })

  it('who is removed sees nothing from that moment on, and what was open ends', async () => {
    const owner = await server.owner()
    const { ask, id } = await join(owner)
    const stream = ask('/api/workspace/events').then((each) => each.text())
    expect((await ask('/api/sets')).status).toBe(200)
    await owner.post(`/api/members/${id}`, undefined, 'DELETE')
    await stream
    expect((await ask('/api/sets')).status).toBe(403)
    expect((await audit(owner))[0]).toBe('Test Owner · member · Removed: Ida Fenn, curator')
    expect((await owner.request(`/api/members/${id}`, { method: 'DELETE' })).status).toBe(404)
  })

  it('leave one owner, whoever hands over to whom at once', async () => {
    const owner = await server.owner()
    const [ida, bo] = [await join(owner, 'curator', 'Ida'), await join(owner, 'viewer', 'Bo')]
    const answers = await Promise.all([
      owner.request(`/api/members/${ida.id}/hand-over`, { method: 'POST' }),
      owner.request(`/api/members/${bo.id}/hand-over`, { method: 'POST' }),
      owner.request(`/api/members/${ida.id}`, { method: 'DELETE' }),
    ])
    const done = answers.filter(({ ok }) => ok)
    expect(done.length).toBeGreaterThanOrEqual(1)
    const { rows } = await server.parts.deps.db.execute(
      sql`select role from member where workspace_id = ${owner.workspaceId} and role = 'owner'`,
    )
    expect(rows).toHaveLength(1)
    const mine = askAs(owner.cookie)
    const left = await mine('/api/session/leave', 'POST', { id: owner.workspaceId })
    expect(left.status).toBe(200)
  })

  it('curators and viewers are kept from what is the owner’s alone', async () => {
    const owner = await server.owner()
    const { id: parcel } = await owner.post<{ id: string }>('/api/parcels', { wanted: { kind: 'library' } })
    for (const role of ['curator', 'viewer']) {
      const { ask, id } = await join(owner, role, role)
      const deeds: [string, string, unknown?][] = [
        ['POST', '/api/members/invitations', { role: 'viewer', note: '', days: 1 }],
        ['PATCH', `/api/members/${id}`, { role: 'curator' }],
        ['DELETE', `/api/members/${id}`],
        ['POST', `/api/members/${id}/hand-over`],
        ['POST', '/api/signing/export'],
        ['POST', '/api/signing/rotate'],
        ['POST', '/api/signing/import', { pem: '' }],
        ['POST', '/api/library'],
        ['POST', '/api/parcels', { wanted: { kind: 'library' } }],
        ['GET', `/api/parcels/${parcel}/file`],
      ]
      for (const [method, path, body] of deeds)
        expect([path, (await ask(path, method, body)).status]).toEqual([path, 403])
    }
    expect(await rolesOf(owner)).toEqual({ 'Test Owner': 'owner', curator: 'curator', viewer: 'viewer' })
  })

  it('an owner makes further workspaces, and who owns none does not', async () => {
    const owner = await server.owner()
    const { ask } = await join(owner)
    expect((await ask('/api/session/workspaces', 'POST', { name: 'Mine' })).status).toBe(403)
    const { id } = await owner.post<{ id: string }>('/api/session/workspaces', { name: 'Second' })
    expect(await owner.json('/api/session')).toMatchObject({ workspaceId: id, workspace: 'Second', role: 'owner' })
    expect(await owner.json('/api/sets')).toEqual({ sets: [] })
    await owner.post('/api/workspace/name', { name: 'Second house' }, 'PUT')
    expect(await owner.json('/api/session')).toMatchObject({ workspaceId: id, workspace: 'Second house' })
    expect((await audit(owner))[0]).toBe('Test Owner · member · Workspace renamed: Second to Second house')
  })
})

describe('those who work at the same', () => {
  it('see each other there, who saved last, and when the other has gone', async () => {
    const owner = await server.owner()
    await takeInFiles(owner, { 'Shore/blot.png': blotPng(1) })
    const { brushes } = await owner.json<{ brushes: { id: string }[] }>('/api/brushes')
    const at = `/api/presence/brush/${brushes[0]?.id}`
    const { ask } = await join(owner)
    const viewer = await join(owner, 'viewer', 'Vi')
    expect(await owner.post(at)).toEqual({ others: [], saved: null })
    expect(await (await ask(at, 'POST')).json()).toMatchObject({ others: [{ name: 'Test Owner' }] })
    expect(await (await viewer.ask(at)).json()).toMatchObject({
      others: [{ name: 'Ida Fenn' }, { name: 'Test Owner' }],
    })
    await ask(`/api/brushes/${brushes[0]?.id}/version`, 'POST', { ordinal: 1 })
    await ask(`/api/brushes/${brushes[0]?.id}`, 'PATCH', { name: 'Blot two' })
    expect(await owner.post(at)).toMatchObject({ others: [{ name: 'Ida Fenn' }], saved: { person: 'Ida Fenn' } })
    await ask(`${at}/leave`, 'POST')
    expect(await owner.post(at)).toMatchObject({ others: [] })
    // who closed the lid without a word is gone after a while
    await ask(at, 'POST')
    await server.parts.deps.db.execute(sql`update presence set seen_at = now() - interval '1 minute'`)
    expect(await owner.json(at)).toMatchObject({ others: [] })
    const stranger = await server.owner()
    expect((await stranger.request(at, { method: 'POST' })).status).toBe(404)
  })
})

describe('the audit list', () => {
  it('names routes that there are, and every way to delete', () => {
    const routes = new Set(server.parts.app.routes.map(({ method, path }) => `${method} ${path}`))
    for (const key of [...Object.keys(AUDITED), ...Object.keys(NOT_AUDITED)]) expect(routes).toContain(key)
    const deleting = [...routes].filter((key) => /^DELETE |\/(bin|empty-bin)$/.test(key))
    expect(deleting.filter((key) => !(key in AUDITED) && !(key in NOT_AUDITED))).toEqual([])
  })

  it('tells what was done and by whom, a page at a time and by kind, and is never of another workspace', async () => {
    const owner = await server.owner()
    await takeInFiles(owner, { 'Shore/blot.png': blotPng(1) })
    const { sets } = await owner.json<{ sets: { id: string }[] }>('/api/sets')
    await owner.post(`/api/sets/${sets[0]?.id}`, undefined, 'DELETE')
    await owner.request(`/api/sets/${sets[0]?.id}`, { method: 'PATCH' }) // refused: no line
    const { id } = await owner.post<{ id: string }>('/api/packs', { title: 'Shore Kit' })
    await owner.post(`/api/packs/${id}`, undefined, 'DELETE')
    await until(async () => (await audit(owner)).length === 2)
    expect(await audit(owner)).toEqual([
      'Test Owner · deletion · Pack deleted: Shore Kit',
      'Test Owner · deletion · Set deleted: Shore',
    ])
    const page = (query: string) => owner.json<{ lines: { id: number; said: string }[] }>(`/api/members/audit?${query}`)
    const [first] = (await page('limit=1')).lines
    expect((await page(`limit=5&before=${first?.id}`)).lines.map(({ said }) => said)).toEqual(['Set deleted: Shore'])
    expect((await page('kind=release')).lines).toEqual([])
    expect((await page('kind=deletion')).lines).toHaveLength(2)
    expect((await owner.request('/api/members/audit?kind=nothing')).status).toBe(422)
    expect(await audit(await server.owner())).toEqual([])
  })
})
