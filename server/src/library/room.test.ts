import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest'
import { type Person, sentenceOf, startTestServer, type TestServer, until } from '../testing/test-server.ts'
import { blotPng } from '../testing/tips.ts'
import { ROOM_MAX, type Room } from './room.ts'

const GIB = 1024 ** 3
let server: TestServer
let person: Person
let gatherId: string
beforeAll(async () => {
  // a workspace of a hundred thousand bytes
  server = await startTestServer(inject('databaseUrl'), { workspaceGb: 100_000 / GIB })
  person = await server.owner()
  gatherId = (await person.post<{ id: string }>('/api/gathers')).id
})
afterAll(() => server.close())

const room = () => person.json<Room>('/api/workspace/room')
const upload = (sizeBytes: number, path: string) =>
  person.request(`/api/gathers/${gatherId}/uploads`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ path, sizeBytes, modifiedMs: 1 }),
  })

describe('a workspace', () => {
  it('tells what it takes up of what it may', async () => {
    const now = await room()
    expect(now.bytes.most).toBe(100_000)
    expect(now.jobsWaiting).toEqual({ taken: 0, most: ROOM_MAX.jobsWaiting })
    const png = blotPng(1)
    expect((await person.upload(gatherId, 'blot.png', png)).status).toBe(201)
    expect((await room()).bytes.taken).toBeGreaterThanOrEqual(now.bytes.taken + png.length)
  })

  it('takes no file that it has no room for, by whatever way it comes, and says why', async () => {
    const large = new Uint8Array(100_001)
    const asked = [
      await person.upload(gatherId, 'large.png', large),
      await person.request('/api/sources?name=large.png', { method: 'POST', body: large }),
      await upload(100_001, 'large.zip'),
    ]
    for (const answer of asked) {
      expect(answer.status).toBe(507)
      expect(await sentenceOf(answer)).toMatch(/^This workspace holds 1 MiB of the 1 MiB it may, and has no room/)
    }
  })

  it('keeps a place for what others on their way will still bring', async () => {
    const [first, second] = [await upload(60_000, 'a.zip'), await upload(60_000, 'b.zip')]
    expect([first.status, second.status]).toEqual([201, 507])
    const { id } = (await first.json()) as { id: string }
    // the same file, chosen again, is no second one
    expect((await upload(60_000, 'a.zip')).status).toBe(201)
    expect((await room()).uploads.taken).toBe(1)
    // what has come of it takes no second place
    const { bytes } = await room()
    await person.request(`/api/gathers/${gatherId}/uploads/${id}?at=0`, {
      method: 'PATCH',
      body: new Uint8Array(30_000),
    })
    expect((await room()).bytes.taken).toBe(bytes.taken)
    const fits = await upload(bytes.most - bytes.taken, 'c.zip')
    expect(fits.status).toBe(201)
    const { id: third } = (await fits.json()) as { id: string }
    await person.request(`/api/gathers/${gatherId}/uploads/${third}`, { method: 'DELETE' })
    expect((await person.request(`/api/gathers/${gatherId}/uploads/${id}`, { method: 'DELETE' })).status).toBe(200)
    expect((await upload(60_000, 'b.zip')).status).toBe(201)
  })

  it('is not filled by what a job makes of a file either: the job says so, and goes on when there is room', async () => {
    const other = await server.owner()
    const { id } = await other.post<{ id: string }>('/api/gathers')
    // of one picture more is made than it holds itself: the pixels of this file pack far worse than the drawing they are of
    const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="900" height="900"><filter id="f"><feTurbulence baseFrequency=".9"/></filter><rect width="900" height="900" filter="url(#f)"/></svg>`
    expect((await other.upload(id, 'noise.svg', new TextEncoder().encode(svg))).status).toBe(201)
    const [failed] = await until(async () => {
      const { jobs } = await other.json<{ jobs: { state: string; error: string | null }[] }>('/api/jobs')
      return jobs.every(({ state }) => state !== 'queued' && state !== 'running') && jobs
    })
    expect(failed).toMatchObject({ state: 'failed', error: expect.stringMatching(/^This workspace holds .+ no room/) })
    expect((await other.json<Room>('/api/workspace/room')).bytes.taken).toBeLessThanOrEqual(100_000)
  })

  it('has a few links for phones open at once, and another workspace as many', async () => {
    const open = (who: Person) => who.request('/api/phone-links', { method: 'POST' })
    const links = []
    for (let n = 0; n < ROOM_MAX.phoneLinks; n++) links.push((await (await open(person)).json()) as { id: string })
    const more = await open(person)
    expect([more.status, await sentenceOf(more)]).toEqual([429, expect.stringContaining('links for phones are open')])
    expect((await open(await server.owner())).status).toBe(201)
    await person.request(`/api/phone-links/${links[0]?.id}`, { method: 'DELETE' })
    expect((await open(person)).status).toBe(201)
  })

  it('has a bound on the tasks that wait', async () => {
    const { jobs } = server.parts.deps
    await jobs.close() // nobody takes them
    const other = await server.owner()
    const add = () =>
      jobs.add({
        workspaceId: other.workspaceId,
        kind: 'fit-all',
        subjectId: crypto.randomUUID(),
        title: 'x',
        payload: {},
      })
    for (let n = 0; n < ROOM_MAX.jobsWaiting; n++) await add()
    await expect(add()).rejects.toMatchObject({ reason: 'tooMuch', message: expect.stringContaining('wait already') })
    expect((await other.json<Room>('/api/workspace/room')).jobsWaiting.taken).toBe(ROOM_MAX.jobsWaiting)
  })
})
