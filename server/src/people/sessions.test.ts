import { sql } from 'drizzle-orm'
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest'
import { sentenceOf, signIn, startTestServer, type TestServer } from '../testing/test-server.ts'
import { createAuth } from './auth.ts'
import { SESSION_DAYS_MAX } from './sessions.ts'

type SignIns = { signIns: { id: string; isThis: boolean; from: string; browser: string }[] }
const PASSWORD = 'marsh-samphire-9'

let server: TestServer
beforeAll(async () => {
  server = await startTestServer(inject('databaseUrl'))
})
afterAll(() => server.close())

/** Makes all sign-ins of an account so old. */
const age = (email: string, days: number) =>
  server.parts.deps.db.execute(
    sql`update session set created_at = now() at time zone 'utc' - make_interval(days => ${days}) from "user" where "user".id = session.user_id and "user".email = ${email}`,
  )
const asCookie = (cookie: string) => ({ headers: { origin: server.url, cookie } })

describe('a sign-in', () => {
  it.each([
    [SESSION_DAYS_MAX - 1, 200],
    [SESSION_DAYS_MAX + 1, 401],
    [365, 401],
    // a clock that was a year ahead when it began
    [-365, 401],
  ])('that began %i days ago is answered by %i, however much it was used', async (days, status) => {
    const email = `aged${days}@test.example`
    const person = await server.owner(email)
    expect((await person.request('/api/brushes')).status).toBe(200)
    await age(email, days)
    expect((await person.request('/api/brushes')).status).toBe(status)
    expect(await person.json('/api/session')).toMatchObject({ signedIn: status === 200 })
    const { rows } = await server.parts.deps.db.execute(
      sql`select count(*)::int as n from session join "user" on "user".id = session.user_id where email = ${email}`,
    )
    // the sign-up began one, too, which nothing has used since
    expect(rows[0]?.n).toBe(status === 200 ? 2 : 1)
  })

  it('is listed without its token, and can be ended from another one', async () => {
    const email = 'two@test.example'
    const person = await server.owner(email)
    const other = await signIn(server.url, email, PASSWORD)
    const listed = await person.request('/api/session/sign-ins')
    const text = await listed.text()
    for (const cookie of [person.cookie, other]) expect(text).not.toContain(cookie.split('=')[1]?.split('.')[0])
    const { signIns } = JSON.parse(text) as SignIns
    // and one that the sign-up began
    expect(signIns.map(({ isThis }) => isThis).sort()).toEqual([false, false, true])
    // the latest is the other one's, which began last
    const theirs = signIns.find(({ isThis }) => !isThis)
    const stranger = await server.owner()
    const end = (who: typeof person) => who.request(`/api/session/sign-ins/${theirs?.id}/end`, { method: 'POST' })
    expect((await end(stranger)).status).toBe(404)
    expect((await fetch(`${server.url}/api/brushes`, asCookie(other))).status).toBe(200)
    const live = await fetch(`${server.url}/api/workspace/events`, asCookie(other))
    expect((await end(person)).status).toBe(200)
    expect(await live.text()).toContain('hello') // its stream has ended
    expect((await fetch(`${server.url}/api/brushes`, asCookie(other))).status).toBe(401)
    expect((await person.json<SignIns>('/api/session/sign-ins')).signIns).toHaveLength(2)
    expect((await fetch(`${server.url}/api/session/sign-ins`)).status).toBe(401)
  })

  it('under https has a cookie of this very host, which no other name can set', async () => {
    const auth = createAuth(server.parts.deps.db, { secret: 'x'.repeat(40), origin: 'https://satchel.example' })
    const body = { name: 'Ida', email: 'https@test.example', password: PASSWORD }
    const { headers } = await auth.api.signUpEmail({ body, returnHeaders: true })
    const cookies = headers.getSetCookie()
    expect(cookies.length).toBeGreaterThan(0)
    for (const cookie of cookies) {
      expect(cookie).toMatch(/^__Host-satchel\./)
      expect(cookie).toMatch(/; Secure/)
      expect(cookie).toMatch(/; Path=\/(;|$)/)
      expect(cookie).not.toMatch(/Domain=/i)
    }
    const cookie = cookies.map((each) => each.split(';')[0]).join('; ')
    expect(await auth.api.getSession({ headers: new Headers({ cookie }) })).toMatchObject({
      user: { email: body.email },
    })
  })
})

describe('what happens of security', () => {
  it('stands in the log, a line each with its request, and no secret in it', async () => {
    const email = 'logged@test.example'
    const person = await server.owner(email)
    const before = server.logged().length
    const tried = await fetch(`${server.url}/api/auth/sign-in/email`, {
      method: 'POST',
      headers: { origin: server.url, 'content-type': 'application/json' },
      body: JSON.stringify({ email, password: 'not-this-one-at-all' }),
    })
    await person.request('/api/brushes', { method: 'POST', headers: { origin: 'https://elsewhere.example' } })
    const { id } = await person.post<{ id: string }>('/api/sets', { name: 'Gone' })
    await person.request(`/api/sets/${id}`, { method: 'DELETE' })
    await person.request('/api/auth/sign-out', {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: '{}',
    })
    const lines = server.logged().slice(before)
    const events = lines.filter(({ level }) => level === 45)
    expect(events.map(({ event }) => event)).toEqual([
      'sign-in refused',
      'request refused',
      'something deleted',
      'signed out',
    ])
    expect(events[0]?.request).toBe(tried.headers.get('x-request-id'))
    expect(new Set(events.map(({ request }) => request)).size).toBe(4)
    expect(events[2]).toMatchObject({ path: `/api/sets/${id}`, method: 'DELETE', workspace: person.workspaceId })
    const text = JSON.stringify(lines)
    for (const secret of [email, 'not-this-one-at-all', PASSWORD]) expect(text).not.toContain(secret)
  })

  it('is written down no more often than a disk can bear', async () => {
    const before = server.logged().length
    const many = Array.from({ length: 900 }, () => fetch(`${server.url}/api/sets`, { method: 'POST' }))
    for (const response of await Promise.all(many)) expect(response.status).toBe(403)
    const written = server.logged().length - before
    expect(written).toBeGreaterThan(100)
    expect(written).toBeLessThanOrEqual(600)
  })

  it('begins with asking by our own name', async () => {
    const { request } = await import('node:http')
    const ask = (host: string, path: string) =>
      new Promise<number>((done) => {
        request(`${server.url}${path}`, { headers: { host } }, (response) => {
          response.resume()
          done(response.statusCode ?? 0)
        }).end()
      })
    const own = new URL(server.url).host
    expect(await ask(own, '/api/session')).toBe(200)
    expect(await ask(own.toUpperCase(), '/api/session')).toBe(200)
    for (const host of ['elsewhere.example', `elsewhere.example:${own.split(':')[1]}`, 'localhost'])
      expect(await ask(host, '/api/session'), host).toBe(421)
    expect(await ask('balancer.example', '/healthz')).toBe(200)
    const { headers } = await fetch(`${server.url}/healthz`)
    expect(headers.get('permissions-policy')).toContain('camera=()')
    expect(headers.get('content-security-policy')).toMatch(/style-src 'self' 'nonce-[\w+/=-]{16,}'/)
    expect(headers.get('content-security-policy')).not.toContain('unsafe-inline')
    expect(await sentenceOf(await fetch(`${server.url}/api/nothing`))).toContain('sign-in')
  })
})
