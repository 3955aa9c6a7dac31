import { encodePng } from '@satchel/node/png'
import { sql } from 'drizzle-orm'
import { afterAll, beforeAll, beforeEach, describe, expect, inject, it } from 'vitest'
import { TaskGivenUp } from '../errors.ts'
import { gatherFiles, type Ledger, loadLedger, settledLedger } from '../testing/gather.ts'
import { type Person, sentenceOf, startTestServer, type TestServer, until } from '../testing/test-server.ts'
import { blot, blotGbr, blotPng, onSheet, zipOf } from '../testing/tips.ts'

let server: TestServer
let person: Person
beforeAll(async () => {
  server = await startTestServer(inject('databaseUrl'))
})
beforeEach(async () => {
  person = await server.owner()
})
afterAll(() => server.close())

const text = (words: string) => new TextEncoder().encode(words)

const gather = (files: Record<string, Uint8Array>) => gatherFiles(person, files)
const settled = (id: string) => settledLedger(person, id)
const lineOf = (ledger: Ledger, path: string) => ledger.lines.find((line) => line.path === path)
const countRows = async (table: string): Promise<number> => {
  const { rows } = await server.parts.deps.db.execute(
    sql.raw(`select count(*)::int as n from ${table} where workspace_id = '${person.workspaceId}'`),
  )
  return rows[0]?.n as number
}

describe('the ledger', () => {
  it('accounts for every file: folders, zips in zips, foreign and broken files', async () => {
    const inner = zipOf({ 'deep/one.png': blotPng(5), 'readme.txt': text('hello') })
    const { ledger } = await gather({
      'Reeds/a.png': blotPng(1),
      'Reeds/b.gbr': blotGbr(2, 'Bent reed'),
      'Reeds/notes.txt': text('nothing of ours'),
      'Reeds/.DS_Store': text('x'),
      'Reeds/cut.png': blotPng(3).subarray(0, 90),
      'loose_blot.png': blotPng(4),
      'pack.zip': zipOf({ 'Dunes/c.png': blotPng(6), 'inner.zip': inner }),
    })
    const told = ledger.lines.map(({ folder, path, outcome, setName }) => `${folder}/${path} ${outcome} ${setName}`)
    expect(told).toEqual([
      '/loose_blot.png take ',
      'pack.zip/Dunes/c.png take Dunes',
      'pack.zip/inner.zip/readme.txt skip ',
      'pack.zip/inner.zip/deep/one.png take deep',
      'Reeds/.DS_Store skip ',
      'Reeds/a.png take Reeds',
      'Reeds/b.gbr take Reeds',
      'Reeds/cut.png refuse ',
      'Reeds/notes.txt skip ',
    ])
    expect(lineOf(ledger, 'b.gbr')?.name).toBe('Bent reed')
    expect(lineOf(ledger, 'loose_blot.png')?.name).toBe('loose blot')
    expect(lineOf(ledger, 'cut.png')?.reason).toContain('the file is cut short')
    expect(lineOf(ledger, 'notes.txt')?.reason).toBe('Not a brush or a picture of a kind that is taken.')
  })

  it('reads small files of an archive together, and each by itself where one of them ends what reads them', async () => {
    const { workers } = server.parts.deps
    const { run } = workers
    const asked: string[] = []
    workers.run = ((task, input, options) => {
      asked.push(task)
      if (task === 'readEntries') return Promise.reject(new TaskGivenUp('It was given up.'))
      const { entry } = input as { entry?: { path: string } }
      if (entry?.path === 'bad.png') return Promise.reject(new TaskGivenUp('It was given up.'))
      return run(task, input, options)
    }) as typeof run
    try {
      const tips = { 'a.png': blotPng(1), 'bad.png': blotPng(2), 'c.png': blotPng(3), '._c.png': text('x') }
      const { lines } = (await gatherFiles(person, { 'pack.zip': zipOf(tips) })).ledger
      expect(lines.map(({ path, outcome, reason }) => [path, outcome, reason])).toEqual([
        ['._c.png', 'skip', 'A file the system keeps for itself.'],
        ['a.png', 'take', ''],
        ['bad.png', 'refuse', 'It was given up.'],
        ['c.png', 'take', ''],
      ])
      expect(asked.filter((task) => task === 'readEntries')).toHaveLength(1)
      expect(asked.filter((task) => task === 'readEntry').length).toBeGreaterThanOrEqual(3)
    } finally {
      workers.run = run
    }
  })

  it('has a line for each of hundreds of small files beside large ones, archives and what is broken', async () => {
    const files: Record<string, Uint8Array> = {}
    for (let n = 0; n < 150; n++) files[`Reeds/t${n}.png`] = blotPng(n, 30)
    files['Reeds/large.png'] = blotPng(901, 700)
    files['Reeds/broken.png'] = blotPng(902).slice(0, 60)
    files['Reeds/inner.zip'] = zipOf({ 'Foam/f.png': blotPng(903) })
    files['Reeds/same.png'] = files['Reeds/t7.png'] ?? new Uint8Array()
    files['Reeds/notes.txt'] = text('hello')
    const { lines } = (await gatherFiles(person, { 'pack.zip': zipOf(files) })).ledger
    expect(lines).toHaveLength(155)
    expect(new Set(lines.map(({ path }) => path)).size).toBe(155)
    const of = (path: string) => lines.find((line) => line.path === path)
    expect([of('large.png')?.outcome, of('broken.png')?.outcome, of('f.png')?.outcome]).toEqual([
      'take',
      'refuse',
      'take',
    ])
    expect([of('same.png'), of('t7.png')].filter((line) => line?.outcome === 'skip')).toHaveLength(1)
    const pictures = lines.filter(({ picture }) => picture)
    for (const { picture } of pictures.slice(0, 3))
      expect((await server.parts.deps.blobs.read(person.workspaceId, picture as never)).length).toBeGreaterThan(60)
    expect(pictures).toHaveLength(153)
  })

  it('reads each file once, however many arrive at the same moment', async () => {
    const files = Object.fromEntries(Array.from({ length: 24 }, (_, n) => [`Many/${n}.png`, blotPng(100 + n)]))
    const { id } = await gather(files)
    // a second wave while nothing runs any more
    await person.upload(id, 'Many/late.png', blotPng(200))
    const ledger = await until(async () => {
      const now = await settled(id)
      return now.lines.length === 25 && now
    })
    expect(new Set(ledger.lines.map((line) => line.path)).size).toBe(25)
  })

  it('names copies: in the batch, in the library, and look-alikes; copies are skipped until the curator says otherwise', async () => {
    const first = await gather({ 'S/one.png': blotPng(1) })
    await person.post(`/api/gathers/${first.id}/take`)
    const { id, ledger } = await gather({
      'T/same.png': blotPng(1),
      'T/x.png': blotPng(9),
      'T/y.png': blotPng(9),
      'T/z.png': blotPng(9, 96),
    })
    expect(lineOf(ledger, 'same.png')).toMatchObject({
      outcome: 'skip',
      duplicate: { of: 'library', how: 'exact', name: 'one' },
    })
    expect(lineOf(ledger, 'y.png')).toMatchObject({
      outcome: 'skip',
      duplicate: { of: 'batch', how: 'exact', name: 'x' },
    })
    expect(lineOf(ledger, 'z.png')).toMatchObject({ outcome: 'take', duplicate: null })
    expect(lineOf(ledger, 'x.png')).toMatchObject({
      outcome: 'take',
      duplicate: { of: 'batch', how: 'alike', name: 'z', same: true, differs: [{ kind: 'smaller', amount: [47, 94] }] },
    })
    const same = lineOf(ledger, 'same.png')?.id
    await person.post(`/api/gathers/${id}/decide`, { of: { ids: [same] }, outcome: 'take', setName: 'Again' })
    await person.upload(id, 'T/more.png', blotPng(11))
    const later = await until(async () => {
      const now = await settled(id)
      return lineOf(now, 'more.png') && now
    })
    expect(lineOf(later, 'same.png')).toMatchObject({ outcome: 'take', setName: 'Again' })
  })

  it('takes the larger mark for the original, however large a sheet another one stands on', async () => {
    const sheet = encodePng(onSheet(blot(9), 150))
    const { ledger } = await gather({ 'a wide sheet.png': sheet, 'large.png': blotPng(9, 96) })
    expect(lineOf(ledger, 'large.png')?.duplicate).toBeNull()
    expect(lineOf(ledger, 'a wide sheet.png')?.duplicate).toMatchObject({ how: 'alike', name: 'large' })
  })

  it('comes by pages, and is decided on by folder and by group', async () => {
    const files = Object.fromEntries(
      Array.from({ length: 7 }, (_, n) => [`${n < 4 ? 'A' : 'B'}/${n}.png`, blotPng(60 + n)]),
    )
    const { id, ledger } = await gather({ ...files, 'B/same.png': blotPng(60), 'B/wide.png': blotPng(61, 96) })
    expect(ledger.folders).toEqual([
      { folder: 'A', lines: 4, taken: 4, pictures: 4 },
      { folder: 'B', lines: 5, taken: 4, pictures: 5 },
    ])
    expect(ledger.tally).toMatchObject({ take: 8, skip: 1, refuse: 0, same: 1, copies: 1 })
    const page = async (query: string) =>
      (await person.json<Ledger>(`/api/gathers/${id}/lines?${query}`)).lines.map(({ path }) => path)
    expect(await page('from=3&limit=2')).toEqual(['3.png', '4.png'])
    expect(await page('from=9')).toEqual([])
    expect(await page('group=same')).toEqual(['1.png'])
    const decide = (of: object, outcome: string) => person.post(`/api/gathers/${id}/decide`, { of, outcome })
    expect(await decide({ group: 'same' }, 'skip')).toEqual({ changed: 1 })
    expect(await decide({ folder: 'B' }, 'skip')).toEqual({ changed: 5 })
    expect((await settled(id)).tally).toMatchObject({ take: 3, skip: 6, same: 0 })
    const refused = await person.request(`/api/gathers/${id}/decide`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ of: {}, outcome: 'skip' }),
    })
    expect(refused.status).toBe(422)
  })

  it('takes all in at once: brushes, sets, order; a second time is refused', async () => {
    const { id } = await gather({ 'Reeds/b.png': blotPng(2), 'Reeds/a.png': blotPng(1), 'Dunes/c.gbr': blotGbr(3) })
    const both = await Promise.all([
      person.request(`/api/gathers/${id}/take`, { method: 'POST' }),
      person.request(`/api/gathers/${id}/take`, { method: 'POST' }),
    ])
    expect(both.map((response) => response.status).sort()).toEqual([200, 409])
    const { sets } = await person.json<{ sets: { id: string; name: string; count: number }[] }>('/api/sets')
    expect(sets.map(({ name, count }) => [name, count])).toEqual([
      ['Dunes', 1],
      ['Reeds', 2],
    ])
    const { brushes } = await person.json<{ brushes: { name: string; reading: string; sizePx: number }[] }>(
      `/api/brushes?setId=${sets[1]?.id}&sort=set`,
    )
    expect(brushes.map(({ name, reading, sizePx }) => [name, reading, sizePx])).toEqual([
      ['a', 'dark', 48],
      ['b', 'dark', 48],
    ])
    expect(await person.json('/api/gathers/current')).toEqual({ id: null })
  })

  it('leaves nothing when cancelled, even while files are read', async () => {
    const { id } = await person.post<{ id: string }>('/api/gathers')
    await person.upload(
      id,
      'big.zip',
      zipOf(Object.fromEntries(Array.from({ length: 60 }, (_, n) => [`f${n}.png`, blotPng(300 + n)]))),
    )
    await until(async () => (await loadLedger(person, id)).lines.length > 2)
    expect(await person.post(`/api/gathers/${id}/cancel`)).toEqual({ cancelled: true })
    await until(async () => {
      const { jobs } = await person.json<{ jobs: { state: string }[] }>('/api/jobs')
      return jobs.every(({ state }) => state !== 'running' && state !== 'queued')
    })
    for (const table of ['gather_line', 'gather_file', 'blob', 'blob_piece', 'brush', 'tip', 'brush_set'])
      expect(await countRows(table), table).toBe(0)
  })

  it('keeps only what brushes use after taking in: the files as they came are gone', async () => {
    const { id } = await gather({ 'a.png': blotPng(1), 'skipped.txt': text('x') })
    await person.post(`/api/gathers/${id}/take`)
    expect(await countRows('blob')).toBe(1)
    expect(await countRows('gather_line')).toBe(0)
  })

  it('offers a smaller copy of a heavy tip, and the full size again', async () => {
    const { id, ledger } = await gather({ 'large.png': blotPng(1, 2100) })
    const [line] = ledger.lines
    expect(line?.width).toBe(2100)
    const blobsBefore = await countRows('blob')
    await person.post(`/api/gathers/${id}/shrink`, { of: { ids: [line?.id] }, smaller: true })
    await until(async () => (await loadLedger(person, id)).lines[0]?.width === 2048)
    await person.post(`/api/gathers/${id}/shrink`, { of: { ids: [line?.id] }, smaller: false })
    expect((await loadLedger(person, id)).lines[0]).toMatchObject({ width: 2100, shrunk: false })
    // the file as it came and the frame; the smaller copy is gone again
    expect(await countRows('blob')).toBe(blobsBefore)
  })

  it('leaves nothing of a smaller copy either when cancelled while it is made', async () => {
    const { id, ledger } = await gather({ 'large.png': blotPng(1, 2200), 'larger.png': blotPng(2, 2300) })
    await person.post(`/api/gathers/${id}/shrink`, { of: { ids: ledger.lines.map((line) => line.id) }, smaller: true })
    await until(async () =>
      (await person.json<{ jobs: { kind: string; state: string }[] }>('/api/jobs')).jobs.some(
        ({ kind, state }) => kind === 'gather-shrink' && state !== 'queued',
      ),
    )
    await person.post(`/api/gathers/${id}/cancel`)
    await until(async () =>
      (await person.json<{ jobs: { state: string }[] }>('/api/jobs')).jobs.every(
        ({ state }) => state !== 'queued' && state !== 'running',
      ),
    )
    for (const table of ['gather_line', 'blob', 'blob_piece']) expect(await countRows(table), table).toBe(0)
  })

  it.each([
    [
      'too deep',
      () => zipOf({ 'a.zip': zipOf({ 'b.zip': zipOf({ 'c.zip': zipOf({ 'd.png': blotPng(1) }) }) }) }),
      'the depth of archives inside archives is 4, at most 3 is taken',
    ],
    ['cut short', () => zipOf({ 'a.png': blotPng(1) }).subarray(0, 60), 'the archive is cut short'],
  ])('refuses a zip that is %s, with the reason', async (_what, make, reason) => {
    const { ledger } = await gather({ 'odd.zip': make() })
    expect(ledger.lines.find((line) => line.outcome === 'refuse')?.reason).toContain(reason)
  })

  it('answers uploads that it does not want with one sentence naming the file', async () => {
    const { id } = await person.post<{ id: string }>('/api/gathers')
    const climbing = await person.upload(id, '../up.png', blotPng(1))
    expect(climbing.status).toBe(422)
    await person.post(`/api/gathers/${id}/cancel`)
    const late = await person.upload(id, 'late.png', blotPng(1))
    expect(await sentenceOf(late)).toBe('"late.png" came after the ledger was closed; drop it again.')
  })

  it('shows the picture of a file that comes back byte for byte as it was handed out', async () => {
    // stored once as what came and once as the frame, under the same name
    const { ledger } = await gather({ 'same.png': blotPng(7) })
    const picture = (ledger.lines[0] as unknown as { picture: string }).picture
    for (const path of [`/api/pictures/${picture}`, `/api/pictures/${picture}/tip.png?reading=dark`]) {
      const response = await person.request(path)
      expect(response.status, path).toBe(200)
      expect(response.headers.get('content-type')).toBe('image/png')
    }
    const other = await server.owner()
    expect((await other.request(`/api/pictures/${picture}`)).status).toBe(404)
  })

  it('takes up a job whose server died, and ends it right, once', async () => {
    const { db } = server.parts.deps
    const { id } = await person.post<{ id: string }>('/api/gathers')
    // The state a killed server leaves: a file half read with a line written, and a job that runs but is silent.
    await person.upload(id, 'a.zip', zipOf({ 'x/1.png': blotPng(1), 'x/2.png': blotPng(2) }))
    await settled(id)
    await db.execute(sql`update gather_file set state = 'reading' where gather_id = ${id}`)
    await db.execute(sql`delete from gather_line where gather_id = ${id} and path = '2.png'`)
    await db.execute(
      sql`update job set state = 'running', heartbeat_at = now() - interval '1 minute' where subject_id = ${id}`,
    )
    const ledger = await until(async () => {
      const now = await loadLedger(person, id)
      return !now.reading && now.files.read === 1 && now
    })
    expect(ledger.lines.map((line) => line.path)).toEqual(['1.png', '2.png'])
  })
})
