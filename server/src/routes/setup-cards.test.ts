import { wholePlan } from '@satchel/core/editions/plan'
import { sql } from 'drizzle-orm'
import { afterAll, beforeAll, beforeEach, describe, expect, inject, it } from 'vitest'
import { takeInFiles } from '../testing/gather.ts'
import { type Person, startTestServer, type TestServer, until } from '../testing/test-server.ts'
import { blotPng } from '../testing/tips.ts'

type Cards = {
  cards: {
    id: string
    title: string
    until: string | null
    plan: { shows: string[]; putsAway: string[]; removes: number; kept: number }
  }[]
  ended: { id: string; title: string; shown: string[]; kept: number }[]
}
type Offered = {
  fileId: string
  key: string
  title: string
  isChosen: boolean
  pockets: { name: string; entries: number }[]
}

let server: TestServer
let teacher: Person
let student: Person
let packId = ''
let editionId = ''
let token = ''
beforeAll(async () => {
  server = await startTestServer(inject('databaseUrl'))
})
afterAll(() => server.close())

const idOf = async (of: Person, name: string) => {
  const { brushes } = await of.json<{ brushes: { id: string; name: string }[] }>('/api/brushes')
  return brushes.find((brush) => brush.name === name)?.id ?? ''
}
async function rackOf(of: Person) {
  type Sets = { sets: { id: string; name: string; hidden: boolean }[] }
  const { sets } = await of.json<Sets>('/api/sets')
  type Pockets = {
    pockets: { id: string; name: string; items: { id: string; name: string; sizePx: number; label: string }[] }[]
  }
  const { pockets } = await of.json<Pockets>('/api/pockets')
  return {
    sets: Object.fromEntries(sets.map(({ name, hidden }) => [name, hidden])),
    pockets: Object.fromEntries(
      pockets.map(({ name, items }) => [name, items.map((item) => `${item.name} ${item.sizePx} ${item.label}`.trim())]),
    ),
    raw: { sets, pockets },
  }
}
const cards = () => student.json<Cards>('/api/setup-cards')
const putBack = (id: string) => student.post(`/api/setup-cards/${id}/put-back`)

/** What the link gives, in the student's ledger. */
async function gather() {
  const { id } = await student.post<{ id: string }>('/api/gathers/from-link', { token })
  return until(async () => {
    const ledger = await student.json<{ reading: object | null; tally: { lines: number }; cards: Offered[] }>(
      `/api/gathers/${id}`,
    )
    return ledger.reading === null && ledger.tally.lines > 0 && { id, ...ledger }
  }, 60_000)
}
async function takeIn(isChosen: boolean): Promise<string> {
  const { id, cards: offered } = await gather()
  const { fileId = '', key = '' } = offered[0] ?? {}
  if (isChosen) await student.post(`/api/gathers/${id}/cards`, { fileId, key, isChosen })
  await student.post(`/api/gathers/${id}/take`)
  return id
}

beforeEach(async () => {
  teacher = await server.owner()
  student = await server.owner()
  await takeInFiles(teacher, { 'Kelp/one.png': blotPng(1), 'Kelp/two.png': blotPng(2), 'Down/three.png': blotPng(3) })
  packId = (await teacher.post<{ id: string }>('/api/packs', { title: 'Shore', licence: 'CC0-1.0' })).id
  const { sets } = await teacher.json<{ sets: { id: string; starter: boolean }[] }>('/api/sets')
  await teacher.post(
    `/api/packs/${packId}/sets`,
    { setIds: sets.filter((set) => !set.starter).map(({ id }) => id) },
    'PUT',
  )
  const { id: releaseId } = await teacher.post<{ id: string }>(`/api/packs/${packId}/releases`, {
    version: '1.0.0',
    notes: '',
  })
  await until(async () => {
    const { releases } = await teacher.json<{ releases: { state: string }[] }>(`/api/packs/${packId}`)
    return releases[0]?.state === 'ready'
  })
  const [one, two] = [await idOf(teacher, 'one'), await idOf(teacher, 'two')]
  const pocket = [
    { brush: two, sizePx: 40, label: 'wide' },
    { brush: one, sizePx: 8, label: '' },
    { brush: two, sizePx: 12, label: '' },
  ]
  const plan = {
    ...wholePlan(),
    pocket,
    setup: { hidden: ['Down'], hidesOthers: true },
    kit: { zone: 'UTC', lessons: [], lastDay: '2030-01-31' },
  }
  editionId = (await teacher.post<{ id: string }>(`/api/packs/${packId}/editions`, { name: 'Class', plan })).id
  const { link } = await teacher.post<{ link: string }>(`/api/packs/${packId}/hand-outs`, {
    releaseId,
    editionId,
    name: 'Ida',
  })
  token = link.split('/').at(-1) ?? ''
  await until(
    async () => ((await (await fetch(`${server.url}/api/h/${token}`)).json()) as { files: string }).files === 'ready',
    60_000,
  )
  // what the student has: two sets, of which one is out of sight, and a pocket of the same name
  await takeInFiles(student, { 'Mine/a.png': blotPng(7), 'Old/b.png': blotPng(8) })
  const own = (await rackOf(student)).raw.sets
  await student.post(`/api/sets/${own.find(({ name }) => name === 'Old')?.id}`, { hidden: true }, 'PATCH')
  await student.post('/api/pockets', { name: 'Shore', setId: own.find(({ name }) => name === 'Mine')?.id })
})

describe('a setup card', () => {
  it('is offered and never forced', async () => {
    const before = await rackOf(student)
    const { id, cards: offered } = await gather()
    expect(offered).toMatchObject([{ title: 'Shore', isChosen: false, pockets: [{ name: 'Shore', entries: 3 }] }])
    await student.post(`/api/gathers/${id}/take`)
    const after = await rackOf(student)
    expect(after.pockets).toEqual(before.pockets)
    expect(after.sets).toEqual({ ...before.sets, Kelp: false, Down: false })
    expect((await cards()).cards).toEqual([])
  })

  it('lays out a pocket of its own at its sizes, hides what it says, and is put back as it was', async () => {
    const before = await rackOf(student)
    await takeIn(true)
    const laid = await rackOf(student)
    expect(laid.pockets).toEqual({ ...before.pockets, 'Shore 2': ['two 40 wide', 'one 8', 'two 12'] })
    expect(laid.sets).toEqual({ Mine: true, Old: true, Kelp: false, Down: true })
    const [card] = (await cards()).cards
    expect(card).toMatchObject({
      title: 'Shore',
      until: '2030-02-01T00:00:00.000Z',
      plan: { shows: ['Mine', 'Down'], putsAway: ['Shore 2'], removes: 0, kept: 0 },
    })
    await putBack(card?.id ?? '')
    const after = await rackOf(student)
    expect(after.pockets).toEqual(before.pockets)
    expect(after.sets).toEqual({ ...before.sets, Kelp: false, Down: false })
    expect(await cards()).toEqual({ cards: [], ended: [] })
    const again = await student.request(`/api/setup-cards/${card?.id}/put-back`, { method: 'POST' })
    expect(again.status).toBe(409)
  })

  it('keeps what its owner has changed meanwhile', async () => {
    await takeIn(true)
    const { pockets, sets } = (await rackOf(student)).raw
    const pocket = pockets.find(({ name }) => name === 'Shore 2')
    await student.post(`/api/pockets/${pocket?.id}/items/${pocket?.items[1]?.id}`, { sizePx: 99 }, 'PATCH')
    await student.post(`/api/sets/${sets.find(({ name }) => name === 'Mine')?.id}`, { hidden: false }, 'PATCH')
    const [card] = (await cards()).cards
    expect(card?.plan).toEqual({ shows: ['Down'], putsAway: [], removes: 2, kept: 1 })
    await putBack(card?.id ?? '')
    const after = await rackOf(student)
    expect(after.pockets['Shore 2']).toEqual(['one 99'])
    expect(after.sets).toEqual({ Mine: false, Old: true, Kelp: false, Down: false })
  })

  it.each([
    [
      'its day is over',
      () => server.parts.deps.db.execute(sql`update setup_card set until = now() - interval '1 minute'`),
    ],
    ['the class is ended by hand', () => teacher.post(`/api/packs/editions/${editionId}/end`)],
  ])('is put back by itself once %s, which is told', async (_, end) => {
    const before = await rackOf(student)
    await takeIn(true)
    await end()
    const { ended } = await until(async () => {
      const now = await cards()
      return now.cards.length === 0 && now
    }, 30_000)
    expect(ended).toMatchObject([{ title: 'Shore', shown: ['Mine', 'Down'], kept: 0 }])
    const after = await rackOf(student)
    expect([after.pockets, after.sets.Mine]).toEqual([before.pockets, false])
    await student.post(`/api/setup-cards/${ended[0]?.id}/seen`)
    expect((await cards()).ended).toEqual([])
  })

  it('goes with the ledger when that is taken back', async () => {
    const before = await rackOf(student)
    const id = await takeIn(true)
    await student.post(`/api/gathers/${id}/undo`)
    const after = await rackOf(student)
    expect([after.pockets, after.sets]).toEqual([before.pockets, before.sets])
    expect((await cards()).cards).toEqual([])
  })

  it('of a release that comes again lays out what is here already', async () => {
    await takeIn(false)
    const { id, cards: offered } = await gather()
    const { fileId = '', key = '' } = offered[0] ?? {}
    await student.post(`/api/gathers/${id}/cards`, { fileId, key, isChosen: true })
    const nothing = await student.request(`/api/gathers/${id}/take`, { method: 'POST' })
    expect(nothing.status).toBe(200)
    expect((await rackOf(student)).pockets['Shore 2']).toEqual(['two 40 wide', 'one 8', 'two 12'])
    expect((await rackOf(student)).sets).toMatchObject({ Mine: true, Kelp: false, Down: true })
  })
})
