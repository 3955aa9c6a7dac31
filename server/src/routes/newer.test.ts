import { randomUUID } from 'node:crypto'
import type { Recipe } from '@satchel/core/brush/recipe'
import { toUtf8 } from '@satchel/core/formats/text'
import { toByteSource } from '@satchel/core/formats/zip/layout'
import { listZip, readZipEntry } from '@satchel/core/formats/zip/read'
import { formatSums } from '@satchel/core/pack/sums'
import { nodeHashBytes, nodeZipCodecs } from '@satchel/node/hash'
import { createSigningKey, openSigner } from '@satchel/node/signature'
import fc from 'fast-check'
import { afterAll, beforeAll, beforeEach, describe, expect, inject, it } from 'vitest'
import { gatherFiles, type Line, loadLedger, takeInFiles } from '../testing/gather.ts'
import { type Person, startTestServer, type TestServer, until } from '../testing/test-server.ts'
import { blotPng, zipOf } from '../testing/tips.ts'

type Brush = {
  id: string
  name: string
  maker: string
  licence: string
  tags: string[]
  recipe: Recipe
  version: number
  pictures: { pixelSha: string }[]
  sets: { id: string; name: string }[]
}
type Newer = {
  title: string
  release: string
  had: string
  isStrange: boolean
  counts: Record<string, number>
  gone: { count: number; named: { id: string; name: string }[] }
}
type NewerLine = Line & {
  taken: null | {
    standing: string
    had: string
    isStrange?: boolean
    units: { facet: string; change: string; mine: string; theirs: string }[]
  }
}
type Change = Partial<Pick<Brush, 'name' | 'tags'>> & { sizePx?: number; spacingPct?: number; opacity?: number }

let server: TestServer
let maker: Person
let person: Person
let packId = ''
beforeAll(async () => {
  server = await startTestServer(inject('databaseUrl'))
})
afterAll(() => server.close())

/** Brushes of a library by what they are called, without what came with the product. */
async function libraryOf(of: Person): Promise<Map<string, Brush>> {
  const { brushes } = await of.json<{ brushes: { id: string }[] }>('/api/brushes')
  const whole = await Promise.all(brushes.map(({ id }) => of.json<Brush>(`/api/brushes/${id}`)))
  return new Map(whole.map((brush) => [brush.name, brush]))
}
async function find(of: Person, name: string): Promise<Brush> {
  const brush = (await libraryOf(of)).get(name)
  if (!brush) throw new Error(`no brush is called ${name}`)
  return brush
}
async function change(of: Person, name: string, { sizePx, spacingPct, opacity, ...words }: Change): Promise<void> {
  const { id, version: from, maker: by, licence, tags, recipe } = await find(of, name)
  const mark = { ...recipe.mark, ...(sizePx ? { sizePx } : {}) }
  const path = { ...recipe.path, ...(spacingPct ? { spacingPct } : {}) }
  const colour = { ...recipe.colour, ...(opacity ? { opacity } : {}) }
  await of.post(
    `/api/brushes/${id}`,
    { name, maker: by, licence, tags, ...words, recipe: { ...recipe, mark, path, colour }, from },
    'PUT',
  )
}

/** Releases the maker's pack. @returns Its Satchel pack, as somebody who has a link fetches it. */
async function release(version: string): Promise<Uint8Array> {
  const { id: releaseId } = await maker.post<{ id: string }>(`/api/packs/${packId}/releases`, { version, notes: '' })
  await until(async () => {
    const { releases } = await maker.json<{ releases: { id: string; state: string }[] }>(`/api/packs/${packId}`)
    return releases.find(({ id }) => id === releaseId)?.state === 'ready'
  })
  const { link } = await maker.post<{ link: string }>(`/api/packs/${packId}/hand-outs`, { releaseId, name: version })
  const answer = await fetch(`${server.url}/api/h/${link.split('/').at(-1)}/download?as=satchel`)
  expect(answer.status).toBe(200)
  return new Uint8Array(await answer.arrayBuffer())
}

async function gather(bytes: Uint8Array, name = 'Shore.satchel.zip') {
  const { id } = await gatherFiles(person, { [name]: bytes })
  const ledger = await loadLedger(person, id)
  const { newer } = await person.json<{ newer: Newer[] }>(`/api/gathers/${id}`)
  const lines = new Map(ledger.lines.map((line) => [line.path, line as NewerLine]))
  return { id, newer, lines }
}
const take = (id: string) => person.post<{ brushes: number; followed: number; kept: number }>(`/api/gathers/${id}/take`)
async function takeIn(bytes: Uint8Array) {
  const { id } = await gather(bytes)
  return { id, ...(await take(id)) }
}
const cancel = (id: string) => person.post(`/api/gathers/${id}/cancel`)
/** All that can be seen of a library, without the numbers of its versions. */
async function seen(of: Person) {
  const brushes = [...(await libraryOf(of)).values()].map(({ id, name, tags, recipe, pictures, sets }) => ({
    ...{ id, name, tags, recipe },
    pictures: pictures.map(({ pixelSha }) => pixelSha),
    sets: sets.map(({ name: set }) => set),
  }))
  const { sets } = await of.json<{ sets: object[] }>('/api/sets')
  const { pockets } = await of.json<{ pockets: { items: { name: string; sizePx: number }[] }[] }>('/api/pockets')
  return { brushes, sets, pins: pockets.map(({ items }) => items.map(({ name, sizePx }) => [name, sizePx])) }
}

beforeEach(async () => {
  maker = await server.owner()
  person = await server.owner()
  await takeInFiles(maker, {
    'Kelp/one.png': blotPng(1),
    'Kelp/two.png': blotPng(2),
    'Kelp/three.png': blotPng(3),
    'Down/four.png': blotPng(4),
  })
  const { sets } = await maker.json<{ sets: { id: string; name: string; starter: boolean }[] }>('/api/sets')
  packId = (await maker.post<{ id: string }>('/api/packs', { title: 'Shore', licence: 'CC0-1.0' })).id
  const setIds = sets.flatMap(({ id, starter }) => (starter ? [] : [id]))
  await maker.post(`/api/packs/${packId}/sets`, { setIds }, 'PUT')
})

describe('taking in a newer release', () => {
  it('follows what was not changed here, joins the rest part by part, and keeps what is gone', async () => {
    await takeIn(await release('1.0.0'))
    await change(person, 'two', { sizePx: 31 })
    await change(person, 'three', { sizePx: 33, tags: ['mine'] })
    await change(maker, 'one', { sizePx: 90, name: 'one and only' })
    await change(maker, 'two', { spacingPct: 44 })
    await change(maker, 'three', { sizePx: 50, opacity: 0.5, tags: ['theirs'] })
    const gone = await find(maker, 'four')
    await maker.post('/api/brushes/bin', { ids: [gone.id] })
    await takeInFiles(maker, { 'Kelp/five.png': blotPng(5) })

    const { id, newer, lines } = await gather(await release('1.1.0'))
    expect(newer).toMatchObject([
      { title: 'Shore', release: '1.1.0', had: '1.0.0', counts: { follows: 1, joins: 1, open: 1, new: 1 } },
    ])
    expect(newer[0]?.gone).toMatchObject({ count: 1, named: [{ name: 'four' }] })
    expect(lines.get('three')?.taken?.units).toEqual([
      { facet: 'mark.sizePx', change: 'both', label: 'Size', mine: '33 px', theirs: '50 px' },
      expect.objectContaining({ facet: 'colour.opacity', change: 'theirs' }),
    ])
    expect(await take(id)).toMatchObject({ brushes: 1, followed: 3, kept: 0 })
    const mine = await libraryOf(person)
    expect([...mine.keys()].sort()).toEqual(['five', 'four', 'one and only', 'three', 'two'])
    expect(mine.get('one and only')?.recipe.mark.sizePx).toBe(90)
    expect(mine.get('two')?.recipe).toMatchObject({ mark: { sizePx: 31 }, path: { spacingPct: 44 } })
    expect(mine.get('three')?.recipe).toMatchObject({ mark: { sizePx: 33 }, colour: { opacity: 0.5 } })
    expect(mine.get('three')?.tags).toEqual(['mine', 'theirs'])
  })

  it('changes nothing when the same release is taken a second time', async () => {
    await takeIn(await release('1.0.0'))
    await change(person, 'two', { sizePx: 31 })
    await change(maker, 'two', { sizePx: 60 })
    await change(maker, 'one', { sizePx: 70 })
    const second = await release('1.1.0')
    await takeIn(second)
    const before = await seen(person)
    const { id, newer, lines } = await gather(second, 'Again.satchel.zip')
    expect(newer).toMatchObject([{ counts: { same: 4 }, had: '1.1.0' }])
    for (const line of lines.values()) expect(line.outcome).toBe('skip')
    // and where all of it is taken by hand
    await person.post(`/api/gathers/${id}/decide`, {
      of: { ids: [...lines.values()].map((line) => line.id) },
      outcome: 'take',
    })
    expect(await take(id)).toMatchObject({ brushes: 0, followed: 0, kept: 4 })
    expect(await seen(person)).toEqual(before)
  })

  it('takes theirs, keeps mine, or keeps both, as decided', async () => {
    await takeIn(await release('1.0.0'))
    for (const name of ['one', 'two', 'three', 'four']) {
      await change(person, name, { sizePx: 31, spacingPct: 40 })
      await change(maker, name, { sizePx: 60, opacity: 0.4 })
    }
    const { id, lines } = await gather(await release('1.1.0'))
    const decide = (name: string, decision: object) =>
      person.post(`/api/gathers/${id}/decide`, { of: { ids: [lines.get(name)?.id] }, decision })
    await decide('one', { way: 'theirs', picks: {} })
    await decide('two', { way: 'mine', picks: {} })
    await decide('three', { way: 'both', picks: {} })
    await decide('four', { way: 'parts', picks: { 'mark.sizePx': 'theirs' } })
    const strokes = await Promise.all(
      ['mine', 'theirs', 'result'].map(async (of) =>
        (await person.request(`/api/gathers/${id}/lines/${lines.get('one')?.id}/stroke/${of}`)).headers.get('etag'),
      ),
    )
    expect(strokes[2]).toBe(strokes[1])
    expect(strokes[0]).not.toBe(strokes[1])
    expect(await take(id)).toMatchObject({ brushes: 1, followed: 2, kept: 1 })
    const { brushes } = await person.json<{ brushes: { id: string; name: string }[] }>('/api/brushes')
    const figures = await Promise.all(
      brushes.map(async ({ id: brush, name }) => {
        const { recipe } = await person.json<Brush>(`/api/brushes/${brush}`)
        return `${name} ${recipe.mark.sizePx} ${recipe.path.spacingPct} ${recipe.colour.opacity}`
      }),
    )
    expect(figures.sort()).toEqual([
      'four 60 40 0.4',
      'one 60 25 0.4',
      'three 31 40 1',
      'three 60 25 0.4',
      'two 31 40 1',
    ])
    // what stays beside theirs is the curator's own from then on: a third release changes the other one
    await change(maker, 'three', { sizePx: 80 })
    await takeIn(await release('1.2.0'))
    const sizes = (await Promise.all(brushes.map((each) => person.json<Brush>(`/api/brushes/${each.id}`))))
      .filter(({ name }) => name === 'three')
      .map(({ recipe }) => recipe.mark.sizePx)
    expect(sizes.sort()).toEqual([31, 80])
  })

  it('is undone as one step, but for what was changed since', async () => {
    await takeIn(await release('1.0.0'))
    await change(person, 'two', { sizePx: 31 })
    for (const name of ['one', 'two', 'three']) await change(maker, name, { spacingPct: 50 })
    await takeInFiles(maker, { 'Kelp/five.png': blotPng(5) })
    const second = await release('1.1.0')
    const before = await seen(person)
    const { id } = await takeIn(second)
    await change(person, 'three', { sizePx: 77 })
    const undone = await person.post(`/api/gathers/${id}/undo`)
    expect(undone).toEqual({ binned: 1, back: 2, stayed: 1 })
    const after = await seen(person)
    const but = (all: typeof before) => ({ ...all, brushes: all.brushes.filter(({ name }) => name !== 'three') })
    expect(but(after)).toEqual(but(before))
    expect(after.brushes.find(({ name }) => name === 'three')?.recipe).toMatchObject({
      mark: { sizePx: 77 },
      path: { spacingPct: 50 },
    })
    // what was taken back can be taken again; what stayed has it already
    const again = await gather(second)
    expect(again.newer[0]).toMatchObject({ counts: { follows: 1, joins: 1, same: 2 } })
    await cancel(again.id)
  })

  it('leaves alone where brushes lie: sets, their order and names, and pins', async () => {
    await takeIn(await release('1.0.0'))
    const { sets } = await person.json<{ sets: { id: string; name: string }[] }>('/api/sets')
    const kelp = sets.find(({ name }) => name === 'Kelp')?.id
    await person.post(`/api/sets/${kelp}`, { name: 'Weeds' }, 'PATCH')
    const two = await find(person, 'two')
    await person.post(`/api/sets/${kelp}/remove`, { ids: [two.id] })
    await person.post('/api/pockets', { name: 'Mine', setId: kelp })
    for (const name of ['one', 'two']) await change(maker, name, { sizePx: 91 })
    await takeInFiles(maker, { 'Kelp/five.png': blotPng(5) })
    const before = await seen(person)
    await takeIn(await release('1.1.0'))
    const after = await seen(person)
    expect(after.pins).toEqual(before.pins)
    expect(after.sets.length).toBe(before.sets.length)
    const mine = await libraryOf(person)
    expect(mine.get('two')?.sets).toEqual([])
    expect(mine.get('one')?.sets.map(({ name }) => name)).toEqual(['Weeds'])
    // what is new goes where its set went, however that is called by now
    expect(mine.get('five')?.sets.map(({ name }) => name)).toEqual(['Weeds'])
  })

  it('never brings back by itself what was put into the bin, nor what is older', async () => {
    const first = await release('1.0.0')
    await change(maker, 'one', { sizePx: 70 })
    const second = await release('1.1.0')
    await takeIn(second)
    const two = await find(person, 'two')
    await person.post('/api/brushes/bin', { ids: [two.id] })
    const { id, newer, lines } = await gather(first)
    expect(newer[0]).toMatchObject({ release: '1.0.0', had: '1.1.0', counts: { older: 1, binned: 1, same: 2 } })
    for (const line of lines.values()) expect(line.outcome).toBe('skip')
    // by hand it comes back, and to where it was
    await person.post(`/api/gathers/${id}/decide`, { of: { ids: [lines.get('two')?.id] }, outcome: 'take' })
    await take(id)
    expect((await find(person, 'two')).id).toBe(two.id)
    const undone = await person.post(`/api/gathers/${id}/undo`)
    expect(undone).toEqual({ binned: 0, back: 0, stayed: 0 })
    expect((await libraryOf(person)).has('two')).toBe(false)
  })

  it('passes over what is not signed by whom the first was signed, and says so', async () => {
    await takeIn(await release('1.0.0'))
    await change(maker, 'one', { sizePx: 70 })
    const second = await release('1.1.0')
    /** The same pack by another hand: one brush changed, and signed anew or not at all. */
    const { id: idOfOne } = await find(maker, 'one')
    const forge = async (signAs?: ReturnType<typeof createSigningKey>, asId = idOfOne) => {
      const source = toByteSource(second)
      const files = new Map<string, Uint8Array>()
      for (const entry of await listZip(source)) files.set(entry.path, await readZipEntry(source, entry, nodeZipCodecs))
      const text = Buffer.from(files.get('pack.json') ?? [])
        .toString()
        .replace(/"sizePx": ?70/, '"sizePx":99')
        .replaceAll(idOfOne, asId)
      files.set('pack.json', toUtf8(text))
      if (signAs) {
        const listed = [...files].filter(([path]) => !/SUMS|SIGNER/.test(path))
        const sums = toUtf8(formatSums(listed.map(([path, bytes]) => ({ path, sha256: nodeHashBytes(bytes) }))))
        const signer = openSigner(signAs.privatePem)
        files.set('SHA256SUMS', sums)
        files.set('SHA256SUMS.sig', signer.sign(sums))
        files.set('SIGNER.pem', toUtf8(signer.pem))
      }
      return zipOf(Object.fromEntries(files))
    }
    for (const forged of [await forge(), await forge(createSigningKey())]) {
      const { id, newer, lines } = await gather(forged)
      expect(newer).toMatchObject([{ isStrange: true, counts: { follows: 1, same: 3 } }])
      for (const line of lines.values()) expect([line.outcome, line.taken?.isStrange]).toEqual(['skip', true])
      const nothing = await person.request(`/api/gathers/${id}/take`, { method: 'POST' })
      expect(nothing.status).toBe(409)
      await cancel(id)
    }
    // brushes of another hand that come under the pack's own name change nothing of whose the others are
    const guest = await forge(createSigningKey(), randomUUID())
    const strangers = await gather(guest)
    expect(strangers.newer).toMatchObject([{ isStrange: true, counts: { same: 3, new: 1 } }])
    const guests = { of: { ids: [strangers.lines.get('one')?.id] }, outcome: 'take', name: 'guest' }
    await person.post(`/api/gathers/${strangers.id}/decide`, guests)
    expect(await take(strangers.id)).toMatchObject({ brushes: 1, followed: 0 })
    const { id, newer } = await gather(second)
    expect(newer).toMatchObject([{ isStrange: false, counts: { follows: 1 } }])
    expect(await take(id)).toMatchObject({ followed: 1 })
    expect((await find(person, 'one')).recipe.mark.sizePx).toBe(70)
    // taken by hand it is the curator's choice, and undone like any other
    const strange = await gather(await forge(createSigningKey()))
    const ids = [strange.lines.get('one')?.id]
    await person.post(`/api/gathers/${strange.id}/decide`, { of: { ids }, outcome: 'take' })
    await take(strange.id)
    expect((await find(person, 'one')).recipe.mark.sizePx).toBe(99)
    expect(await person.post(`/api/gathers/${strange.id}/undo`)).toMatchObject({ back: 1 })
    expect((await gather(second)).newer).toMatchObject([{ isStrange: false, counts: { same: 4 } }])
  })

  it('goes back before both of two releases that were taken at once', async () => {
    await takeIn(await release('1.0.0'))
    await change(maker, 'one', { sizePx: 70 })
    const second = await release('1.1.0')
    await change(maker, 'one', { spacingPct: 66 })
    const third = await release('1.2.0')
    const before = await seen(person)
    const { id } = await gatherFiles(person, { 'b.satchel.zip': second, 'c.satchel.zip': third })
    expect(await take(id)).toMatchObject({ brushes: 0, followed: 1 })
    expect((await find(person, 'one')).recipe).toMatchObject({ mark: { sizePx: 70 }, path: { spacingPct: 66 } })
    expect(await person.post(`/api/gathers/${id}/undo`)).toMatchObject({ back: 1, stayed: 0 })
    expect(await seen(person)).toEqual(before)
  })

  it('keeps both of a brush that comes twice, where both are wanted', async () => {
    await takeIn(await release('1.0.0'))
    await change(person, 'one', { sizePx: 31 })
    await change(maker, 'one', { sizePx: 70 })
    const second = await release('1.1.0')
    const { id } = await gatherFiles(person, { 'b.satchel.zip': second, 'c.satchel.zip': second })
    const { lines } = await loadLedger(person, id)
    const ids = lines.filter(({ path }) => path === 'one').map((line) => line.id)
    expect(ids).toHaveLength(2)
    await person.post(`/api/gathers/${id}/decide`, {
      of: { ids },
      outcome: 'take',
      decision: { way: 'both', picks: {} },
    })
    expect(await take(id)).toMatchObject({ brushes: 2, followed: 0 })
  })

  it('tells of brushes that come newer in another pack of their maker', async () => {
    await takeIn(await release('1.0.0'))
    await change(maker, 'one', { sizePx: 70 })
    const { id: one } = await find(maker, 'one')
    packId = (await maker.post<{ id: string }>('/api/packs', { title: 'Best of the shore', licence: 'CC0-1.0' })).id
    await maker.post(`/api/packs/${packId}/single`, { brushIds: [one] }, 'PUT')
    const { id, newer } = await gather(await release('1.0.1'))
    expect(newer).toMatchObject([
      { title: 'Best of the shore', had: '1.0.0', isStrange: false, counts: { follows: 1 } },
    ])
    expect(newer[0]?.gone.count).toBe(0)
    expect(await take(id)).toMatchObject({ brushes: 0, followed: 1 })
  })

  it('joins two releases that come in one drop into one brush each', async () => {
    const first = await release('1.0.0')
    await change(maker, 'one', { sizePx: 70 })
    const second = await release('1.1.0')
    const { id } = await gatherFiles(person, { 'b.satchel.zip': second, 'c.satchel.zip': first })
    const { lines } = await loadLedger(person, id)
    await person.post(`/api/gathers/${id}/decide`, { of: { ids: lines.map((line) => line.id) }, outcome: 'take' })
    expect(await take(id)).toMatchObject({ brushes: 4, followed: 1 })
    const mine = await libraryOf(person)
    expect(mine.size).toBe(4)
    expect(mine.get('one')?.recipe.mark.sizePx).toBe(70)
  })

  it('loses no change of this library over any releases, and says the same when one comes again', async () => {
    const NAMES = ['one', 'two', 'three', 'four'] as const
    const WHATS = ['sizePx', 'spacingPct', 'opacity'] as const
    const edit = fc.record({
      whose: fc.constantFrom('maker', 'person'),
      of: fc.constantFrom(...NAMES),
      what: fc.constantFrom(...WHATS),
      value: fc.integer({ min: 1, max: 9 }),
    })
    const FIELDS = {
      sizePx: { value: (n: number) => n * 10, of: ({ recipe }: Brush) => recipe.mark.sizePx },
      spacingPct: { value: (n: number) => n * 7, of: ({ recipe }: Brush) => recipe.path.spacingPct },
      opacity: { value: (n: number) => n / 10, of: ({ recipe }: Brush) => recipe.colour.opacity },
    }
    type Field = keyof typeof FIELDS
    await takeIn(await release('1.0.0'))
    const figures = async (of: Person) => {
      const library = await libraryOf(of)
      return (name: string, what: Field) => FIELDS[what].of(library.get(name) as Brush)
    }
    /** What the maker had in the release that was taken last. */
    const base = new Map<string, number>()
    const setBase = async () => {
      const figure = await figures(maker)
      for (const name of NAMES) for (const what of WHATS) base.set(`${name} ${what}`, figure(name, what))
    }
    await setBase()
    let minor = 0
    await fc.assert(
      fc.asyncProperty(fc.array(edit, { minLength: 1, maxLength: 8 }), async (edits) => {
        for (const { whose, of, what, value } of edits)
          await change(whose === 'maker' ? maker : person, of, { [what]: FIELDS[what].value(value) })
        const now = { maker: await figures(maker), person: await figures(person) }
        const bytes = await release(`1.${++minor}.0`)
        const first = await gather(bytes)
        const hasNews = first.newer[0]?.counts.same !== NAMES.length
        await (hasNews ? take(first.id) : cancel(first.id))
        const after = await figures(person)
        for (const name of NAMES)
          for (const what of WHATS) {
            const taken = base.get(`${name} ${what}`)
            const isTheirs = now.maker(name, what) !== taken && now.person(name, what) === taken
            const wanted = (isTheirs ? now.maker : now.person)(name, what)
            expect(after(name, what), `${name} ${what}`).toBe(wanted)
          }
        if (hasNews) await setBase()
        const seenAfter = await seen(person)
        const again = await gather(bytes, 'again.satchel.zip')
        expect(again.newer[0]?.counts).toEqual({ same: NAMES.length })
        await cancel(again.id)
        expect(await seen(person)).toEqual(seenAfter)
      }),
      { numRuns: 6, endOnFailure: true },
    )
  }, 120_000)
})
