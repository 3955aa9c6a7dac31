import { BUILT_IN } from '@satchel/core/destinations/built-in'
import { writeGih } from '@satchel/core/formats/gih/write'
import { toByteSource, type ZipEntry } from '@satchel/core/formats/zip/layout'
import { listZip, readZipEntry } from '@satchel/core/formats/zip/read'
import { decodePng, encodePng } from '@satchel/node/png'
import { sql } from 'drizzle-orm'
import { afterAll, beforeAll, beforeEach, describe, expect, inject, it } from 'vitest'
import { standInFile } from '../db/schema/all.ts'
import { takeInFiles } from '../testing/gather.ts'
import { type Person, sentenceOf, startTestServer, type TestServer, until } from '../testing/test-server.ts'
import { blot, blotPng, waveTile } from '../testing/tips.ts'

type Cells = { cells: { brushId: string; destinationId: string; said: { score: number; leftCount: number } | null }[] }
type Cell = {
  key: string
  score: number
  choices: Record<string, string>
  result: { left: { called: string }[]; ways: { name: string; chosen: string }[]; files: { path: string }[] }
}
type Install = {
  state: string
  files: { path: string }[]
  conflicts: { same: string[]; other: string[] }
  drift: { path: string; state: string }[]
}
type Verified = { drift: unknown[]; found: { brushes: number; blank: string[]; passedOver: unknown[] } }

const gih = () =>
  writeGih({
    name: 'pebbles',
    spacingPct: 110,
    dimensions: [{ rank: 2, rule: 'random' }],
    extra: [],
    frames: [1, 2].map((seed) => ({
      version: 2 as const,
      name: '',
      spacingPct: 110,
      ...blot(seed, 40),
    })),
  })

let server: TestServer
let person: Person
let ids: Record<string, string>
beforeAll(async () => {
  server = await startTestServer(inject('databaseUrl'))
})
beforeEach(async () => {
  person = await server.owner()
  await takeInFiles(person, { 'Shore/blot.png': blotPng(1), 'Shore/pebbles.gih': gih(), 'Shore/tuft.png': blotPng(2) })
  const { brushes } = await person.json<{ brushes: { id: string; name: string }[] }>('/api/brushes')
  ids = Object.fromEntries(brushes.map(({ id, name }) => [name, id]))
})
afterAll(() => server.close())

/** The folder of a simulated app, and what it finds there. */
const lookInto = async <Body>(standIn: string): Promise<Body> => ({
  ...(await person.json<object>(`/api/installs/folder?standIn=${standIn}`)),
  ...(await person.post<Body>('/api/installs/folder/look', { standIn })),
})

const brushId = (name: string) => ids[name] ?? ''
const put = (path: string, body: object) =>
  person.request(path, { method: 'PUT', headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) })
const cells = (...names: string[]) => person.json<Cells>(`/api/fit/cells?brushIds=${names.map(brushId).join()}`)
const cell = (name: string, to: string) => person.post<Cell>(`/api/fit/cells/${brushId(name)}/${to}`)

describe('cells', () => {
  it('are measured when they are asked for, kept, and measured anew once the brush is another', async () => {
    expect((await cells('blot')).cells.map(({ said }) => said)).toEqual([null, null, null, null, null])
    const all = await until(async () => {
      const now = await cells('blot')
      return now.cells.every(({ said }) => said) ? now : undefined
    })
    const scoreOf = (id: string) => all.cells.find(({ destinationId }) => destinationId === id)?.said?.score
    expect(scoreOf('sanderling')).toBeGreaterThan(98)
    expect(scoreOf('dunlin')).toBeGreaterThan(90)
    const before = await cell('blot', 'turnstone')
    expect((await cell('blot', 'turnstone')).key).toBe(before.key)
    await person.post(`/api/brushes/${brushId('blot')}/version`, { ordinal: 1 })
    expect((await cell('blot', 'turnstone')).key).toBe(before.key)
    const brush = await person.json<{ recipe: { path: object }; version: number }>(`/api/brushes/${brushId('blot')}`)
    const recipe = { ...brush.recipe, path: { ...brush.recipe.path, count: 3 } }
    await put(`/api/brushes/${brushId('blot')}`, {
      name: 'blot',
      maker: '',
      licence: '',
      tags: [],
      recipe,
      from: brush.version,
    })
    const after = await cell('blot', 'turnstone')
    expect(after.key).not.toBe(before.key)
    expect(after.result.left.map(({ called }) => called)).toContain('several stamps a step')
  })

  it('say what would make them better, and how many files would come of them', async () => {
    await cell('pebbles', 'turnstone')
    const better = await person.post<{ improvements: { score: number }[] }>(
      `/api/fit/cells/${brushId('pebbles')}/turnstone/better`,
    )
    for (const { score } of better.improvements)
      expect(score).toBeGreaterThan((await cell('pebbles', 'turnstone')).score)
    const wish = { brushIds: [brushId('pebbles'), brushId('tuft')], destinationIds: ['turnstone'] }
    expect(await person.post('/api/fit/count', wish)).toMatchObject({ measured: 1, files: expect.any(Number) })
  })

  it('show the strokes before, after and where they differ; another key is not answered', async () => {
    const { key } = await cell('pebbles', 'shearwater')
    for (const what of ['before', 'after', 'difference']) {
      const response = await person.request(`/api/fit/cells/${brushId('pebbles')}/shearwater/${what}?key=${key}`)
      const [frame] = (await decodePng(new Uint8Array(await response.arrayBuffer()))).frames
      expect([frame?.pixels.width, frame?.pixels.height], what).toEqual([480, 300])
      expect(frame?.pixels.data.some((value) => value < 200)).toBe(true)
    }
    const other = await person.request(`/api/fit/cells/${brushId('pebbles')}/shearwater/after?key=${'0'.repeat(64)}`)
    expect(other.status).toBe(404)
  })

  it('go by what the curator answers: for one brush, or for all of them', async () => {
    const best = await cell('tuft', 'dunlin')
    expect(best.result.ways).toMatchObject([])
    await put('/api/fit/choices', { destinationId: 'shearwater', choices: { frames: 'oneEach' } })
    const each = await cell('pebbles', 'shearwater')
    expect(each.result.files.filter(({ path }) => path.endsWith('.png'))).toHaveLength(2)
    await put('/api/fit/choices', {
      destinationId: 'shearwater',
      brushId: brushId('pebbles'),
      choices: { frames: 'first' },
    })
    const first = await cell('pebbles', 'shearwater')
    expect(first.choices).toEqual({ frames: 'first' })
    expect(first.result.files.filter(({ path }) => path.endsWith('.png'))).toHaveLength(1)
    // what goes for its set comes between
    const { sets } = await person.json<{ sets: { id: string; name: string }[] }>('/api/sets')
    const setId = sets.find(({ name }) => name === 'Shore')?.id
    await put('/api/fit/choices', { destinationId: 'shearwater', setId, choices: { frames: 'first' } })
    expect((await cell('pebbles', 'shearwater')).choices).toEqual({ frames: 'first' })
    await put('/api/fit/choices', { destinationId: 'shearwater', brushId: brushId('pebbles'), choices: {} })
    expect((await cell('pebbles', 'shearwater')).choices).toEqual({ frames: 'first' })
    await put('/api/fit/choices', { destinationId: 'shearwater', setId, choices: {} })
    expect((await cell('pebbles', 'shearwater')).choices).toEqual({ frames: 'oneEach' })
    const nobodys = { destinationId: 'shearwater', setId: brushId('blot'), choices: { frames: 'first' } }
    expect((await put('/api/fit/choices', nobodys)).status).toBe(404)
    const bad = await put('/api/fit/choices', { destinationId: 'shearwater', choices: { colour: 'red' } })
    expect(bad.status).toBe(422)
  })

  it('of the whole library are measured by a job, and the matrix is sorted by them', async () => {
    const { jobId } = await person.post<{ jobId: string }>('/api/fit/measure')
    await until(async () => {
      const { jobs } = await person.json<{ jobs: { id: string; state: string }[] }>('/api/jobs')
      return jobs.some(({ id, state }) => id === jobId && state === 'done')
    })
    type Page = { brushes: { name: string; id: string }[]; total: number }
    const page = await person.json<Page>('/api/fit/brushes?by=plover&worst=1')
    expect(page.total).toBe(3)
    const known = await cells('blot', 'pebbles', 'tuft')
    const scores = page.brushes.map(
      ({ id }) => known.cells.find((each) => each.brushId === id && each.destinationId === 'plover')?.said?.score ?? -1,
    )
    expect(scores).toEqual([...scores].sort((a, b) => a - b))
    expect(scores[0]).toBeGreaterThan(0)
    const left = await person.json<Page>('/api/fit/brushes?by=shearwater&left=1')
    expect(left.brushes.map(({ name }) => name)).toEqual(['pebbles'])
    expect((await person.json<Page>('/api/fit/brushes?find=TUF')).brushes.map(({ name }) => name)).toEqual(['tuft'])
  })

  it('that fail by a fault of ours say so, stop no other, and are measured once they are opened', async () => {
    const { workers } = server.parts.deps
    const run = workers.run
    workers.run = ((task: string, input: { brush?: { name: string } }, more: never) =>
      task === 'measureFits' && input.brush?.name === 'blot'
        ? Promise.reject(new Error('a thread has died'))
        : run(task as 'measureFits', input as never, more)) as typeof run
    try {
      const all = await until(async () => {
        const now = await cells('blot', 'tuft')
        return now.cells.every(({ said }) => said) ? now : undefined
      })
      const scores = (name: string) =>
        all.cells.filter((each) => each.brushId === brushId(name)).map(({ said }) => (said?.score ?? 0) > 0)
      expect([...scores('blot'), ...scores('tuft')]).toEqual([...Array(5).fill(false), ...Array(5).fill(true)])
      expect((await person.request(`/api/fit/cells/${brushId('blot')}/dunlin`, { method: 'POST' })).status).toBe(500)
    } finally {
      workers.run = run
    }
    expect((await cell('blot', 'dunlin')).score).toBeGreaterThan(80)
  })

  it('of another workspace are not to be had', async () => {
    const other = await server.owner()
    expect((await other.request(`/api/fit/cells/${brushId('blot')}/dunlin`)).status).toBe(404)
    expect((await other.json<Cells>(`/api/fit/cells?brushIds=${brushId('blot')}`)).cells).toEqual([])
  })
})

describe('destinations', () => {
  const described = { ...BUILT_IN.dunlin, name: 'Redshank', standIn: undefined }

  it('are tried on a brush before they are saved', async () => {
    type Tried = { sentences: string[]; said: { score: number; files: { path: string }[]; png: string } | null }
    const small = { ...described, pictures: { ...described.pictures, mostPx: 8 }, grain: 'beside' }
    const tried = await person.post<Tried>('/api/fit/try', { description: small, brushId: brushId('blot') })
    expect(tried.sentences.join()).toContain('nothing says to which brush')
    expect(tried.said?.files[0]?.path).toBe('Shore/blot.gbr')
    const whole = await person.post<Tried>('/api/fit/try', { description: described, brushId: brushId('blot') })
    expect(whole.said?.score).toBeGreaterThan((tried.said?.score ?? 100) + 10)
    const [frame] = (await decodePng(new Uint8Array(Buffer.from(whole.said?.png ?? '', 'base64')))).frames
    expect(frame?.pixels.width).toBe(480)
  })

  it('are copied, changed and taken away; those that come with the product stay as they are', async () => {
    const { id } = await person.post<{ id: string }>('/api/fit/destinations', { description: described })
    await put(`/api/fit/destinations/${id}`, { from: 1, description: { ...described, grain: 'beside' } })
    // a page that has not seen that cannot cover it
    const late = await put(`/api/fit/destinations/${id}`, { from: 1, description: { ...described, name: 'Late' } })
    expect([late.status, await sentenceOf(late)]).toEqual([409, expect.stringContaining('changed elsewhere meanwhile')])
    type List = { destinations: { id: string; isOwn: boolean; sentences: string[] }[] }
    const { destinations } = await person.json<List>('/api/fit/destinations')
    expect(destinations.map(({ isOwn }) => isOwn)).toEqual([false, false, false, false, false, true])
    expect(destinations[5]?.sentences.join()).toContain('nothing says to which brush')
    expect((await cell('blot', id)).score).toBeGreaterThan(80)
    // described before these parts of the recipe were there
    for (const part of ['variation.hue', 'path.taper'])
      await server.parts.deps.db.execute(
        sql`update destination set description = description #- array['knows', ${part}] where id = ${id}`,
      )
    expect((await cell('blot', id)).score).toBeGreaterThan(80)
    expect((await put('/api/fit/destinations/dunlin', { from: 1, description: described })).status).toBe(422)
    const wrong = await put(`/api/fit/destinations/${id}`, { from: 2, description: { ...described, name: '' } })
    expect([wrong.status, await sentenceOf(wrong)]).toEqual([422, expect.stringContaining('name')])
    await person.request(`/api/fit/destinations/${id}`, { method: 'DELETE' })
    expect((await person.request(`/api/fit/cells/${brushId('blot')}/${id}`)).status).toBe(404)
  })
})

describe('installs', () => {
  const load = (id: string) => person.json<Install>(`/api/installs/${id}`)
  async function prepare(names: string[], destinationId = 'dunlin', name = 'Shore'): Promise<string> {
    const { id } = await person.post<{ id: string }>('/api/installs', {
      name,
      destinationId,
      brushIds: names.map(brushId),
    })
    await until(async () => (await load(id)).state === 'ready')
    return id
  }
  const act = (id: string, what: string, body = {}) =>
    person.post<Record<string, unknown>>(`/api/installs/${id}/${what}`, body)
  const folder = async (standIn = 'dunlin') =>
    (await lookInto<{ files: { path: string }[] }>(`${standIn}`)).files.map(({ path }) => path)

  it('are put in, read back, taken out: the folder is as it was', async () => {
    const id = await prepare(['blot', 'pebbles'])
    expect(await folder()).toEqual([])
    await act(id, 'put', { answer: 'both' })
    const first = { standIn: 'dunlin', most: 1 }
    expect(await person.post('/api/installs/folder/look', first)).toMatchObject({
      isWhole: false,
      ignored: [],
      brushes: [{ path: 'Shore/blot.gbr' }],
    })
    expect(await folder()).toEqual(['Shore/blot.gbr', 'Shore/pebbles.gih'])
    const verified = (await act(id, 'verify')) as Verified & { likeness: { least: number; middle: number } }
    expect(verified).toMatchObject({ drift: [], found: { brushes: 2, blank: [], passedOver: [] } })
    const scores = [(await cell('blot', 'dunlin')).score, (await cell('pebbles', 'dunlin')).score].sort((a, b) => a - b)
    expect(verified.likeness).toEqual({ least: scores[0], middle: scores[1] })
    expect(await lookInto('dunlin')).toMatchObject({ isWhole: true, brushes: [{}, { path: 'Shore/pebbles.gih' }] })
    const stroke = await person.request(
      '/api/installs/folder/stroke.png?standIn=dunlin&path=Shore/pebbles.gih&files=[]',
    )
    expect((await decodePng(new Uint8Array(await stroke.arrayBuffer()))).frames).toHaveLength(1)
    expect(await act(id, 'take-out')).toEqual({ stayed: [], beside: [] })
    expect(await folder()).toEqual([])
    expect((await load(id)).state).toBe('out')
  })

  it('name what is in the way; it is kept, replaced or passed over, and given back', async () => {
    const first = await prepare(['blot'])
    await act(first, 'put', { answer: 'both' })
    const { db } = server.parts.deps
    // somebody has another brush of the same name there
    const other = await prepare(['tuft'], 'dunlin', 'Other')
    await act(other, 'put', { answer: 'both' })
    const mine = await db.select().from(standInFile).where(sql`workspace_id = ${person.workspaceId}`)
    const tuft = mine.find(({ path }) => path === 'Shore/tuft.gbr')
    await db.execute(
      sql`update stand_in_file set blob_sha = ${tuft?.blobSha} where workspace_id = ${person.workspaceId} and path = 'Shore/blot.gbr'`,
    )
    const second = await prepare(['blot', 'tuft'])
    expect((await load(second)).conflicts).toEqual({ same: ['Shore/tuft.gbr'], other: ['Shore/blot.gbr'], by: [] })
    await act(second, 'put', { answer: 'both' })
    expect(await folder()).toEqual(['Shore/blot 2.gbr', 'Shore/blot.gbr', 'Shore/tuft.gbr'])
    await act(second, 'take-out')
    expect(await folder()).toEqual(['Shore/blot.gbr', 'Shore/tuft.gbr'])

    const skipping = await prepare(['blot', 'pebbles'])
    await act(skipping, 'put', { answer: 'skip' })
    expect((await load(skipping)).files.map(({ path }) => path)).toEqual(['Shore/pebbles.gih'])
    await act(skipping, 'take-out')

    const replacing = await prepare(['blot'])
    await act(replacing, 'put', { answer: 'replace' })
    const shaOf = async () =>
      (
        await db.select().from(standInFile).where(sql`workspace_id = ${person.workspaceId} and path = 'Shore/blot.gbr'`)
      )[0]?.blobSha
    expect(await shaOf()).not.toBe(tuft?.blobSha)
    // the first install has brought these bytes, too: they stay for it, and go with it
    await act(replacing, 'take-out')
    expect(await shaOf()).not.toBe(tuft?.blobSha)
    await act(first, 'take-out')
    expect(await shaOf()).toBe(tuft?.blobSha)
  })

  it('say what has drifted, are repaired, and leave what somebody changed when they are taken out', async () => {
    const id = await prepare(['blot', 'tuft', 'pebbles'])
    await act(id, 'put', { answer: 'both' })
    const { db } = server.parts.deps
    const drift = async () => {
      await db.execute(
        sql`delete from stand_in_file where workspace_id = ${person.workspaceId} and path = 'Shore/blot.gbr'`,
      )
      await db.execute(
        sql`update stand_in_file set blob_sha = (select blob_sha from stand_in_file where workspace_id = ${person.workspaceId} and path = 'Shore/pebbles.gih') where workspace_id = ${person.workspaceId} and path = 'Shore/tuft.gbr'`,
      )
    }
    await drift()
    const drifted = [
      { path: 'Shore/blot.gbr', state: 'gone' },
      { path: 'Shore/tuft.gbr', state: 'changed' },
    ]
    expect((await load(id)).drift).toEqual(drifted)
    const verified = (await act(id, 'verify')) as Verified
    expect(verified.found).toMatchObject({
      brushes: 1,
      passedOver: [{ path: 'Shore/tuft.gbr', why: expect.any(String) }],
    })
    expect(await act(id, 'repair')).toEqual({ repaired: 2 })
    expect((await load(id)).drift).toEqual([])
    await drift()
    expect(await act(id, 'take-out')).toEqual({ stayed: ['Shore/tuft.gbr'], beside: [] })
    expect(await folder()).toEqual(['Shore/tuft.gbr'])
  })

  it('for an app without a folder here are downloaded, with a page that says what arrives', async () => {
    const described = { ...BUILT_IN.shearwater, name: 'Redshank & <Knot>', standIn: undefined }
    const { id: destinationId } = await person.post<{ id: string }>('/api/fit/destinations', { description: described })
    const id = await prepare(['blot', 'pebbles'], destinationId, 'Shore class')
    const response = await person.request(`/api/installs/${id}/files.zip`)
    expect(response.headers.get('content-disposition')).toContain('Shore class.zip')
    const source = toByteSource(new Uint8Array(await response.arrayBuffer()))
    const entries = await listZip(source)
    const paths = entries.map(({ path }) => path)
    expect(paths.slice(0, 2)).toEqual(['carry-over.html', 'carry-over.json'])
    expect(paths).toContain('Shore/blot.tune')
    const read = async (path: string) =>
      Buffer.from(await readZipEntry(source, entries.find((entry) => entry.path === path) as ZipEntry)).toString()
    const told = JSON.parse(await read('carry-over.json'))
    expect(told.brushes.map(({ name, likeness }: { name: string; likeness: number }) => [name, likeness > 50])).toEqual(
      [
        ['blot', true],
        ['pebbles', true],
      ],
    )
    const page = await read('carry-over.html')
    expect(page).toContain('Redshank &amp; &lt;Knot&gt;')
    expect(page).toContain('Close the app on the tablet')
    // and a picture of what goes where
    for (const drawn of ['<svg ', 'The brush folder of Redshank', '>Shore<tspan']) expect(page).toContain(drawn)
    const put = await person.request(`/api/installs/${id}/put`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ answer: 'both' }),
    })
    expect([put.status, await sentenceOf(put)]).toEqual([409, expect.stringContaining('download its files instead')])
  })

  it('go on where they were stopped: what is written is not written again, and nothing is there twice', async () => {
    const many = Object.fromEntries(Array.from({ length: 20 }, (_, k) => [`Many/m${k}.png`, blotPng(k + 40)]))
    await takeInFiles(person, many)
    const { brushes } = await person.json<{ brushes: { id: string; name: string }[] }>('/api/brushes?limit=100')
    const brushIds = brushes.filter(({ name }) => /^m\d+$/.test(name)).map((brush) => brush.id)
    expect(brushIds).toHaveLength(20)
    const { workers } = server.parts.deps
    const run = workers.run.bind(workers)
    const written: number[] = []
    workers.run = ((task: string, input: { brushes: unknown[] }) => {
      if (task !== 'writeFit') return run(task as never, input as never)
      written.push(input.brushes.length)
      return written.length === 2 ? Promise.reject(new Error('as if killed')) : run(task as never, input as never)
    }) as never
    try {
      const { id } = await person.post<{ id: string }>('/api/installs', {
        name: 'Many',
        destinationId: 'sanderling',
        brushIds,
      })
      type Jobs = { jobs: { id: string; kind: string; state: string; done: number }[] }
      const job = await until(async () =>
        (await person.json<Jobs>('/api/jobs')).jobs.find(
          ({ kind, state }) => kind === 'fit-install' && state === 'failed',
        ),
      )
      expect((await load(id)).state).toBe('preparing')
      await person.post(`/api/jobs/${job.id}/resume`)
      await until(async () => (await load(id)).state === 'ready')
      expect(written).toEqual([8, 8, 8, 4])
      const { files } = await load(id)
      expect(new Set(files.map(({ path }) => path)).size).toBe(40)
    } finally {
      workers.run = run
    }
  })

  it('are upgraded: only what changed is written', async () => {
    const id = await prepare(['blot', 'tuft'])
    await act(id, 'put', { answer: 'both' })
    const { workers } = server.parts.deps
    const run = workers.run.bind(workers)
    const made: number[] = []
    workers.run = ((task: string, input: { brushes: unknown[] }) => {
      if (task === 'writeFit') made.push(input.brushes.length)
      return run(task as never, input as never)
    }) as never
    expect(await act(id, 'upgrade')).toEqual({ written: 0, gone: 0 })
    const { recipe, version } = await person.json<{ recipe: { path: object }; version: number }>(
      `/api/brushes/${brushId('blot')}`,
    )
    const wider = { ...recipe, path: { ...recipe.path, spacingPct: 180 } }
    await put(`/api/brushes/${brushId('blot')}`, {
      name: 'blot',
      maker: '',
      licence: '',
      tags: [],
      recipe: wider,
      from: version,
    })
    try {
      expect(await act(id, 'upgrade')).toEqual({ written: 1, gone: 0 })
      // the other brush was not even looked at
      expect(made).toEqual([1])
    } finally {
      workers.run = run
    }
    expect((await load(id)).drift).toEqual([])
    await act(id, 'take-out')
    expect(await folder()).toEqual([])
  })

  it('that share a grain keep it, whichever of its brushes changes', async () => {
    const names = ['reed', 'rush']
    const grain = await person.request('/api/materials?name=Wave.png', {
      method: 'POST',
      headers: { 'content-type': 'application/octet-stream' },
      body: encodePng(waveTile()),
    })
    expect(grain.ok).toBe(true)
    const { materials } = await person.json<{ materials: { pixelSha: string }[] }>('/api/materials')
    await takeInFiles(person, { 'Marsh/reed.png': blotPng(71), 'Marsh/rush.png': blotPng(72) })
    const { brushes } = await person.json<{ brushes: { id: string; name: string }[] }>('/api/brushes')
    for (const { id, name } of brushes) ids[name] = id
    const change = async (name: string, spacingPct: number) => {
      type Brush = { recipe: { path: object; ground: object }; version: number }
      const { recipe, version } = await person.json<Brush>(`/api/brushes/${brushId(name)}`)
      const on = {
        sha256: materials[0]?.pixelSha,
        anchor: 'canvas',
        scalePct: 100,
        strength: 1,
        brightness: 0,
        contrast: 0,
        randomTurn: 'none',
      }
      const next = { ...recipe, path: { ...recipe.path, spacingPct }, ground: { grain: on } }
      const facts = { name, maker: '', licence: '', tags: [], recipe: next, from: version }
      expect((await put(`/api/brushes/${brushId(name)}`, facts)).status).toBe(200)
    }
    for (const name of names) await change(name, 20)
    const id = await prepare(names, 'sanderling', 'Marsh')
    await act(id, 'put', { answer: 'both' })
    const before = await folder('sanderling')
    expect(before.filter((path) => path.includes('/Grains/'))).toHaveLength(1)
    for (const name of names) {
      await change(name, 44)
      await act(id, 'upgrade')
      expect(await folder('sanderling'), name).toEqual(before)
      expect((await person.json<{ ends: unknown[] }>('/api/loose-ends?standIn=sanderling')).ends).toEqual([])
    }
  })

  it('that are brought up to date give back what somebody had changed, keep no old file, and what cannot be written stays', async () => {
    const id = await prepare(['blot', 'tuft'])
    await act(id, 'put', { answer: 'both' })
    const { db } = server.parts.deps
    const shaAt = async (path: string) =>
      (await db.select().from(standInFile).where(sql`workspace_id = ${person.workspaceId} and path = ${path}`))[0]
        ?.blobSha
    const [blotBefore, tuft] = [await shaAt('Shore/blot.gbr'), await shaAt('Shore/tuft.gbr')]
    await db.execute(
      sql`update stand_in_file set blob_sha = ${tuft} where workspace_id = ${person.workspaceId} and path = 'Shore/blot.gbr'`,
    )
    for (const name of ['blot', 'tuft']) {
      const { recipe, version } = await person.json<{ recipe: { path: object }; version: number }>(
        `/api/brushes/${brushId(name)}`,
      )
      const wider = { ...recipe, path: { ...recipe.path, spacingPct: 190 } }
      await put(`/api/brushes/${brushId(name)}`, {
        name,
        maker: '',
        licence: '',
        tags: [],
        recipe: wider,
        from: version,
      })
    }
    const { workers } = server.parts.deps
    const run = workers.run
    workers.run = ((task: string, input: { brushes?: { brush: { name: string } }[] }, more: never) =>
      task === 'writeFit' && input.brushes?.some(({ brush }) => brush.name === 'tuft')
        ? Promise.resolve({ refused: 'Too large.' })
        : run(task as 'writeFit', input as never, more)) as typeof run
    try {
      expect(await act(id, 'upgrade')).toEqual({ written: 1, gone: 0 })
    } finally {
      workers.run = run
    }
    expect(await shaAt('Shore/tuft.gbr')).toBe(tuft)
    expect(await shaAt('Shore/blot.gbr')).not.toBe(blotBefore)
    const { rows } = await db.execute(
      sql`select 1 from blob where workspace_id = ${person.workspaceId} and sha256 = ${blotBefore}`,
    )
    expect(rows).toEqual([])
    await act(id, 'take-out')
    // what somebody had put there is back
    expect(await shaAt('Shore/blot.gbr')).toBe(tuft)
  })

  it('are put in once however often it is asked, and a file that two share stays until both are out', async () => {
    const id = await prepare(['blot'])
    const answers = await Promise.all(
      Array.from({ length: 6 }, () =>
        person.request(`/api/installs/${id}/put`, {
          method: 'POST',
          headers: { 'content-type': 'application/json' },
          body: JSON.stringify({ answer: 'both' }),
        }),
      ),
    )
    expect(answers.map(({ status }) => status).sort()).toEqual([200, 409, 409, 409, 409, 409])
    const second = await prepare(['blot'], 'dunlin', 'Again')
    await act(second, 'put', { answer: 'both' })
    await act(id, 'take-out')
    expect(await folder()).toEqual(['Shore/blot.gbr'])
    await act(second, 'take-out')
    expect(await folder()).toEqual([])
  })

  it('that replace each other give back what was there first, in whatever order they go', async () => {
    const shaOf = async () =>
      (
        await server.parts.deps.db
          .select()
          .from(standInFile)
          .where(sql`workspace_id = ${person.workspaceId} and path = 'Shore/blot.gbr'`)
      )[0]?.blobSha
    const spaced = async (spacingPct: number) => {
      const { recipe, version } = await person.json<{ recipe: { path: object }; version: number }>(
        `/api/brushes/${brushId('blot')}`,
      )
      const other = { ...recipe, path: { ...recipe.path, spacingPct } }
      await put(`/api/brushes/${brushId('blot')}`, {
        name: 'blot',
        maker: '',
        licence: '',
        tags: [],
        recipe: other,
        from: version,
      })
    }
    const all: { id: string; sha: string | undefined }[] = []
    for (const spacing of [50, 60, 70]) {
      await spaced(spacing)
      const id = await prepare(['blot'], 'dunlin', `Spacing ${spacing}`)
      await act(id, 'put', { answer: 'replace' })
      all.push({ id, sha: await shaOf() })
    }
    const [first, second, third] = all
    await act(second?.id ?? '', 'take-out')
    expect(await shaOf()).toBe(third?.sha)
    await act(third?.id ?? '', 'take-out')
    expect(await shaOf()).toBe(first?.sha)
    await act(first?.id ?? '', 'take-out')
    expect(await folder()).toEqual([])
  })
})
