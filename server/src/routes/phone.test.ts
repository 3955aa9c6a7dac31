import { ENTRY_MEMORY_MAX_BYTES } from '@satchel/core/limits'
import { eq } from 'drizzle-orm'
import { afterAll, beforeAll, beforeEach, describe, expect, inject, it } from 'vitest'
import { phoneLink } from '../db/schema/all.ts'
import { type Person, sentenceOf, startTestServer, type TestServer, until } from '../testing/test-server.ts'
import { blotPng } from '../testing/tips.ts'

type Link = { id: string; link: string; endsAt: string; isForThisMachine: boolean }
type State = { photographs: number; isOpened: boolean; hasEnded: boolean }
type Ledger = { tally: { take: number }; files: { read: number } }
type Line = { path: string; setName: string | null }

let server: TestServer
let person: Person
beforeAll(async () => {
  server = await startTestServer(inject('databaseUrl'))
})
beforeEach(async () => {
  person = await server.owner()
})
afterAll(() => server.close())

/** Somebody else's browser: no cookie, only what stands in the link. */
const phone = (path: string, init: RequestInit) =>
  fetch(`${server.url}/api/p/${path}`, { ...init, headers: { origin: server.url, ...init.headers } })
const make = async () => {
  const made = await person.post<Link>('/api/phone-links')
  return { ...made, token: made.link.split('/p/')[1] ?? '' }
}
const open = (token: string, holder?: string) =>
  phone(token, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify(holder === undefined ? {} : { holder }),
  })
const holderOf = async (response: Response) => ((await response.json()) as { holder: string }).holder
const bring = (token: string, holder: string, name = 'IMG 1.png', bytes: Uint8Array = blotPng(1)) =>
  phone(`${token}/photographs?name=${encodeURIComponent(name)}`, {
    method: 'PUT',
    headers: { 'x-holder': holder },
    body: new Uint8Array(bytes),
  })
const stateOf = (id: string) => person.json<State>(`/api/phone-links/${id}`)
const end = (id: string) =>
  server.parts.deps.db
    .update(phoneLink)
    .set({ endsAt: new Date(Date.now() - 1) })
    .where(eq(phoneLink.id, id))

describe('a phone’s link', () => {
  it('brings photographs into the ledger, which opens by itself', async () => {
    const { id, token, isForThisMachine, endsAt } = await make()
    expect(isForThisMachine).toBe(true)
    expect(Math.round((Date.parse(endsAt) - Date.now()) / 60_000)).toBe(10)
    expect(await stateOf(id)).toMatchObject({ photographs: 0, isOpened: false, hasEnded: false })
    const holder = await holderOf(await open(token))
    expect((await bring(token, holder, 'DCIM/IMG 1.png')).status).toBe(201)
    expect((await bring(token, holder, 'IMG 1.png', blotPng(2))).status).toBe(201)
    expect(await stateOf(id)).toMatchObject({ photographs: 2, isOpened: true })
    const { id: gather } = await person.json<{ id: string }>('/api/gathers/current')
    await until(async () => (await person.json<Ledger>(`/api/gathers/${gather}`)).files.read === 2)
    const { lines } = await person.json<{ lines: Line[] }>(`/api/gathers/${gather}/lines`)
    expect(lines.map(({ path }) => path).sort()).toEqual(['1 IMG 1.png', '2 IMG 1.png'])
    expect(lines.map(({ setName }) => setName)).toEqual(['From a phone', 'From a phone'])
  })

  it('is one phone’s: of several at once one gets in, which may load its page again', async () => {
    const { token } = await make()
    const answers = await Promise.all(Array.from({ length: 8 }, () => open(token)))
    expect(answers.map(({ status }) => status).sort()).toEqual([200, ...Array(7).fill(410)])
    const holder = await holderOf(answers.find(({ ok }) => ok) as Response)
    expect((await open(token, holder)).status).toBe(200)
    const other = await open(token)
    expect([other.status, await sentenceOf(other)]).toEqual([410, expect.stringMatching(/opened before/)])
    expect((await bring(token, 'guessed')).status).toBe(410)
    expect((await bring(token, holder)).status).toBe(201)
  })

  it('takes nothing before it was opened, once it has ended, or was ended', async () => {
    const { id, token } = await make()
    expect((await bring(token, 'anything')).status).toBe(410)
    const holder = await holderOf(await open(token))
    await end(id)
    for (const refused of [await bring(token, holder), await open(token), await open(token, holder)])
      expect([refused.status, await sentenceOf(refused)]).toEqual([410, expect.stringMatching(/has ended/)])
    expect(await stateOf(id)).toMatchObject({ photographs: 0, hasEnded: true })
    const second = await make()
    const secondHolder = await holderOf(await open(second.token))
    expect((await person.request(`/api/phone-links/${second.id}`, { method: 'DELETE' })).status).toBe(200)
    expect((await bring(second.token, secondHolder)).status).toBe(410)
    expect((await phone('nowhere', { method: 'POST', body: '{}' })).status).toBe(404)
  })

  it('is known to its own workspace alone', async () => {
    const { id, token } = await make()
    const stranger = await server.owner()
    expect((await stranger.request(`/api/phone-links/${id}`)).status).toBe(404)
    expect((await stranger.request(`/api/phone-links/${id}`, { method: 'DELETE' })).status).toBe(404)
    const holder = await holderOf(await open(token))
    await bring(token, holder)
    expect(await stranger.json('/api/gathers/current')).toEqual({ id: null })
    expect(
      (await fetch(`${server.url}/api/phone-links`, { method: 'POST', headers: { origin: server.url } })).status,
    ).toBe(401)
  })

  it('refuses too large a photograph by its name before taking it, and counts it not', async () => {
    const { id, token } = await make()
    const holder = await holderOf(await open(token))
    const refused = await phone(`${token}/photographs?name=huge.jpg`, {
      method: 'PUT',
      headers: { 'x-holder': holder },
      body: new Blob([new Uint8Array(ENTRY_MEMORY_MAX_BYTES + 1)]),
    })
    expect([refused.status, await sentenceOf(refused)]).toEqual([413, expect.stringMatching(/^"huge.jpg" is larger/)])
    expect((await stateOf(id)).photographs).toBe(0)
  })

  it('is not one that comes from another site', async () => {
    const { token } = await make()
    const elsewhere = await phone(token, { method: 'POST', headers: { origin: 'https://else.example' }, body: '{}' })
    expect(elsewhere.status).toBe(403)
  })

  /** A photograph whose bytes come as they are given. */
  const begin = (token: string, holder: string) => {
    let give: ReadableStreamDefaultController<Uint8Array> | undefined
    const body = new ReadableStream<Uint8Array>({
      start(controller) {
        give = controller
      },
    })
    const cut = new AbortController()
    const answer = phone(`${token}/photographs?name=a.png`, {
      method: 'PUT',
      body,
      signal: cut.signal,
      headers: { 'x-holder': holder },
      duplex: 'half',
    } as RequestInit)
    return { give: (bytes: Uint8Array) => give?.enqueue(bytes), end: () => give?.close(), cut, answer }
  }

  it('counts a photograph when it has come, not one that was let go of', async () => {
    const { id, token } = await make()
    const holder = await holderOf(await open(token))
    for (let n = 0; n < 3; n++) {
      const { give, cut, answer } = begin(token, holder)
      give(blotPng(1).subarray(0, 200))
      await until(async () => (await fetch(`${server.url}/healthz`)).ok)
      cut.abort()
      await expect(answer).rejects.toThrow()
    }
    expect((await bring(token, holder)).status).toBe(201)
    expect((await stateOf(id)).photographs).toBe(1)
  })

  it('lets nothing in that was under way when the dialog was closed', async () => {
    const { id, token } = await make()
    const holder = await holderOf(await open(token))
    const { give, end: finish, answer } = begin(token, holder)
    const png = blotPng(3)
    give(png.subarray(0, 200))
    await until(async () => (await fetch(`${server.url}/healthz`)).ok)
    await person.request(`/api/phone-links/${id}`, { method: 'DELETE' })
    give(png.subarray(200))
    finish()
    const answered = await answer
    expect([answered.status, await sentenceOf(answered)]).toEqual([410, expect.stringContaining('This link has ended')])
    const { id: gather } = await person.json<{ id: string | null }>('/api/gathers/current')
    if (gather) expect((await person.json<Ledger>(`/api/gathers/${gather}`)).files.read).toBe(0)
    expect((await stateOf(id)).photographs).toBe(0)
  })
})
