import { applyMoves, planMoves } from '@satchel/core/same/places'
import { encodePng } from '@satchel/node/png'
import { sql } from 'drizzle-orm'
import fc from 'fast-check'
import sharp from 'sharp'
import { afterAll, beforeAll, beforeEach, describe, expect, inject, it } from 'vitest'
import { PLACES, type StoredPlace } from '../db/brush-places.ts'
import type { Job } from '../db/jobs.ts'
import { PLACE_KINDS } from '../db/schema/acts.ts'
import { keepOne } from '../library/keep-one.ts'
import { undoAct } from '../library/undo-act.ts'
import { compareMarksJob } from '../same-marks/compare-marks.ts'
import { takeInFiles } from '../testing/gather.ts'
import { type Person, sentenceOf, startTestServer, type TestServer, until } from '../testing/test-server.ts'
import { blot, blotPng } from '../testing/tips.ts'

type Member = {
  id: string
  name: string
  kind: string | null
  isKept: boolean
  said: string
  frames: number
  uses: object
}
type Said = {
  groups: { root: string; members: Member[]; more: number }[]
  total: number
  counts: Record<string, number>
  uncompared: number
}
type Act = { id: string; said: string; changed: number }

let server: TestServer
let person: Person
beforeAll(async () => {
  server = await startTestServer(inject('databaseUrl'))
})
afterAll(() => server.close())
beforeEach(async () => {
  person = await server.owner()
})

const enlarged = async (seed: number, side: number) =>
  new Uint8Array(await sharp(blotPng(seed, 96)).resize(side, side, { kernel: 'cubic' }).png().toBuffer())
const mirrored = async (seed: number) => new Uint8Array(await sharp(blotPng(seed, 96)).flop().png().toBuffer())

const compared = (query = '') =>
  until(async () => {
    const said = await person.json<Said>(`/api/same-marks${query}`)
    const { jobs } = await person.json<{ jobs: { kind: string; state: string }[] }>('/api/jobs')
    const isOpen = jobs.some(
      ({ kind, state }) => kind === 'compare-marks' && (state === 'queued' || state === 'running'),
    )
    return said.uncompared === 0 && !isOpen && said
  })
const kindsIn = ({ groups }: Said) =>
  groups.map(({ members }) => members.map(({ name, kind }) => `${name}: ${kind ?? 'first'}`).sort())
const idsByName = async () => {
  const { brushes } = await person.json<{ brushes: { id: string; name: string }[] }>('/api/brushes?limit=200')
  return new Map(brushes.map(({ id, name }) => [name, id]))
}
const idOf = async (name: string) => {
  const id = (await idsByName()).get(name)
  if (!id) throw new Error(`no brush ${name}`)
  return id
}
const copy = (id: string, name: string) => person.post<{ id: string }>(`/api/brushes/${id}/copy`, { name })
const undo = ({ id }: Act) => person.post<{ stayed: number }>(`/api/acts/${id}/undo`)

/** All that says where brushes stand, as it lies in the database. */
async function everyPlace() {
  const { db } = server.parts.deps
  const ids = (await db.execute<{ id: string }>(sql`select id from brush where workspace_id = ${person.workspaceId}`))
    .rows
  const all = ids.map(({ id }) => id)
  const places = await Promise.all(PLACE_KINDS.map((kind) => PLACES[kind].load(db, person.workspaceId, all)))
  const rows = (query: ReturnType<typeof sql>) => db.execute(query).then(({ rows }) => rows)
  return {
    places: Object.fromEntries(PLACE_KINDS.map((kind, i) => [kind, places[i]])) as Record<string, StoredPlace[]>,
    notes: await rows(sql`select pack_id, brush_id, ordinal, note, looked from pack_brush
      where workspace_id = ${person.workspaceId} order by 1, 2`),
    covers: await rows(
      sql`select id, cover_brush_id, cover from pack where workspace_id = ${person.workspaceId} order by 1`,
    ),
    plans: await rows(sql`select id, plan from edition where workspace_id = ${person.workspaceId} order by 1`),
    live: await rows(sql`select id, tip_id, version from brush where workspace_id = ${person.workspaceId}
      and deleted_at is null order by 1`),
  }
}

/** Four blots: one has a copy that paints otherwise and one that is the same in all, one was enlarged, one mirrored. */
async function somewhatAlike() {
  await takeInFiles(person, {
    'Shore/one.png': blotPng(1, 96),
    'Shore/two.png': blotPng(2, 96),
    'Dune/two small.png': await enlarged(2, 70),
    'Dune/three.png': blotPng(3, 96),
    'Dune/four.png': blotPng(4, 96),
  })
  // later than what it is a copy of: of equally large ones the first is the original
  await takeInFiles(person, { 'Dune/three back.png': await mirrored(3) })
  const one = await idOf('one')
  await copy(one, 'one again')
  const { id: other } = await copy(one, 'one wide')
  type Whole = { maker: string; licence: string; tags: string[]; recipe: { path: object }; version: number }
  const { maker, licence, tags, recipe, version } = await person.json<Whole>(`/api/brushes/${other}`)
  const wider = { ...recipe, path: { ...recipe.path, spacingPct: 140 } }
  await person.post(
    `/api/brushes/${other}`,
    { name: 'one wide', maker, licence, tags, recipe: wider, from: version },
    'PUT',
  )
}

describe('same marks', () => {
  it('come as the library grows, in groups around their originals, each with how it differs', async () => {
    await somewhatAlike()
    const said = await compared()
    expect(kindsIn(said).sort()).toEqual([
      ['one again: whole', 'one wide: picture', 'one: first'],
      ['three back: shape', 'three: first'].sort(),
      ['two small: mark', 'two: first'].sort(),
    ])
    expect(said.counts).toEqual({ whole: 1, picture: 1, mark: 1, shape: 1, kept: 0 })
    const member = (name: string) => said.groups.flatMap(({ members }) => members).find((each) => each.name === name)
    expect(member('one wide')?.said).toBe('The same picture, painting in another way')
    expect(member('two small')?.said).toMatch(/^Same mark, \d+ px instead of \d+/)
    expect(member('three back')?.said).toContain('mirrored')
    expect(member('two small')?.uses).toEqual({ set: { count: 1, names: ['Dune'] } })

    // what comes later is compared as it comes
    await takeInFiles(person, { 'Dune/four large.png': await enlarged(4, 180) })
    const later = await until(async () => {
      const next = await person.json<Said>('/api/same-marks')
      return next.uncompared === 0 && next.total === 4 && next
    })
    expect(kindsIn(later)).toContainEqual(['four large: shape', 'four: first'])
    // and what is gone is in no group
    await person.post('/api/brushes/bin', { ids: [await idOf('four')] })
    expect((await compared()).total).toBe(3)
  })

  it('are compared by one job more, where some came while others were compared', async () => {
    const { deps } = server.parts
    const { workspaceId } = person
    await takeInFiles(person, { 'Shore/one.png': blotPng(1, 96) })
    await compared()
    const handler = compareMarksJob(deps)
    const job = { workspaceId } as Job
    expect(await handler.more?.(job)).toBe(false)
    // without an event, as if it had come while a job was at work, which stands for the next one by its subject
    await deps.db.execute(sql`delete from compared_mark where workspace_id = ${workspaceId}`)
    expect(await handler.more?.(job)).toBe(true)
    await handler.run({ job, payload: {}, signal: new AbortController().signal, progress: () => undefined })
    expect(await handler.more?.(job)).toBe(false)
  })

  it('keeps one: it stands wherever the others stood, once; undone, all stands as before', async () => {
    await somewhatAlike()
    await compared()
    const [one, again, wide] = await Promise.all(['one', 'one again', 'one wide'].map(idOf))
    if (!one || !again || !wide) throw new Error('not there')
    const { id: shells } = await person.post<{ id: string }>('/api/sets', { name: 'Shells' })
    await person.post(`/api/sets/${shells}/brushes`, { ids: [wide, await idOf('four'), again] })
    const { id: pocket } = await person.post<{ id: string }>('/api/pockets', { name: 'Pocket' })
    await person.post(`/api/pockets/${pocket}/items`, { ids: [again, one, wide] })
    const pack = { title: 'Shore', setIds: [shells], maker: 'Wren', licence: 'CC0-1.0' }
    const { id: packId } = await person.post<{ id: string }>('/api/packs', pack)
    await person.post(`/api/packs/${packId}/single`, { brushIds: [again, wide], was: [] }, 'PUT')
    await person.post(`/api/packs/${packId}/notes/${one}`, { note: 'The first of them.' }, 'PUT')
    const before = await everyPlace()
    expect(before.places.pack).toHaveLength(2)

    const act = await person.post<Act>('/api/same-marks/keep-one', { kept: one, gone: [again, wide] })
    expect(act).toMatchObject({ changed: 2, said: 'One brush was kept instead of 2 others.' })
    const after = await everyPlace()
    for (const kind of PLACE_KINDS) {
      const moves = planMoves(before.places[kind] ?? [], new Map([[again, one], [wide, one]])) // biome-ignore format: pairs
      const brushes = (places: readonly { list: string; brush: string }[]) =>
        places.map(({ list, brush }) => `${list} ${brush}`)
      expect(brushes(after.places[kind] ?? [])).toEqual(brushes(applyMoves(before.places[kind] ?? [], moves)))
    }
    expect(after.live.map(({ id }) => id)).not.toContain(wide)
    expect(after.notes).toContainEqual(
      expect.objectContaining({ brush_id: one, note: 'The first of them.', ordinal: 0 }),
    )
    expect((await compared()).groups.flatMap(({ members }) => members.map(({ id }) => id))).not.toContain(one)

    expect(await undo(act)).toEqual({ stayed: 0 })
    expect(await everyPlace()).toEqual(before)
    const twice = await person.request(`/api/acts/${act.id}/undo`, { method: 'POST' })
    expect([twice.status, await sentenceOf(twice)]).toEqual([
      409,
      'This was taken back already, or is too long ago; nothing was changed.',
    ])
  })

  it('takes back what was not changed since, and says how much stays', async () => {
    await somewhatAlike()
    const [one, again] = await Promise.all(['one', 'one again'].map(idOf))
    if (!one || !again) throw new Error('not there')
    const { id: shells } = await person.post<{ id: string }>('/api/sets', { name: 'Shells' })
    await person.post(`/api/sets/${shells}/brushes`, { ids: [again] })
    const act = await person.post<Act>('/api/same-marks/keep-one', { kept: one, gone: [again] })
    await person.post(`/api/sets/${shells}/remove`, { ids: [one] })
    expect(await undo(act)).toEqual({ stayed: 1 })
    const { brushes } = await person.json<{ brushes: object[] }>(`/api/brushes?setId=${shells}`)
    expect(brushes).toEqual([])
    expect(await idOf('one again')).toBe(again)
  })

  it('decides on all of a kind in one act, which is taken back as one', async () => {
    await somewhatAlike()
    await compared()
    const before = await everyPlace()
    const act = await person.post<Act>('/api/same-marks/keep-one-of-all', { kind: 'mark' })
    expect(act.said).toBe('One brush kept instead of another one that was the same mark.')
    expect((await compared()).counts).toMatchObject({ mark: 0, whole: 1, picture: 1, shape: 1 })
    const none = await person.request('/api/same-marks/keep-one-of-all', {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ kind: 'mark' }),
    })
    expect(none.status).toBe(409)
    await undo(act)
    expect(await everyPlace()).toEqual(before)
    expect((await compared()).counts).toMatchObject({ mark: 1 })
  })

  it('keeps both, and asks no more until it is told to', async () => {
    await somewhatAlike()
    await compared()
    const wide = await idOf('one wide')
    const act = await person.post<Act>('/api/same-marks/keep-both', { ids: [wide] })
    expect((await compared()).counts).toEqual({ whole: 1, picture: 0, mark: 1, shape: 1, kept: 1 })
    expect((await compared('?kept=1')).total).toBe(1)
    await undo(act)
    expect((await compared()).counts).toMatchObject({ picture: 1, kept: 0 })
    await person.post('/api/same-marks/keep-both', { kind: 'picture' })
    await person.post('/api/same-marks/ask-again', { ids: [wide] })
    expect((await compared()).counts).toMatchObject({ picture: 1, kept: 0 })
  })

  it('remembers what was called not the same, also for what comes later', async () => {
    await somewhatAlike()
    await compared()
    const act = await person.post<Act>('/api/same-marks/apart', { ids: [await idOf('three back')] })
    expect((await compared()).counts).toMatchObject({ shape: 0, mark: 1 })
    await undo(act)
    await until(async () => (await compared()).counts.shape === 1)
    const same = await person.request('/api/same-marks/apart', {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ ids: [await idOf('one again')] }),
    })
    expect([same.status, await sentenceOf(same)]).toEqual([
      422,
      'These have the very same pixels; keep both of them, or change one.',
    ])
  })

  it('makes several marks frames of one, and takes that back', async () => {
    await somewhatAlike()
    const [two, small, three] = await Promise.all(['two', 'two small', 'three'].map(idOf))
    const before = await everyPlace()
    const act = await person.post<Act>('/api/same-marks/keep-one', { kept: two, gone: [small, three], asFrames: true })
    const now = await person.json<{ pictures: object[]; recipe: { path: { nextFrame: object[] } } }>(
      `/api/brushes/${two}`,
    )
    expect(now.pictures).toHaveLength(3)
    expect(now.recipe.path.nextFrame).toEqual([{ rule: 'inOrder', frames: 3 }])
    await undo(act)
    expect(await everyPlace()).toEqual(before)
  })

  it('refuses what cannot be: one that goes twice, is kept and goes, is in the bin, or is of another library', async () => {
    await somewhatAlike()
    const [one, again, four] = await Promise.all(['one', 'one again', 'four'].map(idOf))
    const keep = async (kept: unknown, gone: unknown) => {
      const response = await person.request('/api/same-marks/keep-one', {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify({ kept, gone }),
      })
      return response.status
    }
    const before = await everyPlace()
    expect(await keep(one, [one])).toBe(422)
    expect(await keep(one, [again, again])).toBe(422)
    expect(await keep(one, [])).toBe(422)
    const stranger = await server.owner()
    const theirs = await stranger.request('/api/same-marks/keep-one', {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ kept: one, gone: [again] }),
    })
    expect(theirs.status).toBe(409)
    expect(await everyPlace()).toEqual(before)
    await person.post('/api/brushes/bin', { ids: [four] })
    expect(await keep(one, [four])).toBe(409)
  })

  it('leaves a library in one state when several act at once', async () => {
    await somewhatAlike()
    const [one, again, wide] = await Promise.all(['one', 'one again', 'one wide'].map(idOf))
    const keep = (kept: unknown, gone: unknown) =>
      person.request('/api/same-marks/keep-one', {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify({ kept, gone: [gone] }),
      })
    const answers = await Promise.all([keep(one, again), keep(again, wide), keep(wide, one)])
    // whichever came first: no brush that is in the bin was kept, and one at least is left
    expect(answers.map(({ status }) => status).filter((status) => status !== 200 && status !== 409)).toEqual([])
    const left = await idsByName()
    expect(['one', 'one again', 'one wide'].filter((name) => left.has(name)).length).toBeGreaterThan(0)
    const { places } = await everyPlace()
    const live = new Set(left.values())
    expect(places.set?.filter(({ brush }) => !live.has(brush))).toEqual([])
  })
})

describe('keeping one brush instead of others', () => {
  it('does in the database what was planned, and takes it back, wherever brushes stand', async () => {
    await takeInFiles(
      person,
      Object.fromEntries(Array.from({ length: 6 }, (_, i) => [`Shore/b${i}.png`, blotPng(60 + i)])),
    )
    const ids = (await Promise.all([0, 1, 2, 3, 4, 5].map((i) => idOf(`b${i}`)))) as string[]
    const lists = {
      set: await Promise.all(['x', 'y'].map((name) => person.post<{ id: string }>('/api/sets', { name }))),
      pocket: await Promise.all(['x', 'y'].map((name) => person.post<{ id: string }>('/api/pockets', { name }))),
      pack: await Promise.all(
        ['x', 'y'].map((title) =>
          person.post<{ id: string }>('/api/packs', { title, setIds: [], maker: '', licence: 'CC0-1.0' }),
        ),
      ),
    }
    const { db } = server.parts.deps
    const { workspaceId } = person
    const some = fc.uniqueArray(fc.nat(5), { maxLength: 6 })
    const wish = fc.record({
      sets: fc.tuple(some, some),
      pockets: fc.tuple(some, some),
      packs: fc.tuple(some, some),
      notes: some,
    })
    const fill = async (wanted: {
      sets: number[][]
      pockets: number[][]
      packs: number[][]
      notes: number[]
    }): Promise<void> => {
      for (const table of ['set_item', 'pocket_item', 'pack_brush'])
        await db.execute(sql`delete from ${sql.identifier(table)} where workspace_id = ${workspaceId}`)
      const each = async (
        lists: readonly { id: string }[],
        wanted: number[][],
        add: (list: string, id: string, n: number) => Promise<unknown>,
      ) => {
        for (const [l, numbers] of wanted.entries())
          for (const [n, i] of numbers.entries()) await add(lists[l]?.id ?? '', ids[i] ?? '', n)
      }
      await each(lists.set, wanted.sets, (list, id, n) =>
        db.execute(
          sql`insert into set_item (workspace_id, set_id, brush_id, position) values (${workspaceId}, ${list}, ${id}, ${`a${n}`})`,
        ),
      )
      await each(lists.pocket, wanted.pockets, (list, id, n) =>
        db.execute(
          sql`insert into pocket_item (workspace_id, pocket_id, brush_id, size_px, position) values (${workspaceId}, ${list}, ${id}, ${20 + (n % 2)}, ${`a${n}`})`,
        ),
      )
      await each(lists.pack, wanted.packs, (list, id, n) =>
        db.execute(
          sql`insert into pack_brush (workspace_id, pack_id, brush_id, ordinal, note, looked) values (${workspaceId}, ${list}, ${id}, ${n}, ${n % 2 ? `note ${n}` : ''}, ${n === 2 ? 1 : null})`,
        ),
      )
      for (const i of wanted.notes)
        await db.execute(
          sql`insert into pack_brush (workspace_id, pack_id, brush_id, ordinal, note) values (${workspaceId}, ${lists.pack[0]?.id}, ${ids[i]}, null, 'only a note') on conflict do nothing`,
        )
    }
    const [a, b, c, d, e] = ids as [string, string, string, string, string]
    const groups = [{ kept: a, gone: [b, c] }, { kept: d, gone: [e] }] // biome-ignore format: a table
    const keptOf = new Map([[b, a], [c, a], [e, d]]) // biome-ignore format: a table
    const brushesIn = (places: readonly { list: string; slot: string; brush: string }[]) =>
      places.map(({ list, slot, brush }) => `${list} ${slot} ${brush}`)
    await fc.assert(
      fc.asyncProperty(wish, async (wanted) => {
        await fill(wanted)
        const before = await everyPlace()
        const { id } = await keepOne({ db }, workspaceId, groups, { said: '' })
        const after = await everyPlace()
        for (const kind of PLACE_KINDS) {
          const places = before.places[kind] ?? []
          expect(brushesIn(after.places[kind] ?? [])).toEqual(brushesIn(applyMoves(places, planMoves(places, keptOf))))
        }
        expect(await undoAct({ db }, workspaceId, id)).toEqual({ stayed: 0 })
        expect(await everyPlace()).toEqual(before)
      }),
      { numRuns: 40 },
    )
  })
})

it('a brush that is one picture and one of several frames are not called the same', async () => {
  const frames = [blot(7, 96), blot(8, 96), blot(9, 96)]
  await takeInFiles(person, { 'Shore/still.png': encodePng(frames[0] ?? blot(7, 96)) })
  await takeInFiles(person, { 'Shore/other.png': blotPng(8, 96), 'Shore/third.png': blotPng(9, 96) })
  const still = await idOf('still')
  const { id: moving } = await copy(still, 'moving')
  await person.post('/api/same-marks/keep-one', {
    ...{ kept: moving, gone: [await idOf('other'), await idOf('third')], asFrames: true },
  })
  const said = await compared()
  expect(kindsIn(said)).toEqual([['moving: shape', 'still: first']])
  expect(said.groups[0]?.members[1]?.said).toContain('3 frames instead of one picture')
})
