import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest'
import { sentenceOf, signIn, startTestServer, type TestServer } from '../testing/test-server.ts'

let server: TestServer
beforeAll(async () => {
  server = await startTestServer(inject('databaseUrl'), { signInsPerMinute: 4 })
})
afterAll(() => server.close())

const owner = { name: 'Ida', workspace: 'Marsh', email: 'ida@test.example', password: 'long-enough-1' }
const post = (path: string, body: unknown, headers: Record<string, string> = {}) =>
  fetch(`${server.url}${path}`, {
    method: 'POST',
    headers: { origin: server.url, 'content-type': 'application/json', ...headers },
    body: JSON.stringify(body),
  })

describe('accounts', () => {
  it('says that the install is empty, takes a first owner once, and signs them in', async () => {
    expect(await (await fetch(`${server.url}/api/session`)).json()).toEqual({
      signedIn: false,
      empty: true,
      without: null,
      sendsMails: false,
    })
    const weak = await post('/api/session/owner', { ...owner, password: 'short' })
    expect(weak.status).toBe(422)
    expect(await sentenceOf(weak)).toBe('password: a password has at least 10 characters. Change it and try again.')
    // more at once than the server has connections
    const both = await Promise.all(
      Array.from({ length: 30 }, (_, n) => post('/api/session/owner', { ...owner, email: `o${n}@test.example` })),
    )
    const statuses = both.map((response) => response.status)
    expect(statuses.filter((status) => status === 201)).toHaveLength(1)
    expect(statuses.filter((status) => status === 409)).toHaveLength(29)
    const made = both.find((response) => response.status === 201)
    const cookie =
      made?.headers
        .getSetCookie()
        .map((each) => each.split(';')[0])
        .join('; ') ?? ''
    expect(made?.headers.getSetCookie().join()).toMatch(/HttpOnly/)
    const session = await (await fetch(`${server.url}/api/session`, { headers: { cookie } })).json()
    expect(session).toMatchObject({ signedIn: true, workspace: 'Marsh', role: 'owner' })
  })

  it('lets nobody else sign up, and nothing be read without a sign-in', async () => {
    expect((await post('/api/auth/sign-up/email', { ...owner, email: 'x@test.example' })).status).toBe(403)
    for (const path of [
      '/api/brushes',
      '/api/sets',
      '/api/packs',
      '/api/jobs',
      '/api/gathers/current',
      '/api/workspace/tally',
    ]) {
      const response = await fetch(`${server.url}${path}`)
      expect(response.status, path).toBe(401)
      expect(response.headers.get('content-type')).toBe('application/problem+json')
    }
  })

  it('refuses changes from another site', async () => {
    const response = await post('/api/session/owner', owner, { origin: 'http://elsewhere.example' })
    expect(response.status).toBe(403)
    expect(await sentenceOf(response)).toContain('came from another site')
  })

  it('sends strict headers', async () => {
    const { headers } = await fetch(`${server.url}/healthz`)
    expect(headers.get('content-security-policy')).toContain("default-src 'self'")
    expect(headers.get('content-security-policy')).not.toContain("script-src 'self' 'unsafe-inline'")
    expect(headers.get('x-frame-options')).toBe('DENY')
    expect(headers.get('x-content-type-options')).toBe('nosniff')
    expect((await fetch(`${server.url}/readyz`)).status).toBe(200)
    expect((await fetch(`${server.url}/api/sets`)).headers.get('cache-control')).toBe('no-store')
  })

  it('slows down guessing of passwords, whatever address the client claims', async () => {
    const tries: number[] = []
    for (let n = 0; n < 8; n++) {
      const response = await post(
        '/api/auth/sign-in/email',
        { email: owner.email, password: `wrong-${n}-wrong` },
        { 'x-satchel-client': `10.0.0.${n}`, 'x-forwarded-for': `10.0.1.${n}` },
      )
      tries.push(response.status)
    }
    expect(tries.filter((status) => status === 401).length).toBeLessThanOrEqual(4)
    expect(tries.at(-1)).toBe(429)
  })

  it('holds up guessing at one account from many places, and not who signs in from where they did before', async () => {
    const other = await startTestServer(inject('databaseUrl'), {
      signInsPerMinute: 1000,
      trustedProxies: '127.0.0.1',
      limits: { failuresPerAccount: 3 },
    })
    try {
      const password = 'marsh-samphire-9'
      const email = 'eve@test.example'
      await other.owner(email)
      const from = async (place: string, tried: string) => {
        const headers = { origin: other.url, 'content-type': 'application/json', 'x-forwarded-for': place }
        const body = JSON.stringify({ email, password: tried })
        return fetch(`${other.url}/api/auth/sign-in/email`, { method: 'POST', headers, body })
      }
      expect((await from('192.0.2.1', password)).status).toBe(200)
      for (let n = 2; n < 5; n++) expect((await from(`192.0.2.${n}`, 'not-it-at-all')).status).toBe(401)
      const held = await from('192.0.2.9', password)
      expect(held.status).toBe(429)
      expect(await sentenceOf(held)).toContain('too many wrong passwords for this account')
      expect((await from('192.0.2.1', password)).status).toBe(200)
      expect((await from('192.0.2.1', 'not-it-at-all')).status).toBe(401)
    } finally {
      await other.close()
    }
  })

  it('slows down whoever asks for one link again and again, and no other link', async () => {
    const other = await startTestServer(inject('databaseUrl'), { limits: { linkRequestsPerMinute: 3 } })
    try {
      const ask = async (path: string) => (await fetch(`${other.url}/api/h/${path}`)).status
      expect([await ask('dead'), await ask('dead/download'), await ask('dead')]).toEqual([404, 404, 404])
      expect([await ask('dead'), await ask('dead/download')]).toEqual([429, 429])
      expect(await ask('another')).toBe(404)
    } finally {
      await other.close()
    }
  })

  it('shows no token but in the cookie, and of the auth library only signing in and out', async () => {
    const other = await startTestServer(inject('databaseUrl'))
    try {
      const { cookie } = await other.owner('ann@test.example')
      const headers = { origin: other.url, cookie, 'content-type': 'application/json' }
      const signedIn = await fetch(`${other.url}/api/auth/sign-in/email`, {
        method: 'POST',
        headers,
        body: JSON.stringify({ email: 'ann@test.example', password: 'marsh-samphire-9' }),
      })
      expect(await signedIn.json()).toEqual({ ok: true })
      for (const path of ['get-session', 'list-sessions', 'update-user', 'change-email', 'delete-user', 'error'])
        for (const method of ['GET', 'POST'])
          expect([path, (await fetch(`${other.url}/api/auth/${path}`, { method, headers })).status]).toEqual([
            path,
            404,
          ])
    } finally {
      await other.close()
    }
  })

  it('ends the live stream of those who sign out', async () => {
    const other = await startTestServer(inject('databaseUrl'))
    try {
      const [ann, ben] = [await other.owner(), await other.owner()]
      const streams = await Promise.all([ann, ben].map((who) => who.request('/api/workspace/events')))
      const [annEnds, benEnds] = streams.map((each) => each.text().then(() => 'ended'))
      await ann.post('/api/auth/sign-out', {})
      expect(await annEnds).toBe('ended')
      expect(await Promise.race([benEnds, ben.json('/api/sets')])).toEqual({ sets: [] })
      expect((await ann.request('/api/sets')).status).toBe(401)
    } finally {
      await other.close()
    }
  })

  it('lets one change the own password: the old one is asked for, and all other sign-ins end', async () => {
    const other = await startTestServer(inject('databaseUrl'), { limits: { failuresPerAccount: 4 } })
    try {
      const ann = await other.owner('ann@test.example')
      const elsewhere = await signIn(other.url, 'ann@test.example', 'marsh-samphire-9')
      const stream = ann.request('/api/workspace/events').then((each) => each.text())
      const change = (current: string, next: string, cookie = ann.cookie) =>
        fetch(`${other.url}/api/session/password`, {
          method: 'POST',
          headers: { origin: other.url, cookie, 'content-type': 'application/json' },
          body: JSON.stringify({ current, next }),
        })
      const next = 'barges-tallow-nine'
      expect((await change('marsh-samphire-9', next, '')).status).toBe(401)
      expect((await change('marsh-samphire-9', 'short')).status).toBe(422)
      expect((await change('marsh-samphire-9', 'password123')).status).toBe(422)
      const wrong = await change('not this one', next)
      expect([wrong.status, await sentenceOf(wrong)]).toEqual([
        422,
        expect.stringContaining('not the password you have'),
      ])
      expect((await ann.request('/api/sets')).status).toBe(200)

      const changed = await change('marsh-samphire-9', next)
      expect(changed.status).toBe(200)
      await stream // ended
      const cookie = changed.headers
        .getSetCookie()
        .map((each) => each.split(';')[0])
        .join('; ')
      const asks = [ann.cookie, elsewhere, cookie].map((cookie) =>
        fetch(`${other.url}/api/sets`, { headers: { origin: other.url, cookie } }),
      )
      expect((await Promise.all(asks)).map(({ status }) => status)).toEqual([401, 401, 200])
      await expect(signIn(other.url, 'ann@test.example', 'marsh-samphire-9')).rejects.toThrow('401')
      await signIn(other.url, 'ann@test.example', next)
      for (let n = 0; n < 3; n++) await change('guess', next, cookie)
      expect((await change(next, 'another-tallow-four', cookie)).status).toBe(429)
    } finally {
      await other.close()
    }
  })

  it('keeps workspaces apart', async () => {
    const other = await startTestServer(inject('databaseUrl'))
    try {
      const [ann, ben] = [await other.owner(), await other.owner()]
      const { id } = await ann.post<{ id: string }>('/api/sets', { name: "Ann's" })
      expect(await ben.json('/api/sets')).toEqual({ sets: [] })
      expect((await ben.request(`/api/sets/${id}`, { method: 'DELETE' })).status).toBe(404)
      const { id: packId } = await ann.post<{ id: string }>('/api/packs', { title: 'Hers' })
      expect((await ben.request(`/api/packs/${packId}`)).status).toBe(404)
      expect(await ann.json('/api/sets')).toMatchObject({ sets: [{ name: "Ann's" }] })
      await expect(signIn(other.url, 'nobody@test.example', 'no-such-password')).rejects.toThrow('401')
    } finally {
      await other.close()
    }
  })
})
