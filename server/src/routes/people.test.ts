import { randomUUID } from 'node:crypto'
import { sql } from 'drizzle-orm'
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest'
import { Seal } from '../seal.ts'
import { takeInFiles } from '../testing/gather.ts'
import { type Person, startTestServer, type TestServer, until } from '../testing/test-server.ts'
import { blotPng } from '../testing/tips.ts'

type HandOut = {
  id: string
  recipientId: string | null
  name: string
  email: string
  note: string
  follows: boolean
  hasLink: boolean
  version: string
  lastVersion: string | null
  endsAt: string | null
  downloadLimit: number | null
  withdrawnAt: string | null
}
type Pack = { releases: { id: string; version: string; state: string }[]; handOuts: HandOut[]; handOutCount: number }
type Page = { version: string; fetchedVersion: string | null; forWhom: string }

let server: TestServer
let person: Person
let packId = ''
let first = ''

const pack = (who = person) => who.json<Pack>(`/api/packs/${packId}`)
const everybody = async () => (await person.json<{ handOuts: HandOut[] }>(`/api/packs/${packId}/people`)).handOuts
const send = (path: string, body: object, { method = 'POST', who = person } = {}) =>
  who.request(path, { method, headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) })
async function release(version: string): Promise<string> {
  const { id } = await person.post<{ id: string }>(`/api/packs/${packId}/releases`, { version, notes: '' })
  await until(async () => (await pack()).releases.find((each) => each.id === id && each.state === 'ready'))
  return id
}
const someone = (n: number) => ({ name: `Person ${n}`, email: `p${n}@x.example`, note: '' })
const give = (people: object[], more: object = {}) =>
  person.post<{ ids: string[] }>(`/api/packs/${packId}/hand-outs/many`, {
    ...{ releaseId: first, batchId: randomUUID(), people },
    ...more,
  })
async function tokensOf(ids: string[]): Promise<string[]> {
  const { links } = await person.post<{ links: { id: string; link: string }[] }>('/api/packs/hand-outs/links', { ids })
  const byId = new Map(links.map(({ id, link }) => [id, link.split('/').at(-1) ?? '']))
  return ids.map((id) => byId.get(id) ?? '')
}
const page = async (token: string) => (await (await fetch(`${server.url}/api/h/${token}`)).json()) as Page
const fetchAll = async (token: string) => {
  const answer = await fetch(`${server.url}/api/h/${token}/download`)
  return { status: answer.status, length: (await answer.arrayBuffer()).byteLength }
}
const ofId = async (id: string) => (await everybody()).find((each) => each.id === id)

beforeAll(async () => {
  server = await startTestServer(inject('databaseUrl'))
  person = await server.owner()
  await takeInFiles(person, { 'Reeds/one.png': blotPng(1), 'Reeds/two.png': blotPng(2) })
  const { sets } = await person.json<{ sets: { id: string; name: string }[] }>('/api/sets')
  packId = (await person.post<{ id: string }>('/api/packs', { title: 'Shore', licence: 'CC0-1.0' })).id
  await person.post(`/api/packs/${packId}/sets`, { setIds: [sets.find(({ name }) => name === 'Reeds')?.id] }, 'PUT')
  first = await release('1.0.0')
})
afterAll(() => server.close())

describe('a release given to many at once', () => {
  it('goes to each by a link of their own', async () => {
    const { ids } = await give([someone(1), someone(2), { name: 'The evening class', email: '', note: 'room 4' }])
    expect(ids).toHaveLength(3)
    const tokens = await tokensOf(ids)
    expect(new Set(tokens).size).toBe(3)
    const names = await Promise.all(tokens.map(async (token) => (await page(token)).forWhom))
    expect(names.toSorted()).toEqual(['Person 1', 'Person 2', 'The evening class'])
    expect((await everybody()).find(({ name }) => name === 'The evening class')).toMatchObject({
      note: 'room 4',
      email: '',
    })
  })

  it('is 500 in one act, which makes nothing twice when it is sent twice', async () => {
    const wish = { batchId: randomUUID() }
    const people = Array.from({ length: 500 }, (_, n) => someone(1000 + n))
    const [one, two] = await Promise.all([give(people, wish), give(people, wish)])
    expect(one.ids).toHaveLength(500)
    expect(two.ids.toSorted()).toEqual(one.ids.toSorted())
    expect(new Set(await tokensOf(one.ids)).size).toBe(500)
    await person.post(`/api/packs/${packId}/hand-outs/change`, {
      changes: one.ids.map((id) => ({ id, withdrawnAt: new Date().toISOString() })),
    })
  })

  it('finds a person again by their address, and keeps what was said of them', async () => {
    const { ids } = await give([{ name: 'Ida', email: 'ida@x.example', note: 'left hand' }])
    const { ids: again } = await give([{ name: 'Ida M.', email: 'IDA@x.example', note: '' }])
    const [one, two] = [await ofId(ids[0] ?? ''), await ofId(again[0] ?? '')]
    expect(two?.recipientId).toBe(one?.recipientId)
    expect([two?.name, two?.note]).toEqual(['Ida M.', 'left hand'])
  })

  it.each([
    ['nobody', [], 'somebody is needed'],
    ['too many', Array.from({ length: 501 }, (_, n) => someone(n)), '500 people go at once'],
    ['no name', [{ ...someone(1), name: ' ' }], 'a name is needed'],
    ['no address', [{ ...someone(1), email: 'x@' }], 'this is no mail address'],
    ['an address with a line in it', [{ ...someone(1), email: 'x@y\r\nBcc: z@y' }], 'this is no mail address'],
  ])('is given to nobody where something is wrong: %s', async (_what, people, says) => {
    const before = (await everybody()).length
    const answer = await send(`/api/packs/${packId}/hand-outs/many`, {
      releaseId: first,
      batchId: randomUUID(),
      people,
    })
    expect([answer.status, (await answer.text()).includes(says)]).toEqual([422, true])
    expect(await everybody()).toHaveLength(before)
    // the page of the pack has the newest of them, and how many there are
    const { handOuts, handOutCount } = await pack()
    expect([handOuts.length, handOutCount]).toEqual([6, before])
  })

  it('is refused of a release that is not the pack’s, and of another workspace', async () => {
    const body = { releaseId: randomUUID(), batchId: randomUUID(), people: [someone(1)] }
    expect((await send(`/api/packs/${packId}/hand-outs/many`, body)).status).toBe(404)
    const other = await server.owner()
    const theirs = await send(`/api/packs/${packId}/hand-outs/many`, { ...body, releaseId: first }, { who: other })
    expect(theirs.status).toBe(404)
  })
})

describe('links', () => {
  it('are told again to those who may write here, and to nobody else', async () => {
    const { ids } = await give([someone(1)])
    const [token = ''] = await tokensOf(ids)
    expect((await page(token)).forWhom).toBe('Person 1')
    const other = await server.owner()
    expect(await (await send('/api/packs/hand-outs/links', { ids }, { who: other })).json()).toEqual({ links: [] })
  })

  it('lie sealed in the database: neither they nor their workspace can be changed for others', async () => {
    const { ids } = await give([someone(1)])
    const [token = ''] = await tokensOf(ids)
    const { rows } = await server.parts.deps.db.execute<{ token_sealed: string; workspace_id: string }>(
      sql`select token_sealed, workspace_id from hand_out where id = ${ids[0]}`,
    )
    const { token_sealed: sealed = '', workspace_id: workspaceId = '' } = rows[0] ?? {}
    expect(sealed).not.toContain(token)
    const { links } = server.parts.deps
    expect(links.open(workspaceId, sealed)).toBe(token)
    expect(links.open(randomUUID(), sealed)).toBeUndefined()
    const changed = `${sealed.slice(0, -3)}${sealed.at(-3) === 'A' ? 'B' : 'A'}${sealed.slice(-2)}`
    expect(links.open(workspaceId, changed)).toBeUndefined()
    expect(links.open(workspaceId, '')).toBeUndefined()
    expect(new Seal('another secret', 'links of hand-outs').open(workspaceId, sealed)).toBeUndefined()
  })

  it('that are renewed lead nowhere any more, and the new one is told', async () => {
    const { ids } = await give([someone(1)])
    const [old = ''] = await tokensOf(ids)
    const { link } = await person.post<{ link: string }>(`/api/packs/hand-outs/${ids[0]}/new-link`)
    expect(await tokensOf(ids)).toEqual([link.split('/').at(-1)])
    expect((await fetch(`${server.url}/api/h/${old}`)).status).toBe(404)
  })

  it('that were given before they could be told again are told as such', async () => {
    const { ids } = await give([someone(1)])
    await server.parts.deps.db.execute(sql`update hand_out set token_sealed = null where id = ${ids[0]}`)
    const { links } = await person.post<{ links: { link: string | null }[] }>('/api/packs/hand-outs/links', { ids })
    expect(links.map(({ link }) => link)).toEqual([null])
    expect((await ofId(ids[0] ?? ''))?.hasLink).toBe(false)
  })
})

describe('a brush that is tried', () => {
  it('comes with its recipe and its pictures through a link that works, and through no other', async () => {
    const { ids } = await give([someone(1)])
    const [token = ''] = await tokensOf(ids)
    const { brushes } = (await (await fetch(`${server.url}/api/h/${token}`)).json()) as { brushes: { id: string }[] }
    const address = `${server.url}/api/h/${token}/brushes/${brushes[0]?.id}`
    const answer = await fetch(address)
    expect(answer.headers.get('cache-control')).toContain('no-store')
    const form = await answer.formData()
    expect(JSON.parse(String(form.get('recipe')))).toHaveProperty('mark.sizePx')
    const frame = form.get('frame') as File
    expect([...new Uint8Array(await frame.arrayBuffer()).subarray(1, 4)]).toEqual([0x50, 0x4e, 0x47])
    expect(form.getAll('grain')).toEqual([])
    // too much for a page is said before anything of it is sent
    const { db } = server.parts.deps
    await db.execute(sql`update blob set size_bytes = size_bytes + 40000000`)
    const large = await fetch(address)
    await db.execute(sql`update blob set size_bytes = size_bytes - 40000000`)
    expect([large.status, await large.text()]).toEqual([413, expect.stringContaining('too large to be tried')])
    const foreign = await fetch(`${server.url}/api/h/${token}/brushes/${randomUUID()}`)
    expect([foreign.status, await foreign.text()]).toEqual([404, expect.stringContaining('not in the hand-out')])
    await person.post(`/api/packs/hand-outs/${ids[0]}/withdraw`)
    expect((await fetch(address)).status).toBe(410)
  })
})

describe('one act over many hand-outs', () => {
  const change = (changes: object[]) =>
    person.post<{ before: object[] }>(`/api/packs/${packId}/hand-outs/change`, { changes })

  it('withdraws, limits and ends them all, and is undone by what it gives back', async () => {
    const { ids } = await give([someone(1), someone(2)], { downloadLimit: 3 })
    const tokens = await tokensOf(ids)
    const now = new Date().toISOString()
    const { before } = await change(ids.map((id) => ({ id, withdrawnAt: now, downloadLimit: null, follows: true })))
    for (const token of tokens) expect((await fetch(`${server.url}/api/h/${token}`)).status).toBe(410)
    expect(await ofId(ids[0] ?? '')).toMatchObject({ downloadLimit: null, follows: true })
    await change(before)
    for (const token of tokens) expect((await fetch(`${server.url}/api/h/${token}`)).status).toBe(200)
    expect(await ofId(ids[1] ?? '')).toMatchObject({ downloadLimit: 3, follows: false, withdrawnAt: null })
  })

  it('changes nothing where it names a release of another pack, and nothing of another workspace', async () => {
    const { ids } = await give([someone(1)])
    const wrong = { changes: [{ id: ids[0], downloadLimit: 9, releaseId: randomUUID() }] }
    expect((await send(`/api/packs/${packId}/hand-outs/change`, wrong)).status).toBe(404)
    expect((await ofId(ids[0] ?? ''))?.downloadLimit).toBe(null)
    const other = await server.owner()
    const theirs = await other.post<{ id: string }>('/api/packs', { title: 'Theirs' })
    const mine = { changes: [{ id: ids[0], downloadLimit: 9 }] }
    // nor of another pack of the same workspace
    const own = await person.post<{ id: string }>('/api/packs', { title: 'Another' })
    expect(await (await send(`/api/packs/${own.id}/hand-outs/change`, mine)).json()).toEqual({ before: [] })
    const answer = await send(`/api/packs/${theirs.id}/hand-outs/change`, mine, { who: other })
    expect(await answer.json()).toEqual({ before: [] })
    expect((await ofId(ids[0] ?? ''))?.downloadLimit).toBe(null)
  })
})

describe('a person', () => {
  it('is mended once, and every hand-out of theirs has the name', async () => {
    const { ids } = await give([{ name: 'Boo', email: 'bo@x.example', note: '' }])
    const { recipientId } = (await ofId(ids[0] ?? '')) ?? {}
    const bo = { name: 'Bo', email: 'bo@y.example', note: 'paints left' }
    const { was } = await person.post<{ was: object }>(`/api/packs/hand-outs/people/${recipientId}`, bo, 'PUT')
    expect(was).toEqual({ name: 'Boo', email: 'bo@x.example', note: '' })
    expect(await ofId(ids[0] ?? '')).toMatchObject(bo)
    // found again by the new address
    const { ids: again } = await give([{ ...bo, note: '' }])
    expect((await ofId(again[0] ?? ''))?.recipientId).toBe(recipientId)
  })

  it('is not given the address of another one', async () => {
    const { ids } = await give([someone(31), someone(32)])
    const { recipientId } = (await ofId(ids[0] ?? '')) ?? {}
    const answer = await send(`/api/packs/hand-outs/people/${recipientId}`, someone(32), { method: 'PUT' })
    expect([answer.status, await answer.text()]).toEqual([
      409,
      expect.stringContaining('Somebody else has this address'),
    ])
  })
})

describe('a hand-out that follows', () => {
  it('gives each newer release, and one that stays gives its own; who has what is told', async () => {
    const [follows = '', stays = ''] = [
      (await give([someone(51)], { follows: true })).ids[0],
      (await give([someone(52)])).ids[0],
    ]
    const [one = '', two = ''] = await tokensOf([follows, stays])
    expect((await fetchAll(one)).status).toBe(200)
    // what was begun goes on as it was begun, byte for byte
    const begun = await fetch(`${server.url}/api/h/${one}/download`, { redirect: 'manual' })
    const granted = new URL(begun.headers.get('location') ?? '', server.url).href
    const { recipe, version, name, maker, licence, tags, id } = await oneBrush()
    const changed = { ...recipe, mark: { ...recipe.mark, sizePx: 91 } }
    await person.post(`/api/brushes/${id}`, { name, maker, licence, tags, recipe: changed, from: version }, 'PUT')
    const second = await release('1.1.0')
    expect(await page(one)).toMatchObject({ version: '1.1.0', fetchedVersion: '1.0.0' })
    expect(await page(two)).toMatchObject({ version: '1.0.0', fetchedVersion: null })
    const was = await fetch(granted)
    expect(was.headers.get('content-disposition')).toContain('1.0.0')
    await was.arrayBuffer()
    expect((await fetchAll(one)).status).toBe(200)
    expect(await ofId(follows)).toMatchObject({ version: '1.1.0', lastVersion: '1.1.0' })
    expect(await ofId(stays)).toMatchObject({ version: '1.0.0', lastVersion: null })
    // a recall: it goes back to the last good one
    await person.post(`/api/packs/${packId}/releases/${second}/recall`, { reason: 'A tip is not ours.' })
    expect(await page(one)).toMatchObject({ version: '1.0.0', fetchedVersion: '1.1.0' })
  })

  type Brush = {
    id: string
    name: string
    maker: string
    licence: string
    tags: string[]
    version: number
    recipe: { mark: object }
  }
  async function oneBrush(): Promise<Brush> {
    const { brushes } = await person.json<{ brushes: { id: string }[] }>('/api/brushes')
    const id = brushes[0]?.id ?? ''
    return { ...(await person.json<Brush>(`/api/brushes/${id}`)), id }
  }
})
