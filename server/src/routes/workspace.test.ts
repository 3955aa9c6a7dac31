import { afterAll, beforeAll, beforeEach, describe, expect, inject, it } from 'vitest'
import { type Person, sentenceOf, startTestServer, type TestServer, until } from '../testing/test-server.ts'
import { blotPng } from '../testing/tips.ts'

let server: TestServer
let person: Person
beforeAll(async () => {
  server = await startTestServer(inject('databaseUrl'))
})
beforeEach(async () => {
  person = await server.owner()
})
afterAll(() => server.close())

/** Follows the event stream of a person until `count` events of the wanted kind came. */
async function follow(who: Person, wanted: string, count: number, during: () => Promise<unknown>): Promise<string[]> {
  const abort = new AbortController()
  const response = await who.request('/api/workspace/events', { signal: abort.signal })
  const seen: string[] = []
  const decoder = new TextDecoder()
  const reader = response.body?.getReader()
  if (!reader) throw new Error('no stream')
  let text = ''
  const read = async () => {
    while (seen.filter((event) => event === wanted).length < count) {
      const { value, done } = await reader.read()
      if (done) return
      text += decoder.decode(value)
      seen.splice(0, seen.length, ...[...text.matchAll(/^event: (\w+)$/gm)].map((match) => match[1] ?? ''))
      if (seen.length === 1 && seen[0] === 'hello') void during()
    }
  }
  await read()
  abort.abort()
  return seen
}

describe('a workspace', () => {
  it('tells what waits, what is there and what is out', async () => {
    expect(await person.json('/api/workspace/tally')).toEqual({
      waiting: 0,
      brushes: 0,
      out: 0,
      loose: 0,
      starterHidden: false,
    })
    const { id } = await person.post<{ id: string }>('/api/gathers')
    await person.upload(id, 'a.png', blotPng(1))
    await until(async () => (await person.json<{ waiting: number }>('/api/workspace/tally')).waiting === 1)
    await until(async () => (await person.request(`/api/gathers/${id}/take`, { method: 'POST' })).ok)
    expect(await person.json('/api/workspace/tally')).toMatchObject({ waiting: 0, brushes: 1, out: 0 })
  })

  it('sends what changes to its own people, and not to others', async () => {
    const other = await server.owner()
    const seen = await follow(person, 'library', 1, async () => {
      await other.post('/api/packs', { title: 'Not yours' })
      await person.post('/api/sets', { name: 'Mine' })
    })
    expect(seen).toEqual(['hello', 'library'])
  })

  it.each([
    ['POST', '/api/sets', { name: '' }, 'name: a name is needed. Change it and try again.'],
    ['POST', '/api/sets', { name: 'x'.repeat(121) }, 'name: a name may have 120 characters. Change it and try again.'],
    ['POST', '/api/brushes/bin', { ids: [] }, 'ids:'],
    ['POST', '/api/packs', {}, 'title:'],
  ])('answers %s %s with %j in one sentence that names the part', async (method, path, body, sentence) => {
    const response = await person.request(path, {
      method,
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify(body),
    })
    expect(response.status).toBe(422)
    expect(await sentenceOf(response)).toContain(sentence)
  })

  it('answers what is not there, and what is no JSON, without a stack or a path', async () => {
    const gone = await person.request('/api/brushes/00000000-0000-4000-8000-000000000000')
    expect(gone.status).toBe(404)
    expect(await sentenceOf(gone)).toBe('This brush is not here any more; go back and choose another.')
    const nowhere = await person.request('/api/nowhere')
    expect(await sentenceOf(nowhere)).toBe('There is nothing at this address.')
    const garbled = await person.request('/api/sets', {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: '{',
    })
    expect(garbled.status).toBe(400)
    expect(await garbled.text()).not.toMatch(/node_modules|at /)
  })

  it('refuses a request body that is far too large', async () => {
    const response = await person.request('/api/sets', {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ name: 'x'.repeat(5 * 1024 * 1024) }),
    })
    expect(response.status).toBe(413)
  })

  it('empties the bin for good, and keeps what a release still needs', async () => {
    const { id } = await person.post<{ id: string }>('/api/gathers')
    await person.upload(id, 'S/a.png', blotPng(1))
    await person.upload(id, 'S/b.png', blotPng(2))
    await until(async () => (await person.json<{ waiting: number }>('/api/workspace/tally')).waiting === 2)
    await until(async () => (await person.request(`/api/gathers/${id}/take`, { method: 'POST' })).ok)
    const { sets } = await person.json<{ sets: { id: string }[] }>('/api/sets')
    const { id: packId } = await person.post<{ id: string }>('/api/packs', { title: 'P', licence: 'CC0-1.0' })
    await person.post(`/api/packs/${packId}/sets`, { setIds: [sets[0]?.id] }, 'PUT')
    await person.post(`/api/packs/${packId}/releases`, { version: '1.0.0' })
    const { ids } = await person.json<{ ids: string[] }>('/api/brushes/ids')
    await person.post('/api/brushes/bin', { ids: [ids[0]] })
    await person.post('/api/brushes/empty-bin')
    expect(await person.json('/api/brushes/count')).toEqual({ count: 1 })
    expect(await person.json('/api/brushes/count?bin=1')).toEqual({ count: 0 })
    await until(
      async () =>
        (await person.json<{ releases: { state: string }[] }>(`/api/packs/${packId}`)).releases[0]?.state === 'ready',
    )
  })
})
